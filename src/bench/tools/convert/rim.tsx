import { CircleDashed } from 'lucide-react'
import { defineTool } from '../tool'

export const rimTool = defineTool({ kind: 'convert/rim', icon: CircleDashed })
