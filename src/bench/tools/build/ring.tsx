import { Torus } from 'lucide-react'
import { addScaled, perpendicular } from '@/core/math/vec'
import { directionOf, lengthArrow, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const ringTool = defineTool({
  kind: 'build/ring',
  icon: Torus,
  handles(v) {
    const at = vectorOf(v.at),
      axis = directionOf(v.axis)
    if (!at || !axis) return []
    const out = perpendicular(axis)
    return [
      lengthArrow('radius', 'Radius of the circle', at, out, Number(v.radius), { min: 0.1 }),
      lengthArrow('thickness', 'Radius of the tube', addScaled(at, out, Number(v.radius)), axis, Number(v.thickness), {
        min: 0.05,
      }),
    ]
  },
})
