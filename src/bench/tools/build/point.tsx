import { Crosshair } from 'lucide-react'
import { threeArrows, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const pointTool = defineTool({
  kind: 'build/point',
  icon: Crosshair,
  handles(v) {
    const at = vectorOf(v.at),
      to = vectorOf(v.to)
    if (v.by !== 'place' && v.by !== 'midway') return []
    return [
      ...(at ? threeArrows('at', 'At', [0, 0, 0], at) : []),
      ...(to && v.by === 'midway' ? threeArrows('to', 'Second place', [0, 0, 0], to) : []),
    ]
  },
})
