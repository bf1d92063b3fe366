/**
 * Bodies that touch, made to overlap by a hair: in single precision faces that should fall together stray by a digit, and a union then
 * finds gaps between them or crossings where there is one face.
 */
import { stepAt } from '@/core/gauge/single-precision'
import { buildBoxTree, visitNear } from '@/core/mesh/box-tree'
import { coplanarOverlap } from '@/core/mesh/self-crossing'
import { crossInto } from '@/core/mesh/triangle'
import { diagonal, meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'

/** Detail below this share of the diagonal is merged in a union's result. */
const mergedShare = 5e-7
/** Faces look at each other when their normals are opposite by this cosine. */
const opposite = -0.999

interface Room {
  /** Corners this near to another body touch it, mm. */
  readonly near: number
  /** What they are moved by, mm. */
  readonly by: number
}

type Box = ReturnType<typeof meshBounds>

function roomOf(boxes: readonly Box[]): Room {
  const far = Math.max(...boxes.flatMap(({ min, max }) => [...min, ...max].map(Math.abs)))
  const grain = Math.max(2 * stepAt(far), mergedShare * Math.max(...boxes.map(diagonal)))
  return { near: 2 * grain, by: 4 * grain }
}

type Way = readonly [number, number, number]

/** Where two meshes touch face to face: corners of each that lie on the other, and of the first where faces only cross, with their ways in. */
interface Contacts {
  readonly there: Map<number, Way>
  readonly back: Map<number, Way>
  readonly crossed: Map<number, Way>
}

/** A triangle by its corners and its unit normal; one is filled again and again. */
class Face {
  readonly at = new Float64Array(9)
  readonly normal = new Float64Array(3)
  /** @returns whether it has an area */
  take({ positions: p, triangles: k }: TriMesh, t: number): boolean {
    for (let c = 0; c < 3; c++) for (let d = 0; d < 3; d++) this.at[3 * c + d] = p[3 * k[3 * t + c] + d]
    const l = crossInto(p, k, t, this.normal)
    if (!l) return false
    for (let d = 0; d < 3; d++) this.normal[d] /= l
    return true
  }
  /** Height of a corner of another face over this one's plane, mm. */
  over({ at }: Face, c: number): number {
    let h = 0
    for (let d = 0; d < 3; d++) h += this.normal[d] * (at[3 * c + d] - this.at[d])
    return h
  }
  /** Whether a corner of another face lies on this one. Asked a little inward of that face: at a corner of both it could be beside it. */
  holds({ at: q }: Face, c: number, near: number): boolean {
    const { at: p, normal: n } = this
    const [x, y, z] = [0, 1, 2].map((d) => q[3 * c + d] + inward * ((q[d] + q[3 + d] + q[6 + d]) / 3 - q[3 * c + d]))
    if (Math.abs(n[0] * (x - p[0]) + n[1] * (y - p[1]) + n[2] * (z - p[2])) > near) return false
    for (let i = 0; i < 3; i++) {
      const [a, b] = [3 * i, 3 * ((i + 1) % 3)]
      const [ex, ey, ez] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
      const [fx, fy, fz] = [x - p[a], y - p[a + 1], z - p[a + 2]]
      const side = n[0] * (ey * fz - ez * fy) + n[1] * (ez * fx - ex * fz) + n[2] * (ex * fy - ey * fx)
      if (side < -near * Math.hypot(ex, ey, ez)) return false
    }
    return true
  }
  into(): Way {
    return [-this.normal[0], -this.normal[1], -this.normal[2]]
  }
}

/** How far inward of a face its corner is asked about, as a share of the way to its middle. */
const inward = 1e-3

function contactsOf(mesh: TriMesh, other: TriMesh, box: Box, near: number): Contacts {
  const out: Contacts = { there: new Map(), back: new Map(), crossed: new Map() }
  const [k, l] = [mesh.triangles, other.triangles]
  const tree = buildBoxTree(other)
  const [own, its] = [new Face(), new Face()]
  const look = (t: number, s: number) => {
    if (!its.take(other, s)) return
    const [n, m] = [own.normal, its.normal]
    if (n[0] * m[0] + n[1] * m[1] + n[2] * m[2] > opposite) return
    let touch = false
    for (let c = 0; c < 3; c++) {
      if (its.holds(own, c, near)) {
        touch = true
        out.there.set(k[3 * t + c], its.into())
      }
      if (own.holds(its, c, near)) {
        touch = true
        out.back.set(l[3 * s + c], own.into())
      }
    }
    if (touch || out.there.size || out.back.size) return
    for (let c = 0; c < 3; c++) if (Math.abs(own.over(its, c)) > near) return
    if (!coplanarOverlap([...own.at, ...its.at], [0, 3, 6], [9, 12, 15], [n[0], n[1], n[2]])) return
    for (let c = 0; c < 3; c++) out.crossed.set(k[3 * t + c], [n[0], n[1], n[2]])
  }
  for (let t = 0; t < k.length / 3; t++) {
    if (!own.take(mesh, t)) continue
    // Most of a mesh lies outside of the other's box.
    let beside = false
    for (let d = 0; d < 3 && !beside; d++) {
      const { at } = own
      beside =
        Math.min(at[d], at[3 + d], at[6 + d]) > box.max[d] + near ||
        Math.max(at[d], at[3 + d], at[6 + d]) < box.min[d] - near
    }
    if (!beside) visitNear(tree, mesh, t, near, (s) => look(t, s))
  }
  return out
}

/**
 * The same bodies, in which those that touch face to face reach into each other by a few millionths of their size: corners of one that lie
 * on a face of the other are sunk into it; where faces only cross, those of the earlier body come forward.
 */
export function overlapping(meshes: readonly TriMesh[]): TriMesh[] {
  const boxes = meshes.map(meshBounds)
  const { near, by } = roomOf(boxes)
  const moved = meshes.map((): Float32Array | null => null)
  const sink = (i: number, corners: ReadonlyMap<number, readonly number[]>) => {
    const p = (moved[i] ??= meshes[i].positions.slice())
    for (const [v, way] of corners)
      for (let d = 0; d < 3; d++) p[3 * v + d] = meshes[i].positions[3 * v + d] + by * way[d]
  }
  const apart = (i: number, j: number) =>
    [0, 1, 2].some((d) => boxes[i].min[d] > boxes[j].max[d] + near || boxes[j].min[d] > boxes[i].max[d] + near)
  for (let i = 0; i < meshes.length; i++)
    for (let j = i + 1; j < meshes.length; j++) {
      if (apart(i, j)) continue
      const { there, back, crossed } = contactsOf(meshes[i], meshes[j], boxes[j], near)
      if (there.size) sink(i, there)
      if (back.size) sink(j, back)
      if (!there.size && !back.size && crossed.size) sink(i, crossed)
    }
  return meshes.map((m, i) => (moved[i] ? { positions: moved[i], triangles: m.triangles } : m))
}
