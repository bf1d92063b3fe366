import { Layers2 } from 'lucide-react'
import { defineTool } from '../tool'

export const thickenTool = defineTool({ kind: 'build/thicken', icon: Layers2 })
