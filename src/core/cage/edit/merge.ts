/** Points put together, and rims that lie close welded. What would leave a triangle is refused: a cage holds quads only. */
import { StepError } from '@/core/base/step-error'
import { plural } from '@/core/base/say'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { draftOf, finished, halfOfEdge, need, pointAt, pointsOf, topologyOf, type Draft, type Picked } from './net'
import type { EditOf } from './schema'
import { chainsOf } from './select'

/** Puts points in the place of others. @throws StepError `triangle` */
export function joined(d: Draft, to: ReadonlyMap<number, number>, what: string): Cage {
  const end = (v: number): number => {
    let w = v
    for (let u = to.get(w); u !== undefined && u !== w; u = to.get(w)) w = u
    return w
  }
  let triangles = 0
  const where: [number, number, number][] = []
  d.faces = d.faces.map((f) => {
    if (!f) return null
    const g = f.map(end) as typeof f
    const kinds = new Set(g).size
    if (kinds === 4) return g
    // Folded on to itself over a diagonal or an edge, the face goes.
    if (kinds < 3 || g[0] === g[2] || g[1] === g[3]) return null
    triangles++
    where.push([d.positions[3 * g[0]], d.positions[3 * g[0] + 1], d.positions[3 * g[0] + 2]])
    return g
  })
  if (triangles)
    throw new StepError('triangle', `${what} would leave ${plural(triangles, 'triangle')}; a cage holds quads only.`, {
      where: { point: where[0] },
      tryThis: 'Merge opposite corners of a quad, or a whole run of edges across a ring.',
    })
  const creases = new Map<number, number>()
  for (const [key, s] of d.creases) {
    const [a, b] = endsOfKey(key).map(end)
    if (a !== b) creases.set(edgeKey(a, b), Math.max(s, creases.get(edgeKey(a, b)) ?? 0))
  }
  const corners = new Map<number, number>()
  for (const [v, s] of d.corners) corners.set(end(v), Math.max(s, corners.get(end(v)) ?? 0))
  return finished({ ...d, creases, corners }, what)
}

/**
 * Puts picked points together, or closes each run of picked edges up to the middle of each edge of a ring.
 * @throws StepError `no-pick`, `triangle`
 */
export function merge(cage: Cage, picked: Picked, { at }: EditOf<'merge'>): Cage {
  const d = draftOf(cage)
  const to = new Map<number, number>()
  const put = (list: readonly number[]) => {
    const keep = at === 'last' ? list[list.length - 1] : list[0]
    if (at === 'middle')
      for (let k = 0; k < 3; k++)
        d.positions[3 * keep + k] = list.reduce((s, v) => s + cage.positions[3 * v + k], 0) / list.length
    for (const v of list) if (v !== keep) to.set(v, keep)
  }
  if (picked.edges.length) {
    // Edges that hang together come to one point; those of a ring each to its own.
    for (const { points } of chainsOf(picked.edges)) put(points)
  } else {
    const points = pointsOf(cage, picked)
    need(points, 2, 'point', 'Merging')
    put(points)
  }
  return joined(d, to, 'Merging')
}

/** Points at rims, picked ones or all, that lie within a distance of each other put together, the nearest first. @throws StepError */
export function weld(cage: Cage, picked: Picked, { within }: EditOf<'weld'>): Cage {
  const { twin } = topologyOf(cage)
  const all = pointsOf(cage, picked)
  const only = all.length ? new Set(all) : null
  const rim = new Set<number>()
  for (let h = 0; h < twin.length; h++)
    if (twin[h] < 0) for (const v of [cage.quads[h], cage.quads[nextInQuad(h)]]) if (!only || only.has(v)) rim.add(v)
  const points = [...rim]
  const edges = halfOfEdge(cage)
  const pairs: [number, number, number][] = []
  const order = points.sort((a, b) => cage.positions[3 * a] - cage.positions[3 * b])
  order.forEach((v, i) => {
    for (let j = i + 1; j < order.length; j++) {
      const u = order[j]
      if (cage.positions[3 * u] - cage.positions[3 * v] > within) break
      const d = Math.hypot(...pointAt(cage, v).map((x, k) => x - cage.positions[3 * u + k]))
      if (d <= within && !edges.has(edgeKey(u, v))) pairs.push([d, v, u])
    }
  })
  pairs.sort((a, b) => a[0] - b[0])
  const to = new Map<number, number>()
  const d = draftOf(cage)
  for (const [, v, u] of pairs) {
    if (to.has(v) || to.has(u)) continue
    to.set(u, v)
    to.set(v, v)
    for (let k = 0; k < 3; k++) d.positions[3 * v + k] = (cage.positions[3 * v + k] + cage.positions[3 * u + k]) / 2
  }
  if (!to.size)
    throw new StepError('no-pair', `No points at rims lie within ${within} mm of each other.`, {
      tryThis: 'Take a larger distance.',
    })
  return joined(d, to, 'Welding')
}
