import { CircleFadingPlus } from 'lucide-react'
import { bodyTop, lengthArrow } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const offsetTool = defineTool({
  kind: 'build/offset',
  icon: CircleFadingPlus,
  handles(values, bodies) {
    const top = bodyTop(values, bodies)
    return top && Number.isFinite(values.by)
      ? [lengthArrow('by', 'By', top, [0, 0, 1], Number(values.by), { min: -10000 })]
      : []
  },
})
