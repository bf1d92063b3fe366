import { ScanLine } from 'lucide-react'
import { defineTool } from '../tool'

export const practiceScanTool = defineTool({ kind: 'bring-in/practice-scan', icon: ScanLine })
