import { Drill } from 'lucide-react'
import { perpendicular } from '@/core/math/vec'
import { directionOf, lengthArrow, vectorOf } from '@/bench/hands/handle-kits'
import { StandardHoles } from '@/bench/forms/standard-holes'
import { defineTool } from '../tool'

export const holeTool = defineTool({
  kind: 'build/hole',
  icon: Drill,
  Extra: StandardHoles,
  handles(v) {
    const at = vectorOf(Array.isArray(v.at) ? v.at[0] : null),
      axis = directionOf(v.axis)
    if (!at || !axis) return []
    const diameter = Number(v.diameter)
    return [
      ...(!(Number(v.depth) > 0) || v.through
        ? []
        : [lengthArrow('depth', 'Depth', at, axis, Number(v.depth), { min: 0.1 })]),
      ...(diameter > 0
        ? [lengthArrow('diameter', 'Diameter', at, perpendicular(axis), diameter, { factor: 2, min: 0.1 })]
        : []),
    ]
  },
})
