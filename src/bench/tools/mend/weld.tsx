import { Link2 } from 'lucide-react'
import { defineTool } from '../tool'

export const weldTool = defineTool({ kind: 'mend/weld', icon: Link2 })
