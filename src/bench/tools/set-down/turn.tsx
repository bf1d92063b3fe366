import { RotateCw } from 'lucide-react'
import type { Vec3 } from '@/core/math/vec'
import { directionOf, middleOfBody } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

const axes: Record<string, Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }

export const turnTool = defineTool({
  kind: 'set-down/turn',
  icon: RotateCw,
  handles(values, bodies) {
    const middle = middleOfBody(values, bodies)
    const axis = axes[String(values.axis)] ?? directionOf(values.direction)
    if (!middle || !axis) return []
    return [
      {
        key: 'angle',
        sort: 'ring',
        label: 'Angle',
        at: values.about === 'origin' ? [0, 0, 0] : middle,
        axis,
        value: Number(values.angle ?? 0),
        min: -360,
        max: 360,
        set: (v) => ({ angle: v }),
      },
    ]
  },
})
