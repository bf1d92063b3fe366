import { Waypoints } from 'lucide-react'
import { defineTool } from '../tool'

export const cageTool = defineTool({ kind: 'convert/cage', icon: Waypoints })
