import { Type } from 'lucide-react'
import { scale } from '@/core/math/vec'
import { directionOf, lengthArrow, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const letteringTool = defineTool({
  kind: 'build/lettering',
  icon: Type,
  handles(v, _bodies, ghost) {
    const at = vectorOf(ghost.at),
      normal = directionOf(ghost.normal)
    if (!at || !normal) return []
    const way = v.result === 'cut' ? scale(normal, -1) : normal
    return [lengthArrow('height', 'Height', at, way, Number(v.height), { min: 0.01 })]
  },
})
