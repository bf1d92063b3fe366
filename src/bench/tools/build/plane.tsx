import { SquareDashed } from 'lucide-react'
import { addScaled } from '@/core/math/vec'
import { directionOf, lengthArrow, threeArrows, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const planeTool = defineTool({
  kind: 'build/plane',
  icon: SquareDashed,
  handles(v, _bodies, ghost) {
    // By numbers the plane is known at once; else it lies where its ghost says.
    const byNumbers = v.by === 'direction'
    const normal = directionOf(byNumbers ? v.normal : ghost.normal),
      offset = v.offset as number
    const foot = byNumbers ? vectorOf(v.at) : vectorOf(ghost.at)
    const [second, third] = [vectorOf(v.second), vectorOf(v.third)]
    const points =
      v.by === 'points'
        ? [
            ...(second ? threeArrows('second', 'Second point', [0, 0, 0], second) : []),
            ...(third ? threeArrows('third', 'Third point', [0, 0, 0], third) : []),
          ]
        : []
    if (!normal || !foot) return points
    const at = byNumbers ? foot : addScaled(foot, normal, -offset)
    return [
      lengthArrow('offset', 'Moved by', at, normal, offset, { min: -1e5 }),
      ...points,
      ...(v.by === 'turned'
        ? [
            {
              key: 'angle',
              sort: 'ring' as const,
              label: 'Turned by',
              at: vectorOf(v.at) ?? at,
              axis: directionOf(v.axis) ?? normal,
              value: Number(v.angle),
              set: (to: number) => ({ angle: to }),
            },
          ]
        : []),
    ]
  },
})
