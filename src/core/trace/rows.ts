/** Rows of places as tracing takes them: without those that say nothing. */
import type { Place } from '@/core/outline/drawing'

export interface Row {
  readonly places: readonly Place[]
  readonly closed: boolean
}

/**
 * The row without places that fall together or lie on the straight way between their neighbours. A section cuts facets of a round wall also
 * half-way between their corners; such places lie on the chord, not on the round, and would draw every radius inward.
 */
export function corners(row: Row, tiny: number): Row {
  const { places, closed } = distinct(row, tiny)
  const n = places.length
  if (n < 4) return { places, closed }
  const out: Place[] = []
  for (let i = 0; i < n; i++) {
    const p = places[i]
    if (!closed && (i === 0 || i === n - 1)) {
      out.push(p)
      continue
    }
    // From the last that was kept, so that a slow bend is not eaten place by place.
    const a = out[out.length - 1] ?? places[n - 1],
      b = places[(i + 1) % n]
    const [ux, uy] = [b[0] - a[0], b[1] - a[1]]
    const l = Math.hypot(ux, uy)
    const off = l > 0 ? Math.abs(ux * (p[1] - a[1]) - uy * (p[0] - a[0])) / l : Infinity
    const between = (p[0] - a[0]) * (b[0] - p[0]) + (p[1] - a[1]) * (b[1] - p[1]) > 0
    if (off > 1e3 * tiny || !between) out.push(p)
  }
  return out.length >= (closed ? 3 : 2) ? { places: out, closed } : { places, closed }
}

function distinct({ places, closed }: Row, tiny: number): Row {
  const out: Place[] = []
  for (const p of places) {
    const q = out[out.length - 1]
    if (!q || Math.hypot(p[0] - q[0], p[1] - q[1]) > tiny) out.push(p)
  }
  const [a, b] = [out[0], out[out.length - 1]]
  if (closed && out.length > 2 && Math.hypot(a[0] - b[0], a[1] - b[1]) <= tiny) out.pop()
  return { places: out, closed: closed && out.length > 2 }
}
