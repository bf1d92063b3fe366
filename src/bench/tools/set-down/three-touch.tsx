import { PanelsTopLeft } from 'lucide-react'
import { defineTool } from '../tool'

export const threeTouchTool = defineTool({ kind: 'set-down/three-touch', icon: PanelsTopLeft })
