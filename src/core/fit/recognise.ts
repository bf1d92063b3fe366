/**
 * A whole mesh divided into regions of one surface each: surfaces are grown from the largest triangles on, each is given the simplest
 * shape that holds, neighbours that lie on one shape are joined, and what is left beside a region goes to the nearest (after Besl & Jain
 * 1988; Wu & Kobbelt 2005).
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { StepError } from '@/core/base/step-error'
import { growSurface } from '@/core/find/smooth-surface'
import { dot, type Vec3 } from '@/core/math/vec'
import { buildTopology, triangleOf } from '@/core/mesh/topology'
import {
  diagonal,
  meshBounds,
  triangleArea,
  triangleCount,
  triangleNormals,
  vertex,
  type TriMesh,
} from '@/core/mesh/tri-mesh'
import { cleanRegions } from './clean-regions'
import { fitBest, fitKind, type Fitted } from './fit-shape'
import { samplesOf } from './samples'
import { normalOf, offShape, shapeKinds } from './shape'

export interface Region {
  /** Null where no shape holds: a free surface. */
  readonly shape: Fitted | null
  readonly triangles: readonly number[]
  /** mm². */
  readonly area: number
}

export interface Recognised {
  readonly regions: readonly Region[]
  /** Number of each triangle's region; -1 where it is in none. */
  readonly of: Int32Array
  /** What shapes may be off by, mm: told beforehand or from the mesh itself. */
  readonly tolerance: number
}

/** Corners of drawn parts lie on their surfaces to within this share of the size: files keep seven digits. */
const cleanShare = 1e-6
/** Regions of fewer triangles than this are none, unless they are large. */
const leastTriangles = 2
/** Regions of less than this share of the skin are none where they are small in number too. */
const leastArea = 2e-5
/** A shape holds when most of the region lies on it. */
const mostOn = 0.85
/** Triangles go to a neighbour whose surface faces as they do, by this cosine. */
const facing = Math.cos((25 * Math.PI) / 180)

/**
 * What corners of a mesh lie off their surfaces, mm: of each of many triangles the flattest neighbour's far corner, off its plane. A drawn
 * part has flat pairs everywhere, whatever its facets; a scan has none.
 * @returns `flattest`: what the flattest tenth of the area is off by
 */
export function noiseOf(mesh: TriMesh): { noise: number; flattest: number } {
  const n = triangleCount(mesh)
  const { twin } = buildTopology(mesh)
  const normals = triangleNormals(mesh)
  const offs: { off: number; area: number }[] = []
  const step = Math.max(1, Math.floor(n / 3000))
  for (let t = 0; t < n; t += step) {
    const own: Vec3 = [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]]
    const base = vertex(mesh, mesh.triangles[3 * t])
    const off = [0, 1, 2].flatMap((c) => {
      const w = twin[3 * t + c]
      if (w < 0) return []
      const far = vertex(mesh, mesh.triangles[w % 3 === 0 ? w + 2 : w - 1])
      return [Math.abs(dot([far[0] - base[0], far[1] - base[1], far[2] - base[2]], own))]
    })
    if (off.length === 3) offs.push({ off: Math.min(...off), area: triangleArea(mesh, t) })
  }
  offs.sort((a, b) => a.off - b.off)
  const whole = offs.reduce((sum, o) => sum + o.area, 0)
  let sum = 0
  const flattest = offs.find((o) => (sum += o.area) >= whole / 10)?.off ?? 0
  // The least of three, each of four corners' noise, has about this share of one corner's.
  return { noise: (offs[offs.length >> 1]?.off ?? 0) / 0.8, flattest }
}

/** @param tolerance mm; left out: from the noise of the mesh and its size */
export function recognise(mesh: TriMesh, tolerance?: number, work: Work = quiet): Recognised {
  const n = triangleCount(mesh)
  if (!n) throw new StepError('empty', 'The mesh holds no triangles.')
  const size = diagonal(meshBounds(mesh)) || 1
  const { noise, flattest } = noiseOf(mesh)
  const clean = flattest < cleanShare * size
  const loose = Math.max(2e-5 * size, 4 * noise)
  const tight = tolerance ?? 4 * cleanShare * size
  const field = { mesh, topology: buildTopology(mesh), normals: triangleNormals(mesh) }
  const drawn = clean ? cleanRegions(field, tight, work) : null
  if (drawn) {
    const regions = drawn.map((r): Region => ({
      ...r,
      area: r.triangles.reduce((s, t) => s + triangleArea(mesh, t), 0),
    }))
    const of = new Int32Array(n).fill(-1)
    regions.forEach((r, i) => {
      for (const t of r.triangles) of[t] = i
    })
    return { regions, of, tolerance: tight }
  }
  const within = tolerance ?? loose
  const area = Float64Array.from({ length: n }, (_, t) => triangleArea(mesh, t))
  const whole = area.reduce((a, b) => a + b, 0)
  const order = [...area.keys()].sort((a, b) => area[b] - area[a] || a - b)
  const of = new Int32Array(n).fill(-1)
  const tried = new Uint8Array(n)
  const found: { shape: Fitted | null; list: number[] }[] = []
  let done = 0
  for (const seed of order) {
    if (of[seed] >= 0 || tried[seed]) continue
    checkStop(work)
    work.progress(0.75 * (done / n), `${found.length} regions`)
    const flags = growSurface(field, seed)
    const list: number[] = []
    flags.forEach((f, t) => {
      if (f && of[t] < 0) list.push(t)
    })
    for (const t of list) tried[t] = 1
    done += list.length
    if (!list.length) continue
    const own = list.reduce((s, t) => s + area[t], 0)
    if (list.length < leastTriangles && own < 1e-3 * whole) continue
    const picked = new Uint8Array(n)
    for (const t of list) picked[t] = 1
    const shape = shapeOf(mesh, picked, within)
    for (const t of list) of[t] = found.length
    found.push({ shape, list })
  }
  joinEqual(mesh, field.topology.twin, of, found, within)
  takeIn(mesh, field, of, found, within)
  work.progress(0.95, 'regions')
  const regions: Region[] = []
  const number = new Int32Array(found.length).fill(-1)
  found.forEach((r, i) => {
    const own = r.list.reduce((s, t) => s + area[t], 0)
    if (!r.list.length || (own < leastArea * whole && r.list.length < 6)) return
    number[i] = regions.length
    regions.push({ shape: r.shape, triangles: r.list, area: own })
  })
  return { regions, of: of.map((r) => (r < 0 ? -1 : number[r])), tolerance: within }
}

