import { SquareDashed } from 'lucide-react'
import { addScaled, normalize, type Vec3 } from '@/core/math/vec'
import { defineTool } from '../tool'

export const planeTool = defineTool({
  kind: 'build/plane',
  icon: SquareDashed,
  handles(v) {
    // Where the plane lies is known by its numbers alone only here.
    if (v.by !== 'direction') return []
    const axis = normalize(v.normal as Vec3)
    const offset = v.offset as number
    return [
      {
        key: 'offset',
        sort: 'arrow',
        label: 'Moved by',
        at: addScaled(v.at as Vec3, axis, offset),
        axis,
        value: offset,
        set: (to) => ({ offset: to }),
      },
    ]
  },
})
