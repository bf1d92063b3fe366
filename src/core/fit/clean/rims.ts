/** Flat bands and slivers that belong to the round region beside them. */
import type { SkinField } from '@/core/find/smooth-surface'
import { DisjointSets } from '@/core/math/disjoint-sets'
import { dot } from '@/core/math/vec'
import { corners } from '@/core/mesh/tri-mesh'
import type { Fitted } from '../fit-shape'
import { normalOf, offShape } from '../shape'
import { centreOf, heightOf, liesOn, noHeight, wallTurn, type Facet } from './facets'
import type { RoundRegion } from './region'

/** A sliver is so few triangles, turns to its neighbours by less than this, radians, and faces as its surface does by this cosine. */
const sliverTriangles = 2
const sliverTurn = 1.2
const sliverFacing = 0.4

/** Flat bands that lie on the round region beside them go to it, as at the top of a ring; round regions that meet so are one. */
export function joinRims(
  f: SkinField,
  facets: readonly Facet[],
  regions: readonly RoundRegion[],
  flat: readonly number[],
  within: number,
): { round: RoundRegion[]; flat: number[] } {
  const of = new Map<number, number>()
  regions.forEach((r, i) => {
    for (const k of r.facets) of.set(k, i)
  })
  const joined = new DisjointSets(regions.length)
  const more = new Map<number, number[]>()
  const rest: number[] = []
  const bandOn = (k: number, shape: Fitted, facing = 0.9) =>
    facets[k].triangles.every((t) => {
      if (corners(f.mesh, t).some((p) => Math.abs(offShape(shape, p)) > within)) return false
      if (heightOf(f.mesh, t) < noHeight * within) return true
      return dot(normalOf(shape, centreOf(f.mesh, [t])), facets[k].normal) * (shape.inside ? -1 : 1) > facing
    })
  for (const k of flat) {
    const near = [...facets[k].beside].flatMap(([j, turn]) => {
      const r = of.get(j)
      return r !== undefined && turn < wallTurn ? [r] : []
    })
    const mine = near.find((r) => bandOn(k, regions[r].shape))
    if (mine === undefined) {
      rest.push(k)
      continue
    }
    more.set(mine, [...(more.get(mine) ?? []), k])
    // What lies beyond the band on the same surface is the same region.
    for (const r of near)
      if (
        joined.find(r) !== joined.find(mine) &&
        regions[r].facets.every((j) => liesOn(f, facets[j], regions[mine].shape, 4 * within))
      )
        joined.unite(r, mine)
  }
  // Slivers face aside of the surface that all of their corners lie on: they go with what lies on two of their sides, small ones with what lies on one.
  const slivers = new Set(rest.filter((k) => facets[k].triangles.length <= sliverTriangles))
  for (const [r, list] of more) for (const k of list) of.set(k, r)
  const usual = regions.map((r) => {
    const areas = r.facets.map((k) => facets[k].area).sort((a, b) => a - b)
    return areas[areas.length >> 1] / 2
  })
  for (let again = true; again;) {
    again = false
    for (const k of slivers) {
      const low = facets[k].triangles.every((t) => heightOf(f.mesh, t) < noHeight * within)
      const sides = [...facets[k].beside].flatMap(([j, turn]) => (low || turn < sliverTurn ? (of.get(j) ?? []) : []))
      const mine = sides.find(
        (r, i) => (sides.indexOf(r) !== i || facets[k].area < usual[r]) && bandOn(k, regions[r].shape, sliverFacing),
      )
      if (mine === undefined) continue
      of.set(k, mine)
      slivers.delete(k)
      more.set(mine, [...(more.get(mine) ?? []), k])
      again = true
    }
  }
  const left = rest.filter((k) => !of.has(k))
  const groups = new Map<number, number[]>()
  regions.forEach((_, i) => groups.set(joined.find(i), [...(groups.get(joined.find(i)) ?? []), i]))
  const round = [...groups.values()].map((list): RoundRegion => {
    const all = list.flatMap((i) => [...regions[i].facets, ...(more.get(i) ?? [])])
    const first = list.reduce((a, b) => (regions[b].facets.length > regions[a].facets.length ? b : a))
    return { shape: regions[first].shape, facets: all, triangles: all.flatMap((k) => facets[k].triangles) }
  })
  return { round, flat: left }
}
