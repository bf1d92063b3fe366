import { Ungroup } from 'lucide-react'
import { defineTool } from '../tool'

export const takeApartTool = defineTool({ kind: 'mend/take-apart', icon: Ungroup })
