import { Grid3x3 } from 'lucide-react'
import { defineTool } from '../tool'

export const quadNetTool = defineTool({ kind: 'convert/quad-net', icon: Grid3x3 })
