import { Scissors } from 'lucide-react'
import { defineTool } from '../tool'

export const trimTool = defineTool({ kind: 'mend/trim', icon: Scissors })
