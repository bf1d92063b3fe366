import { PackageOpen } from 'lucide-react'
import { bodyTop, lengthArrow } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const hollowTool = defineTool({
  kind: 'build/hollow',
  icon: PackageOpen,
  handles(values, bodies) {
    const top = bodyTop(values, bodies)
    return top && Number.isFinite(values.wall)
      ? [lengthArrow('wall', 'Wall', top, [0, 0, -1], Number(values.wall), { min: 0.05 })]
      : []
  },
})
