import { SquareSplitVertical } from 'lucide-react'
import { addScaled, dot } from '@/core/math/vec'
import { tidyPoint } from '@/bench/fields/field'
import { directionOf, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const cutByPlaneTool = defineTool({
  kind: 'build/cut-by-plane',
  icon: SquareSplitVertical,
  handles(v) {
    const at = vectorOf(v.at),
      normal = directionOf(v.normal)
    if (!at || !normal) return []
    const level = dot(at, normal)
    return [
      {
        key: 'level',
        sort: 'arrow',
        label: 'Plane at',
        at,
        axis: normal,
        value: level,
        set: (to) => ({ at: tidyPoint(addScaled(at, normal, to - level)) }),
      },
    ]
  },
})
