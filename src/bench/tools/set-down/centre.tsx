import { Crosshair } from 'lucide-react'
import { defineTool } from '../tool'

export const centreTool = defineTool({ kind: 'set-down/centre', icon: Crosshair })
