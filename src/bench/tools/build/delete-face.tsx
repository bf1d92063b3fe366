import { Eraser } from 'lucide-react'
import { defineTool } from '../tool'

export const deleteFaceTool = defineTool({ kind: 'build/delete-face', icon: Eraser })
