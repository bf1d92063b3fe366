import { Axis3d } from 'lucide-react'
import { defineTool } from '../tool'

export const swapUpTool = defineTool({ kind: 'set-down/swap-up', icon: Axis3d })
