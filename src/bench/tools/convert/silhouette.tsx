import { Contrast } from 'lucide-react'
import { defineTool } from '../tool'

export const silhouetteTool = defineTool({ kind: 'convert/silhouette', icon: Contrast })
