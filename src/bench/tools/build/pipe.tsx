import { Cable } from 'lucide-react'
import { defineTool } from '../tool'

export const pipeTool = defineTool({ kind: 'build/pipe', icon: Cable })
