import { Maximize2 } from 'lucide-react'
import { edgeArrow } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const extendTool = defineTool({
  kind: 'build/extend',
  icon: Maximize2,
  handles: (v, bodies) => edgeArrow('by', 'By', v.edges, Number(v.by), v, bodies),
})
