import { Grid3x2 } from 'lucide-react'
import { defineTool } from '../tool'

export const layOnTool = defineTool({ kind: 'convert/lay-on', icon: Grid3x2 })
