import { MoveDiagonal } from 'lucide-react'
import { threeArrows, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const axisTool = defineTool({
  kind: 'build/axis',
  icon: MoveDiagonal,
  handles(v) {
    const at = vectorOf(v.at),
      to = vectorOf(v.to)
    if (v.by !== 'direction' && v.by !== 'points') return []
    return [
      ...(at ? threeArrows('at', 'Through', [0, 0, 0], at) : []),
      ...(to && v.by === 'points' ? threeArrows('to', 'Second point', [0, 0, 0], to) : []),
    ]
  },
})
