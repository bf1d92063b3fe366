import { CircleDashed } from 'lucide-react'
import { defineTool } from '../tool'

export const closeHolesTool = defineTool({ kind: 'mend/close-holes', icon: CircleDashed })
