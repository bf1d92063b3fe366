/**
 * Fewer triangles by collapsing edges one by one, cheapest first, without memory: each cost comes from the skin as it is then (Lindstrom &
 * Turk 1998), its points from quadrics of the planes round them (Garland & Heckbert 1997), held to the volume. What a collapse would fold,
 * double or pinch is not done, so a manifold stays one, and where nothing more can go it stops.
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { nextIn } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { CollapsingSkin, type CollapseAim } from './collapsing-skin'
import { EdgeHeap } from './edge-heap'
import { EdgePrice } from './edge-price'
import { SoundCollapse } from './sound-collapse'

/** A cost that rose by no more than this since it was told still holds. */
const stillHolds = (now: number, told: number): boolean => !(now > 1.02 * told + 1e-30)

/** Collapses edges of a mesh until so many triangles are left, or nothing more can go soundly. */
export function collapseEdges(mesh: TriMesh, aim: CollapseAim, work: Work = quiet): TriMesh {
  const begin = triangleCount(mesh)
  if (begin <= aim.triangles) return mesh
  const skin = new CollapsingSkin(mesh, aim)
  const costs = new EdgePrice(skin)
  const sound = new SoundCollapse(skin)
  const heap = new EdgeHeap()
  const { stamps, fixed, around } = skin
  const stampOf = (a: number, b: number) => stamps[a] + stamps[b]
  const offer = (a: number, b: number) => {
    const cost = costs.price(a, b)
    if (cost < Infinity) heap.push(cost, a, b, stampOf(a, b))
  }
  for (let h = 0; h < skin.corners.length; h++) {
    const a = skin.corners[h],
      b = skin.corners[nextIn(h)]
    if (a < b || skin.twin[h] < 0) offer(a, b)
  }
  let done = 0
  while (skin.alive > aim.triangles && heap.pop()) {
    const { cost, a, b, stamp } = heap.top
    if (!around[a].length || !around[b].length) continue
    const now = costs.price(a, b)
    if (stampOf(a, b) !== stamp || !stillHolds(now, cost)) {
      // Its surroundings have changed since it was priced.
      if (!(now < Infinity) || !skin.sharesTriangle(a, b)) continue
      if (heap.size && now > 1.02 * cost) {
        heap.push(now, a, b, stampOf(a, b))
        continue
      }
    }
    if (!sound.allows(a, b, costs.best)) continue
    if ((++done & 2047) === 0) {
      checkStop(work)
      work.progress((begin - skin.alive) / Math.max(1, begin - aim.triangles), 'simplifying')
    }
    const keep = fixed[b] && !fixed[a] ? b : a
    skin.merge(keep, keep === a ? b : a, costs.best)
    const ring = skin.ring(keep)
    for (const v of ring) costs.refresh(v)
    for (const v of ring) if (v !== keep) offer(keep, v)
  }
  return skin.mesh()
}
