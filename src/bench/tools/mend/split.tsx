import { Slice } from 'lucide-react'
import { defineTool } from '../tool'

export const splitTool = defineTool({ kind: 'mend/split', icon: Slice })
