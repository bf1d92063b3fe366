/** What closed rows of places enclose: their signed areas, and the filled area with holes left out. */
import { insideOutline } from '@/core/math/outline'
import type { Place } from './drawing'

/** Area of a closed row, mm²; above zero when it runs counter-clockwise. */
export function signedArea(row: readonly Place[]): number {
  let sum = 0
  for (let i = 0; i < row.length; i++) {
    const a = row[i],
      b = row[(i + 1) % row.length]
    sum += a[0] * b[1] - b[0] * a[1]
  }
  return sum / 2
}

/** How many of the other loops each lies in; loops that cross count by their first place. */
export function nesting(loops: readonly (readonly Place[])[]): number[] {
  const boxes = loops.map((l) => {
    const b = { x0: Infinity, x1: -Infinity, y0: Infinity, y1: -Infinity }
    for (const [x, y] of l) {
      b.x0 = Math.min(b.x0, x)
      b.x1 = Math.max(b.x1, x)
      b.y0 = Math.min(b.y0, y)
      b.y1 = Math.max(b.y1, y)
    }
    return b
  })
  return loops.map((l, i) => {
    const [x, y] = l[0]
    return loops.filter((o, j) => {
      const b = boxes[j]
      return (
        j !== i && x >= b.x0 && x <= b.x1 && y >= b.y0 && y <= b.y1 && insideOutline(o as [number, number][], [x, y])
      )
    }).length
  })
}

/** Areas that could be filled: one for each loop with an even number round it, less the loops next within. mm² */
export function areasOf(loops: readonly (readonly Place[])[]): number[] {
  const depth = nesting(loops)
  const size = loops.map((l) => Math.abs(signedArea(l)))
  return loops.flatMap((l, i) => {
    if (depth[i] % 2) return []
    const holes = loops.reduce(
      (s, o, j) =>
        depth[j] === depth[i] + 1 && insideOutline(l as [number, number][], o[0] as [number, number]) ? s + size[j] : s,
      0,
    )
    return [size[i] - holes]
  })
}
