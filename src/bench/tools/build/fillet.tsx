import { SquareRoundCorner } from 'lucide-react'
import { edgeArrow } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const filletTool = defineTool({
  kind: 'build/fillet',
  icon: SquareRoundCorner,
  handles: (v, bodies) => [
    ...edgeArrow('radius', 'Radius', v.edges ?? v.faces, Number(v.radius), v, bodies),
    ...edgeArrow('radius2', 'Their radius', v.edges2, Number(v.radius2), v, bodies),
  ],
})
