import { Slice } from 'lucide-react'
import { defineTool } from '../tool'

export const sectionLineTool = defineTool({ kind: 'convert/section-line', icon: Slice })
