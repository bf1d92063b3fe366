import { Ruler } from 'lucide-react'
import { defineTool } from '../tool'

export const sizeTool = defineTool({ kind: 'set-down/size', icon: Ruler })
