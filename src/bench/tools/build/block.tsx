import { Box } from 'lucide-react'
import { standing } from '@/core/math/affine'
import { addScaled } from '@/core/math/vec'
import { directionOf, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

const words = ['Width', 'Depth', 'Height']

export const blockTool = defineTool({
  kind: 'build/block',
  icon: Box,
  handles(values) {
    const at = vectorOf(values.at),
      n = directionOf(values.axis),
      size = vectorOf(values.size)
    if (!at || !n || !size) return []
    const ways = standing(n, Number(values.turn ?? 0))
    const from = values.from
    // From the middle a side grows both ways, so its number grows twice as fast as the arrow.
    const centred = [from !== 'corner', from !== 'corner', from === 'centre']
    return ways.map((way, k) => ({
      key: `size ${k}`,
      sort: 'arrow' as const,
      label: words[k],
      at: addScaled(at, way, centred[k] ? size[k] / 2 : size[k]),
      axis: way,
      value: size[k],
      factor: centred[k] ? 2 : 1,
      min: 0.1,
      set: (v: number) => ({ size: size.map((s, i) => (i === k ? v : s)) }),
    }))
  },
})
