import { Rows3 } from 'lucide-react'
import { defineTool } from '../tool'

export const cageFromSectionsTool = defineTool({ kind: 'convert/cage-from-sections', icon: Rows3 })
