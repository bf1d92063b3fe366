import { RulerDimensionLine } from 'lucide-react'
import { defineTool } from '../tool'

export const measureTool = defineTool({ kind: 'prove/measure', icon: RulerDimensionLine })
