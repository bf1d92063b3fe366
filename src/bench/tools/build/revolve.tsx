import { Rotate3d } from 'lucide-react'
import { directionOf, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const revolveTool = defineTool({
  kind: 'build/revolve',
  icon: Rotate3d,
  handles(v, _bodies, ghost) {
    const at = vectorOf(ghost.at) ?? vectorOf(v.at),
      axis = directionOf(ghost.axis) ?? directionOf(v.axis)
    if (!at || !axis) return []
    return [
      {
        key: 'angle',
        sort: 'ring',
        label: 'Angle',
        at,
        axis,
        value: Number(v.angle),
        min: 1,
        max: 360,
        set: (to) => ({ angle: to }),
      },
    ]
  },
})
