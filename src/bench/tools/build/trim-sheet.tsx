import { SquareScissors } from 'lucide-react'
import { defineTool } from '../tool'

export const trimSheetTool = defineTool({ kind: 'build/trim-sheet', icon: SquareScissors })
