import { FlipVertical2 } from 'lucide-react'
import { defineTool } from '../tool'

export const flipTool = defineTool({ kind: 'mend/flip', icon: FlipVertical2 })
