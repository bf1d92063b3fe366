/** What of the cage lies under the pointer, or inside a line drawn on the screen: only what is seen, unless it goes right through. */
import { endsOfKey } from '@/core/mesh/edge-key'
import { edgeMiddle, faceCount, faceMiddle, halfOfEdge, pointAt, pointCount } from '@/core/cage/edit/net'
import { edgeLoop, edgeRing, smoothPatch, type PickSort } from '@/core/cage/edit/select'
import { insideOutline } from '@/core/math/outline'
import { distance, normalize, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import type { Cage } from '@/core/subdivision/subdivide'
import type { BenchView, Pointer, Screen } from '@/bench/hands/hand'
import { toSegment } from '@/bench/hands/to-segment'
import type { Extent } from './state'

/** Pixels within which a point or edge is meant. */
const reachPixels = 9
/** What lies before a place hides it; the place's own faces lie at it but for the last digits of their corners. */
const before = 1 - 2e-4

const searches = new WeakMap<Float64Array, MeshSearch>()

/** Rays on the cage's own faces, two triangles each; made once for the points as they lie. */
function searchOf({ positions, quads }: Cage): MeshSearch {
  let s = searches.get(positions)
  if (!s) {
    const triangles = new Uint32Array((quads.length / 4) * 6)
    for (let q = 0, o = 0; q < quads.length; q += 4, o += 6) {
      const [a, b, c, d] = quads.subarray(q, q + 4)
      triangles.set([a, b, c, a, c, d], o)
    }
    searches.set(positions, (s = new MeshSearch({ positions: Float32Array.from(positions), triangles })))
  }
  return s
}

/** Whether a place is seen: nothing of the cage lies before it. */
function seen(cage: Cage, eye: Vec3, at: Vec3): boolean {
  const far = distance(eye, at)
  const hit = searchOf(cage).first(eye, normalize(sub(at, eye)))
  return !hit || hit.distance >= before * far
}

/** The point, edge or face under the pointer; null where none is. */
export function under(cage: Cage, sort: PickSort, p: Pointer, b: BenchView, through: boolean): number | null {
  if (sort === 'faces') {
    const hit = searchOf(cage).first(p.ray.origin, normalize(p.ray.direction))
    return hit && hit.triangle >> 1
  }
  const eye = p.ray.origin
  const xy = b.toScreens(cage.positions)
  const near: { id: number; pixels: number; at: Vec3 }[] = []
  if (sort === 'points') {
    for (let v = 0; v < pointCount(cage); v++) {
      const pixels = Math.hypot(xy[2 * v] - p.screen[0], xy[2 * v + 1] - p.screen[1])
      if (pixels <= reachPixels) near.push({ id: v, pixels, at: pointAt(cage, v) })
    }
  } else {
    for (const key of halfOfEdge(cage).keys()) {
      const [u, v] = endsOfKey(key)
      const pixels = toSegment(p.screen, [xy[2 * u], xy[2 * u + 1]], [xy[2 * v], xy[2 * v + 1]])
      if (pixels <= reachPixels) near.push({ id: key, pixels, at: edgeMiddle(cage, key) })
    }
  }
  // The nearest on the screen that is seen.
  near.sort((a, c) => a.pixels - c.pixels)
  return near.find((n) => through || seen(cage, eye, n.at))?.id ?? null
}

/** Parts inside a line drawn on the screen. */
export function inside(cage: Cage, sort: PickSort, line: readonly Screen[], b: BenchView, through: boolean): number[] {
  const eye = [b.camera.position.x, b.camera.position.y, b.camera.position.z] as Vec3
  const ids =
    sort === 'points'
      ? Array.from({ length: pointCount(cage) }, (_, v) => v)
      : sort === 'faces'
        ? Array.from({ length: faceCount(cage) }, (_, f) => f)
        : [...halfOfEdge(cage).keys()]
  const at = (id: number) =>
    sort === 'points' ? pointAt(cage, id) : sort === 'faces' ? faceMiddle(cage, id) : edgeMiddle(cage, id)
  const places = ids.map(at)
  const xy = b.toScreens(places.flat())
  return ids.filter(
    (_, i) => insideOutline(line, [xy[2 * i], xy[2 * i + 1]]) && (through || seen(cage, eye, places[i])),
  )
}

/** Bend up to which a smooth patch goes on, degrees. */
const patchAngle = 30

/** What one pick takes, by how far it is to reach. */
export function reached(cage: Cage, sort: PickSort, id: number, extent: Extent): number[] {
  if (sort === 'edges' && extent === 'loop') return edgeLoop(cage, id)
  if (sort === 'edges' && extent === 'ring') return edgeRing(cage, id)
  if (sort === 'faces' && extent === 'patch') return smoothPatch(cage, id, patchAngle)
  return [id]
}
