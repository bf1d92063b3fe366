import { Minimize2 } from 'lucide-react'
import { defineTool } from '../tool'

export const simplifyTool = defineTool({ kind: 'mend/simplify', icon: Minimize2 })
