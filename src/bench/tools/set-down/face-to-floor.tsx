import { SquareArrowDown } from 'lucide-react'
import { defineTool } from '../tool'

export const faceToFloorTool = defineTool({ kind: 'set-down/face-to-floor', icon: SquareArrowDown })
