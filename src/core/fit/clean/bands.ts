/** Round regions that make up one ball or ring. */
import type { SkinField } from '@/core/find/smooth-surface'
import type { Fitted } from '../fit-shape'
import type { ShapeKind } from '../shape'
import { liesOn, wallTurn, type Facet } from './facets'
import type { RoundRegion } from './region'
import { through } from './through'

/** Bands of cones and cylinders that follow each other make up one ball or ring: two for a ball, three for a ring, whose section any three circles would fit. */
const bandsOf: Partial<Record<ShapeKind, number>> = { sphere: 2, ring: 3 }

/** Regions whose radii differ by less than this share may be slices of one ring; so many of them tell it. */
const alikeRadius = 1e-3
const mostAlike = 16

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
  /** The ball or ring that some bands tell, with all on it, if those are more than `least`. */
  const toldBy = (i: number, bands: readonly number[], least: number): { shape: Fitted; list: number[] } | null => {
    let best: { shape: Fitted; list: number[] } | null = null
    const chosen = bands.flatMap((b) => some(regions[b]))
    for (const shape of through(f, chosen, within, size, ['sphere', 'ring'])) {
      const list = reached(i, shape)
      const enough = list.length >= bandsOf[shape.kind]! && list.length > (best?.list.length ?? least)
      if (enough && lies(regions[i], shape)) best = { shape, list }
    }
    return best
  }
  /** Regions of the same size that follow each other from one. */
  const alikeRun = (i: number) => {
    const { kind, radius = 0 } = regions[i].shape
    const run = new Set([i])
    for (const k of run)
      for (const j of beside[k]) {
        const other = regions[j].shape
        const same = other.kind === kind && Math.abs((other.radius ?? 0) - radius) < alikeRadius * radius
        if (same && !gone.has(j) && run.size < mostAlike) run.add(j)
      }
    return [...run]
  }
  for (const [i, r] of regions.entries()) {
    if (gone.has(i)) continue
    let best: { shape: Fitted; list: number[] } | null = null
    for (const a of beside[i]) {
      if (gone.has(a) || best) continue
      const third = [...beside[a], ...beside[i]].find((b) => b !== i && b !== a && !gone.has(b))
      best = toldBy(i, third === undefined ? [i, a] : [i, a, third], 0)
    }
    // Narrow slices of a ring each lie on a ball, and tell their ring only when many are taken together.
    const run = best ? [] : alikeRun(i)
    if (run.length > bandsOf.ring!) best = toldBy(i, run, 1)
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
