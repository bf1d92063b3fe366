import { Magnet } from 'lucide-react'
import { defineTool } from '../tool'

export const lineUpTool = defineTool({ kind: 'set-down/line-up', icon: Magnet })
