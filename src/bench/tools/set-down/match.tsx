import { Combine } from 'lucide-react'
import { defineTool } from '../tool'

export const matchTool = defineTool({ kind: 'set-down/match', icon: Combine })
