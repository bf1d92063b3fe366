import { Crosshair } from 'lucide-react'
import { defineTool } from '../tool'

export const pointTool = defineTool({ kind: 'build/point', icon: Crosshair })
