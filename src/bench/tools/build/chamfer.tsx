import { Octagon } from 'lucide-react'
import { edgeArrow } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const chamferTool = defineTool({
  kind: 'build/chamfer',
  icon: Octagon,
  handles: (v, bodies) => edgeArrow('distance', 'Distance', v.edges ?? v.faces, Number(v.distance), v, bodies),
})
