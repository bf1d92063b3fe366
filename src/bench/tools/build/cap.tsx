import { CircleDot } from 'lucide-react'
import { defineTool } from '../tool'

export const capTool = defineTool({ kind: 'build/cap', icon: CircleDot })
