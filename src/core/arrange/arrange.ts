/**
 * The exact arrangement of a mesh with itself: every triangle is cut along the segments in which others meet it, so that what is left meets
 * at common corners and edges only (Zhou, Grinspun, Zorin & Jacobson 2016; Cherchi, Livesu, Scateni & Attene 2020).
 */
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { buildBoxTree, visitSelfPairs } from '@/core/mesh/box-tree'
import { triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { PointTable } from './exact-point'
import { facetOf, holds, meet, type Facet, type Segment } from './meeting'
import { apartTest } from '@/core/mesh/self-crossing'
import { subdivide } from './subdivide'

export interface Arrangement {
  /** Faces as corners, three by three; equal places have one number, and no face is there twice. */
  readonly faces: Uint32Array
  /** How often each face is there, counted with its direction: faces of two triangles the same way round count 2, back to back 0. */
  readonly times: Int32Array
  /** The input triangle each face is part of, the first of several. */
  readonly from: Uint32Array
  /** Other input triangles that hold a face, where triangles overlap in one plane. */
  readonly also: ReadonlyMap<number, readonly number[]>
  /** Coordinates of all numbers in double precision, mm. */
  readonly points: Float64Array
  /** Numbers below this are vertices of the input. */
  readonly vertices: number
  /** Input triangles that were cut. */
  readonly cut: number
  /** Pairs that meet in more than what they share. */
  readonly pairs: number
}

interface Cuts {
  readonly points: Set<number>
  readonly segments: Segment[]
  readonly flat: number[]
}

/** What all overlapping pairs of triangles cut into each other. */
function findCuts(mesh: TriMesh, table: PointTable, corners: Uint32Array, work: Work) {
  const p = mesh.positions
  const facets = new Map<number, Facet | null>()
  const facet = (t: number) => {
    let f = facets.get(t)
    if (f === undefined) facets.set(t, (f = facetOf(table, corners[3 * t], corners[3 * t + 1], corners[3 * t + 2])))
    return f
  }
  const cuts = new Map<number, Cuts>()
  const cutsOf = (t: number) => {
    let c = cuts.get(t)
    if (!c) cuts.set(t, (c = { points: new Set(), segments: [], flat: [] }))
    return c
  }
  let pairs = 0
  const same: TriMesh = { positions: p, triangles: corners }
  const apart = apartTest(same)
  visitSelfPairs(
    mesh,
    buildBoxTree(mesh),
    (s, t) => {
      if (apart(s, t)) return
      const a = facet(s),
        b = facet(t)
      if (!a || !b) return
      const m = meet(table, p, a, b)
      if (!m) return
      pairs++
      const c = cutsOf(s),
        d = cutsOf(t)
      for (const v of m.points) {
        // Within its own plane a point may lie beside a triangle that only the other holds.
        if (!m.flat || holds(table, a, v)) c.points.add(v)
        if (!m.flat || holds(table, b, v)) d.points.add(v)
      }
      c.segments.push(...m.first)
      d.segments.push(...m.second)
      if (m.flat) {
        c.flat.push(t)
        d.flat.push(s)
      }
    },
    (share) => {
      checkStop(work)
      work.progress(share, 'finding where triangles meet')
    },
  )
  return { cuts, facet, pairs }
}

/** Faces found again by their corners, whichever way round. */
class FaceTable {
  readonly faces: number[] = []
  readonly times: number[] = []
  readonly from: number[] = []
  readonly also = new Map<number, number[]>()
  private slots: Int32Array
  constructor(expected: number) {
    this.slots = new Int32Array(1 << Math.ceil(Math.log2(2 * expected + 16))).fill(-1)
  }

  private start(a: number, b: number, c: number): number {
    const sum =
      (Math.imul(a, 0x9e3779b1) ^ (a >>> 7)) +
      (Math.imul(b, 0x9e3779b1) ^ (b >>> 7)) +
      (Math.imul(c, 0x9e3779b1) ^ (c >>> 7))
    const h = Math.imul(sum, 0x85ebca6b)
    return (h ^ (h >>> 15)) & (this.slots.length - 1)
  }

  private grow(): void {
    const { faces } = this
    this.slots = new Int32Array(2 * this.slots.length).fill(-1)
    for (let f = 0; f < this.from.length; f++) {
      let at = this.start(faces[3 * f], faces[3 * f + 1], faces[3 * f + 2])
      while (this.slots[at] >= 0) at = (at + 1) & (this.slots.length - 1)
      this.slots[at] = f
    }
  }

  add(a: number, b: number, c: number, from: number): void {
    if (a === b || b === c || c === a) return
    if (2 * this.from.length > this.slots.length) this.grow()
    const { faces } = this
    let at = this.start(a, b, c)
    for (; this.slots[at] >= 0; at = (at + 1) & (this.slots.length - 1)) {
      const f = this.slots[at]
      const i = faces[3 * f] === a ? 0 : faces[3 * f + 1] === a ? 1 : faces[3 * f + 2] === a ? 2 : -1
      if (i < 0) continue
      const next = faces[3 * f + ((i + 1) % 3)],
        last = faces[3 * f + ((i + 2) % 3)]
      if (!((next === b && last === c) || (next === c && last === b))) continue
      this.times[f] += next === b ? 1 : -1
      const list = this.also.get(f)
      if (list) list.push(from)
      else this.also.set(f, [from])
      return
    }
    this.slots[at] = this.from.length
    faces.push(a, b, c)
    this.times.push(1)
    this.from.push(from)
  }
}

/**
 * Arranges a mesh with itself. Vertices at the same place count as one; triangles without area go, as what they join is joined by their
 * neighbours' cuts. Nothing is moved: made points are exact until they are read.
 * @throws CutError when a cut cannot be laid, which exact signs rule out
 */
export function arrange(mesh: TriMesh, work: Work = quiet): Arrangement {
  const used = new Uint8Array(vertexCount(mesh))
  for (const v of mesh.triangles) used[v] = 1
  const table = new PointTable(mesh.positions, used)
  const corners = new Uint32Array(mesh.triangles.length)
  for (let i = 0; i < corners.length; i++) corners[i] = table.standsFor(mesh.triangles[i])
  const { cuts, facet, pairs } = findCuts(mesh, table, corners, span(work, 0, 0.5))
  const n = triangleCount(mesh)
  const out = new FaceTable(n + 4 * cuts.size)
  const done = new Map<number, number[]>()
  let count = 0
  const part = span(work, 0.5, 1)
  for (let t = 0; t < n; t++) {
    const cut = cuts.get(t)
    if (!cut) {
      if (facet(t)) out.add(corners[3 * t], corners[3 * t + 1], corners[3 * t + 2], t)
      continue
    }
    if ((count++ & 63) === 0) {
      checkStop(work)
      part.progress(count / cuts.size, 'cutting triangles')
    }
    const f = facet(t)!
    const parts = subdivide(table, f, cut.points, cut.segments, (points) => {
      const edges: [number, number][] = []
      for (const other of cut.flat) {
        const parts = done.get(other)
        if (!parts) continue
        for (let h = 0; h < parts.length; h++) {
          const a = parts[h],
            b = parts[h % 3 === 2 ? h - 2 : h + 1]
          if (points.has(a) && points.has(b)) edges.push([a, b])
        }
      }
      return edges
    })
    if (cut.flat.length) done.set(t, parts)
    for (let i = 0; i < parts.length; i += 3) out.add(parts[i], parts[i + 1], parts[i + 2], t)
  }
  const total = table.size
  const points = new Float64Array(3 * total)
  for (let v = 0; v < total; v++) for (let a = 0; a < 3; a++) points[3 * v + a] = table.millimetres(v, a)
  return {
    faces: Uint32Array.from(out.faces),
    times: Int32Array.from(out.times),
    from: Uint32Array.from(out.from),
    also: out.also,
    points,
    vertices: vertexCount(mesh),
    cut: cuts.size,
    pairs,
  }
}
