import { Diff } from 'lucide-react'
import { defineTool } from '../tool'

export const deviationTool = defineTool({ kind: 'prove/deviation', icon: Diff })
