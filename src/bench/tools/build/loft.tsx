import { Layers } from 'lucide-react'
import { defineTool } from '../tool'

export const loftTool = defineTool({ kind: 'build/loft', icon: Layers })
