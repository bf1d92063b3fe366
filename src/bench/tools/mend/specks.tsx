import { Sparkles } from 'lucide-react'
import { defineTool } from '../tool'

export const specksTool = defineTool({ kind: 'mend/specks', icon: Sparkles })
