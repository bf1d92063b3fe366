import { Brush } from 'lucide-react'
import { defineTool } from '../tool'

export const smoothTool = defineTool({ kind: 'mend/smooth', icon: Brush })
