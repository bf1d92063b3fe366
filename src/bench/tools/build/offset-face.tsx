import { SquareArrowUp } from 'lucide-react'
import { edgeArrow } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const offsetFaceTool = defineTool({
  kind: 'build/offset-face',
  icon: SquareArrowUp,
  handles: (v, bodies) => edgeArrow('by', 'By', v.faces, Number(v.by), v, bodies, -1e5),
})
