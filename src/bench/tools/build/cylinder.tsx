import { Cylinder } from 'lucide-react'
import { perpendicular } from '@/core/math/vec'
import { directionOf, lengthArrow, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const cylinderTool = defineTool({
  kind: 'build/cylinder',
  icon: Cylinder,
  handles(values) {
    const at = vectorOf(values.at),
      axis = directionOf(values.axis)
    if (!at || !axis) return []
    return [
      lengthArrow('height', 'Height', at, axis, Number(values.height), { min: 0.1 }),
      lengthArrow('radius', 'Radius', at, perpendicular(axis), Number(values.radius), { min: 0.05 }),
    ]
  },
})
