/** Rows of places with others that lie on the same curves put in where they belong. */
import type { Place } from '@/core/outline/drawing'
import type { Row } from '@/core/trace/rows'

/** A place may bulge out of the chord that it belongs to by this share of the chord's length. */
const mostBulge = 0.3
/** Cells of the search grid along the longer side. */
const cells = 64

interface Segment {
  readonly row: number
  readonly index: number
  readonly a: Place
  readonly b: Place
}

/**
 * @param close mm: places nearer than this to each other are one
 * @param instead the rows' own places only give the order and go, but for the ends of open rows
 * @returns null where a place lies on none of the rows
 */
export function filledRows(
  rows: readonly Row[],
  places: readonly Place[],
  close: number,
  instead = false,
): Row[] | null {
  const segments: Segment[] = rows.flatMap((r, row) =>
    r.places.flatMap((a, index) => {
      const b = r.places[index + 1] ?? (r.closed ? r.places[0] : undefined)
      return b ? [{ row, index, a, b }] : []
    }),
  )
  if (!segments.length) return null
  const min = [Infinity, Infinity],
    max = [-Infinity, -Infinity]
  for (const { a } of segments)
    for (const k of [0, 1]) {
      min[k] = Math.min(min[k], a[k])
      max[k] = Math.max(max[k], a[k])
    }
  const cell = Math.max(max[0] - min[0], max[1] - min[1], 1e-9) / cells
  const grid = new Map<number, Segment[]>()
  const key = (i: number, j: number) => i * 4096 + j
  const at = (v: number, k: 0 | 1) => Math.floor((v - min[k]) / cell) + 2
  for (const s of segments) {
    // A chord is found from as far as a place may bulge out of it.
    const wide = mostBulge * Math.hypot(s.b[0] - s.a[0], s.b[1] - s.a[1]) + close
    for (let i = at(Math.min(s.a[0], s.b[0]) - wide, 0); i <= at(Math.max(s.a[0], s.b[0]) + wide, 0); i++)
      for (let j = at(Math.min(s.a[1], s.b[1]) - wide, 1); j <= at(Math.max(s.a[1], s.b[1]) + wide, 1); j++) {
        const list = grid.get(key(i, j))
        if (list) list.push(s)
        else grid.set(key(i, j), [s])
      }
  }
  const extra = rows.map((r) => r.places.map((): { t: number; p: Place }[] => []))
  for (const p of places) {
    let best: { s: Segment; t: number; off: number } | null = null
    for (const s of grid.get(key(at(p[0], 0), at(p[1], 1))) ?? []) {
      const [ux, uy] = [s.b[0] - s.a[0], s.b[1] - s.a[1]]
      const l2 = ux * ux + uy * uy
      const t = l2 > 0 ? Math.min(1, Math.max(0, ((p[0] - s.a[0]) * ux + (p[1] - s.a[1]) * uy) / l2)) : 0
      const off = Math.hypot(p[0] - s.a[0] - t * ux, p[1] - s.a[1] - t * uy)
      if (off <= mostBulge * Math.sqrt(l2) + close && (!best || off < best.off)) best = { s, t, off }
    }
    if (!best) return null
    extra[best.s.row][best.s.index].push({ t: best.t, p })
  }
  return rows.map((r, row) => {
    const end = (i: number) => !r.closed && (i === 0 || i === r.places.length - 1)
    const all = r.places.flatMap((a, i) => [
      ...(instead && !end(i) ? [] : [a]),
      ...extra[row][i].sort((x, y) => x.t - y.t).map((x) => x.p),
    ])
    const places = all.filter((p, i) => i === 0 || Math.hypot(p[0] - all[i - 1][0], p[1] - all[i - 1][1]) > close)
    const last = places[places.length - 1]
    if (r.closed && places.length > 3 && Math.hypot(last[0] - places[0][0], last[1] - places[0][1]) <= close)
      places.pop()
    return { closed: r.closed, places }
  })
}
