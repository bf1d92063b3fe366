/**
 * Bodies that touch, made to overlap by a hair: in single precision faces that should fall together stray by a digit, and a union then
 * finds gaps between them or crossings where there is one face.
 */
import { stepAt } from '@/core/gauge/single-precision'
import { dot, sub, type Vec3 } from '@/core/math/vec'
import { buildBoxTree, visitNear } from '@/core/mesh/box-tree'
import { coplanarOverlap } from '@/core/mesh/self-crossing'
import { NearestInGrid } from '@/core/mesh/nearest'
import { crossInto } from '@/core/mesh/triangle'
import { diagonal, meshBounds, placeAt, type TriMesh } from '@/core/mesh/tri-mesh'

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

function roomOf(meshes: readonly TriMesh[]): Room {
  const far = Math.max(...meshes.map((m) => m.positions.reduce((most, v) => Math.max(most, Math.abs(v)), 0)))
  const grain = Math.max(2 * stepAt(far), mergedShare * Math.max(...meshes.map((m) => diagonal(meshBounds(m)))))
  return { near: 2 * grain, by: 4 * grain }
}

/** Corners of a mesh that touch another one face to face, with the way into it: against the other's normal. */
function touching(mesh: TriMesh, other: TriMesh, near: number): Map<number, [number, number, number]> {
  const out = new Map<number, [number, number, number]>()
  const { min, max } = meshBounds(other)
  const { positions: p, triangles: k } = mesh
  const close = new Uint8Array(p.length / 3)
  let any = false
  for (let v = 0; v < close.length; v++) {
    const inside = [0, 1, 2].every((d) => p[3 * v + d] >= min[d] - near && p[3 * v + d] <= max[d] + near)
    close[v] = inside ? 1 : 0
    any ||= inside
  }
  if (!any) return out
  const search = new NearestInGrid(other)
  const [own, its] = [new Float64Array(3), new Float64Array(3)]
  for (let t = 0; t < k.length / 3; t++) {
    const l = crossInto(p, k, t, own)
    if (!l) continue
    for (let c = 0; c < 3; c++) {
      const v = k[3 * t + c]
      if (!close[v] || out.has(v)) continue
      // A place a little inward of the triangle from its corner: at a corner of both the nearest face could be another.
      const at = [0, 1, 2].map((d) => {
        const middle = (p[3 * k[3 * t] + d] + p[3 * k[3 * t + 1] + d] + p[3 * k[3 * t + 2] + d]) / 3
        return p[3 * v + d] + 1e-3 * (middle - p[3 * v + d])
      })
      const square = search.square(at[0], at[1], at[2], near)
      if (search.triangle < 0 || square > near * near) continue
      const m = crossInto(other.positions, other.triangles, search.triangle, its)
      if (!m) continue
      if ((own[0] * its[0] + own[1] * its[1] + own[2] * its[2]) / (l * m) > opposite) continue
      out.set(v, [-its[0] / m, -its[1] / m, -its[2] / m])
    }
  }
  return out
}

/** Corners of a mesh's triangles that lie on triangles of another, face to face, without a corner of either within the other's face. */
function facing(mesh: TriMesh, other: TriMesh, near: number): Map<number, [number, number, number]> {
  const out = new Map<number, [number, number, number]>()
  const [n, m] = [new Float64Array(3), new Float64Array(3)]
  const [p, k, q, l] = [mesh.positions, mesh.triangles, other.positions, other.triangles]
  const tree = buildBoxTree(other)
  const look = (t: number, s: number) => {
    const [size, its] = [crossInto(p, k, t, n), crossInto(q, l, s, m)]
    if (!size || !its || (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) / (size * its) > opposite) return
    const unit: Vec3 = [n[0] / size, n[1] / size, n[2] / size]
    const [own, theirs] = [0, 1].map((which) =>
      [0, 1, 2].map((c): Vec3 => (which ? placeAt(q, l[3 * s + c]) : placeAt(p, k[3 * t + c]))),
    )
    if (theirs.some((x) => Math.abs(dot(sub(x, own[0]), unit)) > near)) return
    if (!coplanarOverlap([...own, ...theirs].flat(), [0, 3, 6], [9, 12, 15], unit)) return
    for (let c = 0; c < 3; c++) out.set(k[3 * t + c], [unit[0], unit[1], unit[2]])
  }
  for (let t = 0; t < k.length / 3; t++) visitNear(tree, mesh, t, near, (s) => look(t, s))
  return out
}

/**
 * The same bodies, in which those that touch face to face reach into each other by a few millionths of their size: corners of one that lie
 * on a face of the other are sunk into it; where faces only cross, those of the earlier body come forward.
 */
export function overlapping(meshes: readonly TriMesh[]): TriMesh[] {
  const { near, by } = roomOf(meshes)
  const moved = meshes.map((): Float32Array | null => null)
  const sink = (i: number, corners: ReadonlyMap<number, readonly number[]>) => {
    const p = (moved[i] ??= meshes[i].positions.slice())
    for (const [v, way] of corners)
      for (let d = 0; d < 3; d++) p[3 * v + d] = meshes[i].positions[3 * v + d] + by * way[d]
  }
  const boxes = meshes.map(meshBounds)
  const apart = (i: number, j: number) =>
    [0, 1, 2].some((d) => boxes[i].min[d] > boxes[j].max[d] + near || boxes[j].min[d] > boxes[i].max[d] + near)
  for (let i = 0; i < meshes.length; i++)
    for (let j = i + 1; j < meshes.length; j++) {
      if (apart(i, j)) continue
      const [there, back] = [touching(meshes[i], meshes[j], near), touching(meshes[j], meshes[i], near)]
      if (there.size) sink(i, there)
      if (back.size) sink(j, back)
      if (there.size || back.size) continue
      const crossed = facing(meshes[i], meshes[j], near)
      if (crossed.size) sink(i, crossed)
    }
  return meshes.map((m, i) => (moved[i] ? { positions: moved[i], triangles: m.triangles } : m))
}
