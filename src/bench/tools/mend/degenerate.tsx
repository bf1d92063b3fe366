import { Minus } from 'lucide-react'
import { defineTool } from '../tool'

export const degenerateTool = defineTool({ kind: 'mend/degenerate', icon: Minus })
