import { Send } from 'lucide-react'
import { defineTool } from '../tool'

export const sendOutFileTool = defineTool({ kind: 'send-out/file', icon: Send })
