import { MoveDiagonal } from 'lucide-react'
import { defineTool } from '../tool'

export const axisTool = defineTool({ kind: 'build/axis', icon: MoveDiagonal })
