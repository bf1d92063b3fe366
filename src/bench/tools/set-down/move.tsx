import { Move3d } from 'lucide-react'
import { middleOfBody, threeArrows, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const moveTool = defineTool({
  kind: 'set-down/move',
  icon: Move3d,
  handles(values, bodies) {
    const middle = middleOfBody(values, bodies)
    return middle ? threeArrows('by', 'By', middle, vectorOf(values.by) ?? [0, 0, 0]) : []
  },
})
