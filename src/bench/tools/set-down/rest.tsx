import { ArrowDownToLine } from 'lucide-react'
import { defineTool } from '../tool'

export const restTool = defineTool({ kind: 'set-down/rest', icon: ArrowDownToLine })