/** A shape whose rms is below this share of the tolerance leaves only noise: no other kind is tried. */
const onlyNoise = 0.4

/** The simplest shape of a region, or null where none holds. */
function shapeOf(mesh: TriMesh, flags: Uint8Array, within: number): Fitted | null {
  const samples = samplesOf(mesh, flags)
  const tried = (fit: () => Fitted): Fitted | null => {
    try {
      return fit()
    } catch (error) {
      if (error instanceof StepError) return null
      throw error
    }
  }
  const size = diagonal(meshBounds(mesh))
  for (const kind of shapeKinds) {
    const f = tried(() => fitKind(kind, samples, {}, 4))
    if (f && f.rms <= onlyNoise * within && f.inliers >= 0.97 && (f.radius ?? 0) < 3 * size) return f
  }
  const best = tried(() => fitBest(samples))
  return best && best.rms <= within && best.inliers >= mostOn ? best : null
}

/** Whether all corners of some triangles lie on a shape and they face as it does. */
function lieOn(mesh: TriMesh, shape: Fitted, list: readonly number[], within: number): boolean {
  const step = Math.max(1, Math.floor(list.length / 200))
  for (let i = 0; i < list.length; i += step)
    for (let c = 0; c < 3; c++)
      if (Math.abs(offShape(shape, vertex(mesh, mesh.triangles[3 * list[i] + c]))) > within) return false
  return true
}

/** Neighbouring regions on one shape become one. */
function joinEqual(
  mesh: TriMesh,
  twin: Int32Array,
  of: Int32Array,
  found: { shape: Fitted | null; list: number[] }[],
  within: number,
): void {
  for (let again = true; again;) {
    again = false
    for (let h = 0; h < twin.length; h++) {
      if (twin[h] < 0) continue
      const [a, b] = [of[triangleOf(h)], of[triangleOf(twin[h])]]
      if (a < 0 || b < 0 || a === b) continue
      const [big, small] = found[a].list.length >= found[b].list.length ? [a, b] : [b, a]
      const shape = found[big].shape
      if (!shape || !lieOn(mesh, shape, found[small].list, 1.5 * within)) continue
      // Facets that run on: the same sense, not the other side of a thin wall.
      const t = found[small].list[0]
      const p = vertex(mesh, mesh.triangles[3 * t])
      if (!facesAs(mesh, shape, t, p)) continue
      for (const k of found[small].list) of[k] = big
      found[big].list.push(...found[small].list)
      found[small].list = []
      again = true
    }
  }
}

function facesAs(mesh: TriMesh, shape: Fitted, t: number, p: Vec3): boolean {
  const [a, b, c] = [0, 1, 2].map((k) => vertex(mesh, mesh.triangles[3 * t + k]))
  const [u, v] = [b, c].map((q): Vec3 => [q[0] - a[0], q[1] - a[1], q[2] - a[2]])
  const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
  const l = Math.hypot(...n) || 1e-300
  return (dot(n, normalOf(shape, p)) / l) * (shape.inside ? -1 : 1) > facing
}

/** Triangles in no region go to the neighbour on whose surface they lie, ring by ring. */
function takeIn(
  mesh: TriMesh,
  field: { topology: { twin: Int32Array } },
  of: Int32Array,
  found: { shape: Fitted | null; list: number[] }[],
  within: number,
): void {
  const { twin } = field.topology
  let edge = [...of.keys()].filter((t) => of[t] < 0)
  for (let round = 0; round < 40 && edge.length; round++) {
    const taken: [number, number][] = []
    for (const t of edge) {
      let best = -1,
        least = 2 * within
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const r = twin[h] < 0 ? -1 : of[triangleOf(twin[h])]
        const shape = r < 0 ? null : found[r].shape
        if (!shape) continue
        const off = Math.max(
          ...[0, 1, 2].map((c) => Math.abs(offShape(shape, vertex(mesh, mesh.triangles[3 * t + c])))),
        )
        if (off < least && facesAs(mesh, shape, t, vertex(mesh, mesh.triangles[3 * t]))) {
          least = off
          best = r
        }
      }
      if (best >= 0) taken.push([t, best])
    }
    if (!taken.length) return
    for (const [t, r] of taken) {
      of[t] = r
      found[r].list.push(t)
    }
    edge = edge.filter((t) => of[t] < 0)
  }
}
