import { LayoutGrid } from 'lucide-react'
import { directionOf, lengthArrow, middleOfBody } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const copiesTool = defineTool({
  kind: 'build/copies',
  icon: LayoutGrid,
  handles(v, bodies) {
    const middle = middleOfBody(v, bodies),
      along = directionOf(v.along),
      across = directionOf(v.across)
    if (!middle || v.how !== 'rows') return []
    return [
      ...(along ? [lengthArrow('gap', 'From one to the next', middle, along, Number(v.gap), { min: -1e5 })] : []),
      ...(across && Number(v.rows) > 1
        ? [lengthArrow('rowGap', 'From row to row', middle, across, Number(v.rowGap), { min: -1e5 })]
        : []),
    ]
  },
})
