import { Pyramid } from 'lucide-react'
import { defineTool } from '../tool'

export const draftTool = defineTool({ kind: 'build/draft', icon: Pyramid })
