import { Shapes } from 'lucide-react'
import { defineTool } from '../tool'

export const fitShapeTool = defineTool({ kind: 'convert/fit-shape', icon: Shapes })
