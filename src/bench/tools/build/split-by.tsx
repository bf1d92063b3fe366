import { Split } from 'lucide-react'
import { defineTool } from '../tool'

export const splitByTool = defineTool({ kind: 'build/split-by', icon: Split })
