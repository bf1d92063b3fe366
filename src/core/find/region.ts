/** A region is stored by how it was picked, in model space, and found anew on whatever the mesh has become. */
import { Vector3 } from 'three'
import { z } from 'zod'
import { meshBody, type SourceTags } from '@/core/bodies/body'
import { trianglesOnFace } from './exact-face'
import { growSurface } from './smooth-surface'
import { fixedTriple as triple } from './triple'
import { insideOutline } from '@/core/math/outline'
import { dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { findDegenerate, findDuplicates, findFolded } from '@/core/mesh/defects'
import { MeshSearch } from '@/core/mesh/closest'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology, findPieces, triangleOf, vertexTriangles, type Topology } from '@/core/mesh/topology'
import { corners, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea, triangleNormals } from '@/core/mesh/triangle'
import { StepError } from '@/core/base/step-error'

const how = { mode: z.enum(['add', 'take']).default('add') }

export const pickSchema = z.discriminatedUnion('pick', [
  z
    .object({
      pick: z.literal('grow'),
      ...how,
      at: triple,
      /** As far as one surface goes, or across all edges that bend less than the angle, as when left out. */
      follow: z.enum(['surface', 'angle']).optional(),
      angle: z.number().min(0).max(180),
    })
    .strict(),
  z
    .object({ pick: z.literal('brush'), ...how, path: z.array(triple).min(1).max(5000), radius: z.number().positive() })
    .strict(),
  z
    .object({
      pick: z.literal('loop'),
      ...how,
      /** Where the view looks from (eye, or a direction for parallel views), and the loop's corners on a plane in front, as model-space rays. */
      eye: triple.optional(),
      toward: triple,
      loop: z.array(triple).min(3).max(5000),
      through: z.boolean().default(false),
    })
    .strict(),
  z.object({ pick: z.literal('piece'), ...how, at: triple }).strict(),
  /** The whole face that the mesh knows there, recognised or come from an exact body; elsewhere as far as one surface goes. */
  z.object({ pick: z.literal('face'), ...how, at: triple }).strict(),
  /** All triangles of a kind of fault, found anew. */
  z
    .object({ pick: z.literal('fault'), ...how, fault: z.enum(['fold', 'crossing', 'degenerate', 'duplicate', 'rim']) })
    .strict(),
  /** All pieces with less than this share of the largest one's area. */
  z.object({ pick: z.literal('small-pieces'), ...how, below: z.number().min(0).max(1) }).strict(),
  /** Every triangle. */
  z.object({ pick: z.literal('all') }).strict(),
  z.object({ pick: z.literal('invert') }).strict(),
  z.object({ pick: z.literal('grow-ring') }).strict(),
  z.object({ pick: z.literal('shrink-ring') }).strict(),
])
export const regionSchema = z.array(pickSchema).max(2000)
export type Pick = z.output<typeof pickSchema>
export type Region = z.output<typeof regionSchema>

/** A mesh made ready for picking; the search is shared by all picks. */
export interface PickField {
  readonly mesh: TriMesh
  readonly topology: Topology
  readonly normals: Float32Array
  readonly search: MeshSearch
  /** What the mesh knows of the faces its triangles are of. */
  readonly tags?: SourceTags
}

/** Makes a mesh ready for picking; about a second for a million triangles. */
export function pickField(mesh: TriMesh, search = new MeshSearch(mesh), tags?: SourceTags): PickField {
  return { mesh, topology: buildTopology(mesh), normals: triangleNormals(mesh), search, tags }
}

/** Smooth area round a triangle: across edges that bend less than `angle` degrees. */
export function growPick(f: PickField, seed: number, angle: number): Uint8Array {
  const limit = Math.cos((angle * Math.PI) / 180)
  const flags = new Uint8Array(triangleCount(f.mesh))
  const stack = [seed]
  flags[seed] = 1
  while (stack.length) {
    const t = stack.pop()!
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const w = f.topology.twin[h]
      if (w < 0) continue
      const u = triangleOf(w)
      if (flags[u]) continue
      const bend =
        f.normals[3 * t] * f.normals[3 * u] +
        f.normals[3 * t + 1] * f.normals[3 * u + 1] +
        f.normals[3 * t + 2] * f.normals[3 * u + 2]
      if (bend >= limit) {
        flags[u] = 1
        stack.push(u)
      }
    }
  }
  return flags
}

