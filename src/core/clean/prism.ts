/** Whether a mesh is a straight prism: two flat ends and walls square to them; and its outline. */
import { dot, normalize, scale, type Vec3 } from '@/core/math/vec'
import { nextIn, triangleOf, type Topology } from '@/core/mesh/topology'
import { meshArea } from '@/core/mesh/measures'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { filledRows } from './filled-row'
import { drawingPlane, toPlane, type DrawingPlane } from '@/core/outline/drawing'
import type { Row } from '@/core/trace/rows'

export interface Prism {
  /** In the lower end. */
  readonly plane: DrawingPlane
  readonly height: number
  readonly rows: readonly Row[]
  /** How far corners of the ends lie off them at most, mm. */
  readonly flatness: number
}

/** Ends are flat to this, degrees. Facets across a bent wall lean by more, though their corners lie on it; that much of the skin may lean worse. */
const flatTo = 0.5
const mostLean = 20
const mayBeWorse = 1e-4
/** So many directions, those with the most skin square to them first, are tried. */
const mostTries = 6

/** Directions of facets with the area that faces along each, the largest first. */
export function directionsOf(mesh: TriMesh): Vec3[] {
  const bins = new Map<string, { sum: [number, number, number]; area: number }>()
  for (let t = 0; t < triangleCount(mesh); t++) {
    const c = crossOf(mesh, t)
    const l = Math.hypot(...c)
    if (!(l > 0)) continue
    const k = [0, 1, 2].find((i) => Math.abs(c[i]) > 1e-3 * l) ?? 0
    const s = c[k] < 0 ? -1 : 1
    const key = c.map((v) => Math.round((s * v * 400) / l)).join(' ')
    const bin = bins.get(key) ?? { sum: [0, 0, 0], area: 0 }
    for (let i = 0; i < 3; i++) bin.sum[i] += s * c[i]
    bin.area += l / 2
    bins.set(key, bin)
  }
  return [...bins.values()]
    .sort((a, b) => b.area - a.area)
    .slice(0, mostTries)
    .map((b) => normalize(b.sum))
}

/**
 * @param within mm: what ends may be off flat
 * @param close mm: corners nearer than this are one
 * @returns null where the mesh is no prism
 */
export function prismOf(mesh: TriMesh, topology: Topology, within: number, close: number): Prism | null {
  if (topology.openEdges) return null
  for (const way of directionsOf(mesh)) {
    const axis = Math.abs(way[2]) > 0.5 && way[2] < 0 ? scale(way, -1) : way
    const found = along(mesh, topology, axis, within, close)
    if (found) return found
  }
  return null
}

function along(mesh: TriMesh, { twin }: Topology, axis: Vec3, within: number, close: number): Prism | null {
  const n = triangleCount(mesh)
  const [flat, steep] = [Math.cos((flatTo * Math.PI) / 180), Math.sin((mostLean * Math.PI) / 180)]
  /** 1 the upper end, -1 the lower, 0 a wall. */
  const side = new Int8Array(n)
  const most = 2 * mayBeWorse * meshArea(mesh)
  let worse = 0
  let flatness = 0
  let [low, high] = [Infinity, -Infinity]
  for (const v of mesh.triangles) {
    const h = dot(vertex(mesh, v), axis)
    low = Math.min(low, h)
    high = Math.max(high, h)
  }
  for (let t = 0; t < n; t++) {
    const c = crossOf(mesh, t)
    const l = Math.hypot(...c)
    const up = l > 0 ? dot(c, axis) / l : 0
    if (up > flat) side[t] = 1
    else if (up < -flat) side[t] = -1
    else if (Math.abs(up) > steep) worse += l
    if (worse > most) return null
    if (!side[t]) continue
    const end = side[t] > 0 ? high : low
    for (let k = 0; k < 3; k++) {
      const off = Math.abs(dot(vertex(mesh, mesh.triangles[3 * t + k]), axis) - end)
      if (off > within) return null
      flatness = Math.max(flatness, off)
    }
  }
  if (!side.includes(1) || !side.includes(-1)) return null
  const plane = drawingPlane(scale(axis, low), axis)
  const border = (h: number) => side[triangleOf(h)] > 0 && side[triangleOf(twin[h])] <= 0
  const seen = new Uint8Array(3 * n)
  const rows: Row[] = []
  for (let h = 0; h < 3 * n; h++) {
    if (seen[h] || !border(h)) continue
    const places: [number, number][] = []
    for (let g = h; !seen[g];) {
      seen[g] = 1
      places.push(toPlane(plane, vertex(mesh, mesh.triangles[g])) as [number, number])
      let next = nextIn(g)
      while (!border(next)) next = nextIn(twin[next])
      g = next
    }
    rows.push({ places, closed: true })
  }
  // All corners of walls lie on the outline: those of the other end, and those between.
  const others = new Set<number>()
  for (let t = 0; t < n; t++) if (!side[t]) for (let k = 0; k < 3; k++) others.add(mesh.triangles[3 * t + k])
  const places = [...others].map((v) => toPlane(plane, vertex(mesh, v)))
  const filled = filledRows(rows, places, close)
  return filled && { plane, height: high - low, rows: filled, flatness }
}
