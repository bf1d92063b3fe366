/** What of the cage lies under the pointer, or inside a line drawn on the screen: only what is seen, unless it goes right through. */
import { endsOfKey } from '@/core/mesh/edge-key'
import { edgeMiddle, faceCount, faceMiddle, halfOfEdge, pointAt, pointCount } from '@/core/cage/edit/net'
import { edgeLoop, edgeRing, smoothPatch, type PickSort } from '@/core/cage/edit/select'
import type { Vec3 } from '@/core/math/vec'
import type { Cage } from '@/core/subdivision/subdivide'
import type { BenchView, Pointer, Ray, Screen } from '@/bench/hands/hand'
import type { Extent } from './state'

/** Pixels within which a point or edge is meant. */
const reachPixels = 9
/** Of the way to a place what lies before it hides it. */
const before = 0.995

/** How far along a ray, in its own length, it meets a face of the cage first; -1: none. */
function firstFace(cage: Cage, { origin: o, direction: d }: Ray, most: number, not?: (f: number) => boolean) {
  const { positions: p, quads } = cage
  let best = -1
  let least = most
  for (let f = 0; f < quads.length / 4; f++) {
    if (not?.(f)) continue
    for (let half = 0; half < 2; half++) {
      const a = 3 * quads[4 * f]
      const b = 3 * quads[4 * f + 1 + half]
      const c = 3 * quads[4 * f + 2 + half]
      // Möller & Trumbore 1997.
      const e1x = p[b] - p[a]
      const e1y = p[b + 1] - p[a + 1]
      const e1z = p[b + 2] - p[a + 2]
      const e2x = p[c] - p[a]
      const e2y = p[c + 1] - p[a + 1]
      const e2z = p[c + 2] - p[a + 2]
      const hx = d[1] * e2z - d[2] * e2y
      const hy = d[2] * e2x - d[0] * e2z
      const hz = d[0] * e2y - d[1] * e2x
      const det = e1x * hx + e1y * hy + e1z * hz
      if (Math.abs(det) < 1e-14) continue
      const sx = o[0] - p[a]
      const sy = o[1] - p[a + 1]
      const sz = o[2] - p[a + 2]
      const u = (sx * hx + sy * hy + sz * hz) / det
      if (u < 0 || u > 1) continue
      const qx = sy * e1z - sz * e1y
      const qy = sz * e1x - sx * e1z
      const qz = sx * e1y - sy * e1x
      const v = (d[0] * qx + d[1] * qy + d[2] * qz) / det
      if (v < 0 || u + v > 1) continue
      const t = (e2x * qx + e2y * qy + e2z * qz) / det
      if (t > 1e-9 && t < least) {
        least = t
        best = f
      }
    }
  }
  return { face: best, away: least }
}

/** Whether a place is seen: nothing of the cage lies before it. */
function seen(cage: Cage, eye: Vec3, at: Vec3): boolean {
  const direction: Vec3 = [at[0] - eye[0], at[1] - eye[1], at[2] - eye[2]]
  return firstFace(cage, { origin: eye, direction }, before).face < 0
}

const toSegment = (p: Screen, a: Screen, b: Screen): number => {
  const u = [b[0] - a[0], b[1] - a[1]]
  const w = [p[0] - a[0], p[1] - a[1]]
  const t = Math.max(0, Math.min(1, (u[0] * w[0] + u[1] * w[1]) / (u[0] * u[0] + u[1] * u[1] || 1)))
  return Math.hypot(w[0] - t * u[0], w[1] - t * u[1])
}

/** The point, edge or face under the pointer; null where none is. */
export function under(cage: Cage, sort: PickSort, p: Pointer, b: BenchView, through: boolean): number | null {
  if (sort === 'faces') {
    const { face } = firstFace(cage, p.ray, Infinity)
    return face < 0 ? null : face
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
  return (near.slice(0, 12).find((n) => through || seen(cage, eye, n.at)) ?? near.find(() => through))?.id ?? null
}

/** Parts inside a line drawn on the screen. */
export function inside(cage: Cage, sort: PickSort, line: readonly Screen[], b: BenchView, through: boolean): number[] {
  const holds = ([x, y]: Screen): boolean => {
    let odd = false
    for (let i = 0, j = line.length - 1; i < line.length; j = i++) {
      const [xi, yi] = line[i]
      const [xj, yj] = line[j]
      if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) odd = !odd
    }
    return odd
  }
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
  return ids.filter((_, i) => holds([xy[2 * i], xy[2 * i + 1]]) && (through || seen(cage, eye, places[i])))
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
