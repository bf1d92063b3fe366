import { Expand } from 'lucide-react'
import { defineTool } from '../tool'

export const faceOutwardTool = defineTool({ kind: 'mend/face-outward', icon: Expand })