function brushPick(f: PickField, path: readonly Vec3[], radius: number): Uint8Array {
  const flags = new Uint8Array(triangleCount(f.mesh))
  const r2 = radius * radius
  const [at, foot] = [new Vector3(), new Vector3()]
  for (const p of path) {
    at.set(...p)
    f.search.bvh.shapecast({
      intersectsBounds: (box) => box.distanceToPoint({ x: p[0], y: p[1], z: p[2] } as never) <= radius,
      intersectsTriangle: (tri, index) => {
        const c = [tri.a, tri.b, tri.c]
        const mid = {
          x: (c[0].x + c[1].x + c[2].x) / 3,
          y: (c[0].y + c[1].y + c[2].y) / 3,
          z: (c[0].z + c[1].z + c[2].z) / 3,
        }
        const near = [mid, ...c].some((q) => (q.x - p[0]) ** 2 + (q.y - p[1]) ** 2 + (q.z - p[2]) ** 2 <= r2)
        // Of a facet larger than the brush neither middle nor corner need lie under it.
        const large = () => Math.max(...c.map((q, i) => q.distanceTo(c[(i + 1) % 3]))) > radius
        if (near || (large() && tri.closestPointToPoint(at, foot).distanceTo(at) <= radius)) flags[index] = 1
        return false
      },
    })
  }
  return flags
}

/** Triangles whose middle is seen inside the loop; only the front ones unless `through`. */
function loopPick(
  f: PickField,
  eye: Vec3 | undefined,
  toward: Vec3,
  loop: readonly Vec3[],
  through: boolean,
): Uint8Array {
  const n = triangleCount(f.mesh)
  const flags = new Uint8Array(n)
  const axis = normalize(toward)
  const pick = Math.abs(axis[0]) < 0.6 ? ([1, 0, 0] as const) : ([0, 1, 0] as const)
  const x = normalize([
    axis[1] * pick[2] - axis[2] * pick[1],
    axis[2] * pick[0] - axis[0] * pick[2],
    axis[0] * pick[1] - axis[1] * pick[0],
  ])
  const y: Vec3 = [axis[1] * x[2] - axis[2] * x[1], axis[2] * x[0] - axis[0] * x[2], axis[0] * x[1] - axis[1] * x[0]]
  const project = (p: Vec3): [number, number] | null => {
    if (!eye) return [dot(p, x), dot(p, y)]
    const d = sub(p, eye)
    const z = dot(d, axis)
    return z > 0 ? [dot(d, x) / z, dot(d, y) / z] : null
  }
  const flat = loop.map(project).filter((p): p is [number, number] => p !== null)
  if (flat.length < 3) return flags
  const lo = [Math.min(...flat.map((p) => p[0])), Math.min(...flat.map((p) => p[1]))],
    hi = [Math.max(...flat.map((p) => p[0])), Math.max(...flat.map((p) => p[1]))]
  for (let t = 0; t < n; t++) {
    const [a, b, c] = corners(f.mesh, t)
    const m: Vec3 = [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3]
    const q = project(m)
    if (!q || q[0] < lo[0] || q[0] > hi[0] || q[1] < lo[1] || q[1] > hi[1]) continue
    if (!insideOutline(flat, q)) continue
    if (!through) {
      const back: Vec3 = eye ? normalize(sub(eye, m)) : [-axis[0], -axis[1], -axis[2]]
      if (f.normals[3 * t] * back[0] + f.normals[3 * t + 1] * back[1] + f.normals[3 * t + 2] * back[2] <= 0) continue
      const reach = 1e-4 * Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]) + 1e-5
      const from: Vec3 = [m[0] + back[0] * reach, m[1] + back[1] * reach, m[2] + back[2] * reach]
      const hit = f.search.first(from, back)
      if (hit && hit.triangle !== t && hit.distance > reach) continue
    }
    flags[t] = 1
  }
  return flags
}

