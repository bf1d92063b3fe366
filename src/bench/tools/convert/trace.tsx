import { Spline } from 'lucide-react'
import { defineTool } from '../tool'

export const traceTool = defineTool({ kind: 'convert/trace', icon: Spline })
