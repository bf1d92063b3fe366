import { Waypoints } from 'lucide-react'
import { defineTool } from '../tool'

export const sewTool = defineTool({ kind: 'build/sew', icon: Waypoints })
