import { Replace } from 'lucide-react'
import { defineTool } from '../tool'

export const replaceFaceTool = defineTool({ kind: 'build/replace-face', icon: Replace })