function faultPick(f: PickField, fault: 'fold' | 'crossing' | 'degenerate' | 'duplicate' | 'rim'): Uint8Array {
  const out = new Uint8Array(triangleCount(f.mesh))
  if (fault === 'rim') {
    for (let h = 0; h < f.topology.twin.length; h++) if (f.topology.twin[h] < 0) out[triangleOf(h)] = 1
    return out
  }
  const list =
    fault === 'fold'
      ? findFolded(f.mesh, f.topology)
      : fault === 'crossing'
        ? findSelfCrossings(f.mesh)
        : fault === 'degenerate'
          ? findDegenerate(f.mesh)
          : findDuplicates(f.mesh)
  for (const t of list) out[t] = 1
  return out
}

function smallPiecesPick(f: PickField, below: number): Uint8Array {
  const { piece, count } = findPieces(f.mesh, f.topology)
  const area = new Float64Array(count)
  for (let t = 0; t < piece.length; t++) area[piece[t]] += triangleArea(f.mesh, t)
  const limit = below * area.reduce((m, a) => Math.max(m, a), 0)
  return Uint8Array.from(piece, (i) => (area[i] < limit ? 1 : 0))
}

/** Widens (or with `shrink` narrows) by one ring of triangles that share a corner. */
function ring(mesh: TriMesh, flags: Uint8Array, shrink: boolean): Uint8Array {
  const around = vertexTriangles(mesh)
  const out = flags.slice()
  const seek = shrink ? 0 : 1
  for (let t = 0; t < flags.length; t++) {
    if (!!flags[t] !== !!seek) continue
    for (let c = 0; c < 3; c++) {
      const v = mesh.triangles[3 * t + c]
      for (let i = around.start[v]; i < around.start[v + 1]; i++) out[around.list[i]] = seek
    }
  }
  return out
}

/** Applies one pick to the triangles picked so far. */
export function applyPick(f: PickField, flags: Uint8Array, pick: Pick): Uint8Array {
  if (pick.pick === 'all') return new Uint8Array(flags.length).fill(1)
  if (pick.pick === 'invert') return flags.map((v) => (v ? 0 : 1))
  if (pick.pick === 'grow-ring') return ring(f.mesh, flags, false)
  if (pick.pick === 'shrink-ring') return ring(f.mesh, flags, true)
  let found: Uint8Array
  if (pick.pick === 'fault') found = faultPick(f, pick.fault)
  else if (pick.pick === 'small-pieces') found = smallPiecesPick(f, pick.below)
  else if (pick.pick === 'brush') found = brushPick(f, pick.path, pick.radius)
  else if (pick.pick === 'loop') found = loopPick(f, pick.eye, pick.toward, pick.loop, pick.through)
  else {
    const near = f.search.nearest(pick.at)
    if (!near) return flags
    if (pick.pick === 'face') {
      const face = trianglesOnFace(meshBody(f.mesh, f.tags), near.triangle)
      found = new Uint8Array(flags.length)
      if (face.length) for (const t of face) found[t] = 1
      else found = growSurface(f, near.triangle)
    } else if (pick.pick === 'grow')
      found = pick.follow === 'surface' ? growSurface(f, near.triangle) : growPick(f, near.triangle, pick.angle)
    else {
      const { piece } = findPieces(f.mesh, f.topology)
      found = Uint8Array.from(piece, (p) => (p === piece[near.triangle] ? 1 : 0))
    }
  }
  const out = flags.slice()
  const value = pick.mode === 'add' ? 1 : 0
  for (let t = 0; t < out.length; t++) if (found[t]) out[t] = value
  return out
}

/** The triangles of a region on this mesh, as flags; `tags`: what it knows of faces. Throws StepError `empty-region` when nothing is left of it. */
export function resolveRegion(mesh: TriMesh, region: Region, tags?: SourceTags): Uint8Array {
  if (!region.length)
    throw new StepError('no-region', 'Nothing is picked.', { tryThis: 'Pick an area on the body first.' })
  const f = pickField(mesh, undefined, tags)
  let flags: Uint8Array = new Uint8Array(triangleCount(mesh))
  for (const pick of region) flags = applyPick(f, flags, pick)
  if (!flags.includes(1))
    throw new StepError('empty-region', 'The picked area is not there any more.', {
      tryThis: 'Pick it again on the body as it is now.',
    })
  return flags
}
