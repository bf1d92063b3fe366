import { Boxes } from 'lucide-react'
import { defineTool } from '../tool'

export const cageShapeTool = defineTool({ kind: 'convert/cage-shape', icon: Boxes })
