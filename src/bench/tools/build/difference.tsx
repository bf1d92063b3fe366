import { SquaresSubtract } from 'lucide-react'
import { defineTool } from '../tool'

export const differenceTool = defineTool({ kind: 'build/difference', icon: SquaresSubtract })
