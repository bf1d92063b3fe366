import { SquaresUnite } from 'lucide-react'
import { defineTool } from '../tool'

export const unionTool = defineTool({ kind: 'build/union', icon: SquaresUnite })
