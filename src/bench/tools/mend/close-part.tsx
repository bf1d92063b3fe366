import { CircleSlash2 } from 'lucide-react'
import { defineTool } from '../tool'

export const closePartTool = defineTool({ kind: 'mend/close-part', icon: CircleSlash2 })
