import { SquaresIntersect } from 'lucide-react'
import { defineTool } from '../tool'

export const intersectionTool = defineTool({ kind: 'build/intersection', icon: SquaresIntersect })
