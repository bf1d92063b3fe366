import { FlipHorizontal2 } from 'lucide-react'
import { defineTool } from '../tool'

export const mirrorTool = defineTool({ kind: 'set-down/mirror', icon: FlipHorizontal2 })
