import { HeartPulse } from 'lucide-react'
import { defineTool } from '../tool'

export const healTool = defineTool({ kind: 'mend/heal', icon: HeartPulse })
