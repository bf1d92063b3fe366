import { Layers2 } from 'lucide-react'
import { defineTool } from '../tool'

export const skinRegionTool = defineTool({ kind: 'convert/skin-region', icon: Layers2 })
