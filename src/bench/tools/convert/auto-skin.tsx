import { Bean } from 'lucide-react'
import { defineTool } from '../tool'

export const autoSkinTool = defineTool({ kind: 'convert/auto-skin', icon: Bean })
