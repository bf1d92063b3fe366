import { Egg } from 'lucide-react'
import { defineTool } from '../tool'

export const smoothSolidTool = defineTool({ kind: 'convert/smooth-solid', icon: Egg })
