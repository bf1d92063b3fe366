import { Blocks } from 'lucide-react'
import { defineTool } from '../tool'

export const mergeTool = defineTool({ kind: 'mend/merge', icon: Blocks })
