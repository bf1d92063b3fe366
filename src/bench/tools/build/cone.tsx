import { Cone } from 'lucide-react'
import { perpendicular, addScaled } from '@/core/math/vec'
import { directionOf, lengthArrow, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const coneTool = defineTool({
  kind: 'build/cone',
  icon: Cone,
  handles(v) {
    const at = vectorOf(v.at),
      axis = directionOf(v.axis)
    if (!at || !axis) return []
    const out = perpendicular(axis)
    return [
      lengthArrow('height', 'Height', at, axis, Number(v.height), { min: 0.1 }),
      lengthArrow('radius', 'Radius', at, out, Number(v.radius)),
      lengthArrow('top', 'Radius at the top', addScaled(at, axis, Number(v.height)), out, Number(v.top)),
    ]
  },
})
