import { Circle } from 'lucide-react'
import { lengthArrow, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const sphereTool = defineTool({
  kind: 'build/sphere',
  icon: Circle,
  handles(v) {
    const at = vectorOf(v.at)
    return at ? [lengthArrow('radius', 'Radius', at, [0, 0, 1], Number(v.radius), { min: 0.05 })] : []
  },
})
