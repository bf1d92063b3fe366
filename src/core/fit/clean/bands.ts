/** Round regions that make up one ball or ring. */
import type { SkinField } from '@/core/find/smooth-surface'
import type { Fitted } from '../fit-shape'
import type { ShapeKind } from '../shape'
import { liesOn, wallTurn, type Facet } from './facets'
import type { RoundRegion } from './region'
import { through } from './through'

/** Bands of cones and cylinders that follow each other make up one ball or ring: two for a ball, three for a ring, whose section any three circles would fit. */
const bandsOf: Partial<Record<ShapeKind, number>> = { sphere: 2, ring: 3 }

/** Round regions with those that lie together on one ball or ring as one. */
export function joinBands(
  f: SkinField,
  facets: readonly Facet[],
  regions: readonly RoundRegion[],
  within: number,
  size: number,
): RoundRegion[] {
  const of = new Map<number, number>()
  regions.forEach((r, i) => {
    for (const k of r.facets) of.set(k, i)
  })
  const beside = regions.map((r, i) => {
    const near = new Set<number>()
    for (const k of r.facets)
      for (const [j, turn] of facets[k].beside) {
        const other = of.get(j)
        if (other !== undefined && other !== i && turn < wallTurn) near.add(other)
      }
    return [...near]
  })
  const gone = new Set<number>()
  const out: RoundRegion[] = []
  const some = (r: RoundRegion) => {
    const step = Math.max(1, Math.ceil(r.facets.length / 60))
    return r.facets.filter((_, i) => i % step === 0).map((k) => facets[k])
  }
  const lies = (r: RoundRegion, shape: Fitted) => r.facets.every((k) => liesOn(f, facets[k], shape, within))
  /** Regions on a shape that hang together with one. */
  const reached = (i: number, shape: Fitted) => {
    const seen = new Set([i])
    for (const b of seen)
      for (const c of beside[b]) if (!seen.has(c) && !gone.has(c) && lies(regions[c], shape)) seen.add(c)
    return [...seen]
  }
  for (const [i, r] of regions.entries()) {
    if (gone.has(i)) continue
    let best: { shape: Fitted; list: number[] } | null = null
    for (const a of beside[i]) {
      if (gone.has(a) || best) continue
      const third = [...beside[a], ...beside[i]].find((b) => b !== i && b !== a && !gone.has(b))
      const bands = third === undefined ? [i, a] : [i, a, third]
      const found = through(
        f,
        bands.flatMap((b) => some(regions[b])),
        within,
        size,
        ['sphere', 'ring'],
      )
      for (const shape of found) {
        const list = reached(i, shape)
        if (lies(r, shape) && list.length >= bandsOf[shape.kind]! && list.length > (best?.list.length ?? 0))
          best = { shape, list }
      }
    }
    // A ball or ring that was found by itself takes in bands that came before it.
    if (!best && bandsOf[r.shape.kind]) {
      const list = reached(i, r.shape)
      if (list.length > 1) best = { shape: r.shape, list }
    }
    if (!best) continue
    for (const b of best.list) gone.add(b)
    const all = best.list.flatMap((b) => regions[b].facets)
    out.push({ shape: best.shape, facets: all, triangles: all.flatMap((k) => facets[k].triangles) })
  }
  return [...regions.filter((_, i) => !gone.has(i)), ...out]
}
