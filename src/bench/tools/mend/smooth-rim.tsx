import { Spline } from 'lucide-react'
import { defineTool } from '../tool'

export const smoothRimTool = defineTool({ kind: 'mend/smooth-rim', icon: Spline })
