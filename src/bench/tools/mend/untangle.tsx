import { Unlink2 } from 'lucide-react'
import { defineTool } from '../tool'

export const untangleTool = defineTool({ kind: 'mend/untangle', icon: Unlink2 })
