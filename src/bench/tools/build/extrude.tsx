import { ArrowUpFromLine } from 'lucide-react'
import { scale } from '@/core/math/vec'
import { directionOf, lengthArrow, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const extrudeTool = defineTool({
  kind: 'build/extrude',
  icon: ArrowUpFromLine,
  handles(v, _bodies, ghost) {
    const at = vectorOf(ghost.at),
      normal = directionOf(ghost.normal)
    if (!at || !normal) return []
    const distance = Number(v.distance),
      back = Number(v.back)
    const up = v.to === 'distance' ? Math.sign(distance) || 1 : Math.sign(Number(ghost.reach)) || 1
    const half = v.symmetric ? 0.5 : 1
    return [
      ...(v.to === 'distance'
        ? [
            lengthArrow('distance', 'Distance', at, normal, distance, {
              min: -1e5,
              factor: 1 / half,
              reach: half * distance,
            }),
          ]
        : []),
      ...(v.symmetric && v.to === 'distance' ? [] : [lengthArrow('back', 'Back by', at, scale(normal, -up), back)]),
    ]
  },
})
