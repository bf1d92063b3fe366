import { Eraser } from 'lucide-react'
import { defineTool } from '../tool'

export const removeTool = defineTool({ kind: 'mend/remove', icon: Eraser })
