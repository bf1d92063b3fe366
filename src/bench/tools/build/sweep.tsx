import { Route } from 'lucide-react'
import { defineTool } from '../tool'

export const sweepTool = defineTool({ kind: 'build/sweep', icon: Route })
