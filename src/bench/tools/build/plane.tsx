import { SquareDashed } from 'lucide-react'
import { defineTool } from '../tool'

export const planeTool = defineTool({ kind: 'build/plane', icon: SquareDashed })
