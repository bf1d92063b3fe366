import { Bandage } from 'lucide-react'
import { defineTool } from '../tool'

export const allTool = defineTool({ kind: 'mend/all', icon: Bandage })
