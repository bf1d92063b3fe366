/** Runs beside the screen: loads bodies, makes them ready to draw, and answers hover and picks on the same core as the server. */
import { expose, transfer } from 'comlink'
import { decodeBody } from '@/core/bodies/container'
import { isMesh, type Body } from '@/core/bodies/body'
import { boreAt, boreField, findBores, type Bore, type BoreField } from '@/core/find/bore'
import { alongAxis } from '@/core/find/cylinder-fit'
import { addScaled, cross, dot, frame, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { findPieces, buildTopology } from '@/core/mesh/topology'
import { triangleNormals, type TriMesh } from '@/core/mesh/tri-mesh'
import { applyPick, pickField, type PickField, type Region } from '@/core/find/region'
import { referenceOf, signedDistance, type Reference } from '@/core/prove/deviation'
import { Slicer } from '@/core/section/slice'
import { shadeMesh, type Shaded } from './shade'

interface Held {
  slicer?: Slicer
  reference?: Reference
  body: Body
  mesh: TriMesh
  search?: MeshSearch
  field?: PickField
  bores?: BoreField
  boreList?: Bore[]
  region?: { picks: string[]; flags: Uint8Array[] }
}
const held = new Map<string, Promise<Held>>()

function hold(hash: string): Promise<Held> {
  let h = held.get(hash)
  if (!h) {
    h = fetch(`/api/blobs/${hash}`).then(async (r) => {
      if (!r.ok) throw new Error(`body ${hash.slice(0, 8)} could not be loaded (${r.status})`)
      const body = decodeBody(new Uint8Array(await r.arrayBuffer()))
      return {
        body,
        mesh: isMesh(body) ? body.mesh : { positions: body.display.positions, triangles: body.display.triangles },
      }
    })
    held.set(hash, h)
    h.catch(() => held.delete(hash))
  }
  return h
}

const searchOf = (h: Held) => (h.search ??= new MeshSearch(h.mesh))
const fieldOf = (h: Held) => (h.field ??= pickField(h.mesh, searchOf(h)))
const boresOf = (h: Held) => (h.bores ??= boreField(h.mesh))

function trianglesAsPoints(mesh: TriMesh, list: ArrayLike<number>): Float32Array {
  const out = new Float32Array(9 * list.length)
  for (let i = 0; i < list.length; i++)
    for (let c = 0; c < 3; c++) {
      const v = 3 * mesh.triangles[3 * list[i] + c]
      out.set(mesh.positions.subarray(v, v + 3), 9 * i + 3 * c)
    }
  return out
}

/** Something exact near a hit that a click means: a corner, the middle of an edge, or the middle of a bore. */
export interface Snap {
  kind: 'corner' | 'edge' | 'centre'
  point: Vec3
}
export interface Hit {
  snap?: Snap
  name: string
  hash: string
  point: Vec3
  normal: Vec3
  triangle: number
  distance: number
}
export interface BoreHit {
  name: string
  hash: string
  centre: Vec3
  axis: Vec3
  diameter: number
  depth: number
  through: boolean
  at: Vec3
  rms: number
  points: Float32Array
}

const api = {
  /** What is needed to draw a body; the arrays travel, nothing is copied. */
  async display(hash: string): Promise<Shaded> {
    const shaded = shadeMesh((await hold(hash)).body)
    return transfer(shaded, [shaded.positions.buffer, shaded.normals.buffer, shaded.index.buffer, shaded.lines.buffer])
  },

  /** Colour number of the piece of each corner, for "own colours". */
  async pieces(hash: string): Promise<Uint32Array> {
    const { mesh } = await hold(hash)
    return findPieces(mesh, buildTopology(mesh)).piece
  },

  /** Triangles of a body that did not come from its first source: what a ghost adds. */
  async added(hash: string): Promise<Float32Array> {
    const { body, mesh } = await hold(hash)
    if (!isMesh(body) || !body.tags) return new Float32Array(0)
    const list: number[] = []
    body.tags.source.forEach((s, t) => {
      if (s > 0) list.push(t)
    })
    const points = trianglesAsPoints(mesh, list)
    return transfer(points, [points.buffer])
  },

  /** Corners of some triangles of a body, to lay over it. */
  async triangles(hash: string, list: number[]): Promise<Float32Array> {
    const points = trianglesAsPoints((await hold(hash)).mesh, list)
    return transfer(points, [points.buffer])
  },

  /** Nearest body under a ray. */
  async pick(bodies: { name: string; hash: string }[], origin: Vec3, direction: Vec3): Promise<Hit | null> {
    let best: Hit | null = null
    for (const { name, hash } of bodies) {
      const h = await hold(hash)
      const hit = searchOf(h).first(origin, direction)
      if (!hit || (best && best.distance <= hit.distance)) continue
      const n = (
        h.field?.normals ??
        triangleNormals({
          positions: h.mesh.positions,
          triangles: h.mesh.triangles.slice(3 * hit.triangle, 3 * hit.triangle + 3),
        })
      ).subarray(h.field ? 3 * hit.triangle : 0)
      best = {
        name,
        hash,
        point: hit.point,
        normal: [n[0], n[1], n[2]],
        triangle: hit.triangle,
        distance: hit.distance,
      }
    }
    return best
  },

  /** A hit with what it snaps to within `reach` mm: fitted centres of bores first, then corners, then edges. */
  async touch(
    bodies: { name: string; hash: string }[],
    origin: Vec3,
    direction: Vec3,
    reach: number,
  ): Promise<Hit | null> {
    let hit = await api.pick(bodies, origin, direction)
    // Just beside an outline a corner or edge is still meant: rays round about find the body, and only a snap counts.
    const beside = !hit
    const [x, y] = frame(normalize(direction))
    for (let i = 0; i < 8 && !hit; i++) {
      const a = (Math.PI / 4) * i
      hit = await api.pick(
        bodies,
        addScaled(addScaled(origin, x, reach * Math.cos(a)), y, reach * Math.sin(a)),
        direction,
      )
    }
    if (!hit) return null
    const h = await hold(hit.hash)
    const { positions: p, triangles: k } = h.mesh
    const corner = (c: number): Vec3 => {
      const v = 3 * k[3 * hit.triangle + c]
      return [p[v], p[v + 1], p[v + 2]]
    }
    const tri = [corner(0), corner(1), corner(2)]
    const { point } = hit
    const away = beside
      ? (q: Vec3) => length(cross(sub(q, origin), normalize(direction)))
      : (q: Vec3) => length(sub(q, point))
    if (!beside && h.mesh.triangles.length < 1_500_000) {
      h.boreList ??= findBores(boresOf(h))
      for (const b of h.boreList)
        for (const end of [-0.5, 0.5]) {
          // The rim of a bore stands for its middle.
          const mouth: Vec3 = [0, 1, 2].map((i) => b.centre[i] + end * b.depth * b.axis[i]) as unknown as Vec3
          const d = sub(point, mouth)
          const along = dot(d, b.axis)
          if (
            Math.abs(along) < reach &&
            Math.abs(Math.sqrt(Math.max(0, dot(d, d) - along * along)) - b.diameter / 2) < reach
          )
            return { ...hit, snap: { kind: 'centre', point: mouth } }
        }
    }
    const near = tri.reduce((a, b) => (away(b) < away(a) ? b : a))
    if (away(near) < reach) return { ...hit, snap: { kind: 'corner', point: near } }
    for (let c = 0; c < 3; c++) {
      const a = tri[c],
        b = tri[(c + 1) % 3]
      const e = sub(b, a)
      const t = Math.max(0, Math.min(1, dot(sub(point, a), e) / (dot(e, e) || 1)))
      const q: Vec3 = [a[0] + t * e[0], a[1] + t * e[1], a[2] + t * e[2]]
      if (away(q) < (beside ? reach : reach / 2)) return { ...hit, snap: { kind: 'edge', point: q } }
    }
    return beside ? null : hit
  },

  /** The filled section face of a body; about 20 ms for a million triangles. */
  async section(
    hash: string,
    normal: Vec3,
    offset: number,
  ): Promise<{ face: Float32Array; lines: Float32Array; area: number }> {
    const h = await hold(hash)
    const s = (h.slicer ??= new Slicer(h.mesh)).slice(normal, offset)
    let n = 0
    for (const l of s.loops) n += l.points.length + (l.closed ? 3 : 0)
    const lines = new Float32Array(2 * n)
    let o = 0
    for (const l of s.loops)
      for (let i = 0; i < l.points.length; i += 3) {
        const j = i + 3 < l.points.length ? i + 3 : l.closed ? 0 : i
        for (let c = 0; c < 3; c++) {
          lines[o + c] = l.points[i + c]
          lines[o + 3 + c] = l.points[j + c]
        }
        o += 6
      }
    const face = s.face.slice()
    return transfer({ face, lines, area: s.area }, [face.buffer, lines.buffer])
  },

  /** Signed distance of drawn corners from another body, mm. */
  async deviationAt(points: Float32Array, against: string): Promise<Float32Array> {
    const h = await hold(against)
    h.reference ??= referenceOf(h.mesh)
    const out = new Float32Array(points.length / 3)
    for (let v = 0; v < out.length; v++)
      out[v] = signedDistance(h.reference, points[3 * v], points[3 * v + 1], points[3 * v + 2])
    return transfer(out, [out.buffer])
  },

  /** Evaluates a region; picks made before are not done again. */
  async region(hash: string, region: Region): Promise<{ count: number; points: Float32Array }> {
    const h = await hold(hash)
    const f = fieldOf(h)
    const keys = region.map((p) => JSON.stringify(p))
    const old = h.region ?? { picks: [], flags: [] }
    let same = 0
    while (same < keys.length && old.picks[same] === keys[same]) same++
    const flags = old.flags.slice(0, same)
    for (let i = same; i < region.length; i++)
      flags.push(applyPick(f, flags[i - 1] ?? new Uint8Array(h.mesh.triangles.length / 3), region[i]))
    h.region = { picks: keys, flags }
    const list: number[] = []
    flags.at(-1)?.forEach((v, t) => {
      if (v) list.push(t)
    })
    const points = trianglesAsPoints(h.mesh, list)
    return transfer({ count: list.length, points }, [points.buffer])
  },

  /** The bore a ray points at: the wall it hits, or the nearest mouth it passes through or close by. */
  async bore(bodies: { name: string; hash: string }[], origin: Vec3, direction: Vec3): Promise<BoreHit | null> {
    const hit = await api.pick(bodies, origin, direction)
    const give = (name: string, hash: string, h: Held, b: Bore, at: Vec3): BoreHit => ({
      name,
      hash,
      centre: b.centre,
      axis: b.axis,
      diameter: b.diameter,
      depth: b.depth,
      through: b.through,
      rms: b.rms,
      at,
      points: trianglesAsPoints(h.mesh, b.triangles),
    })
    let best: { d: number; make: () => BoreHit } | null = null
    for (const { name, hash } of bodies) {
      const h = await hold(hash)
      if (!isMesh(h.body)) continue
      h.boreList ??= findBores(boresOf(h))
      for (const b of h.boreList) {
        if (hit?.hash === hash && b.triangles.includes(hit.triangle)) return give(name, hash, h, b, hit.point)
        for (const end of [-0.5, 0.5]) {
          const mouth: Vec3 = [0, 1, 2].map((k) => b.centre[k] + end * b.depth * b.axis[k]) as unknown as Vec3
          const slope = dot(direction, b.axis)
          if (Math.abs(slope) < 0.05) continue
          const t = dot(sub(mouth, origin), b.axis) / slope
          if (t <= 0 || (hit && t > hit.distance + b.depth + b.diameter)) continue
          const p: Vec3 = [origin[0] + t * direction[0], origin[1] + t * direction[1], origin[2] + t * direction[2]]
          const off = Math.hypot(...sub(p, mouth)) - b.diameter / 2
          if (off > 0.6 * b.diameter) continue
          const d = Math.max(0, off) + 1e-3 * t
          // A wall point to store: on the bore's surface, half-way down.
          const side = sub(p, alongAxis(p, b.centre, b.axis).foot)
          const l = Math.hypot(...side) || 1
          const at: Vec3 = [0, 1, 2].map((k) => b.centre[k] + (side[k] / l) * (b.diameter / 2)) as unknown as Vec3
          if (!best || d < best.d) best = { d, make: () => give(name, hash, h, b, at) }
        }
      }
    }
    if (best) return best.make()
    if (!hit) return null
    const h = await hold(hit.hash)
    if (!isMesh(h.body)) return null
    const f = boresOf(h)
    const b = boreAt(f, hit.point, hit.triangle, 0.01 * f.scale)
    return b ? give(hit.name, hit.hash, h, b, hit.point) : null
  },

  /** Lets go of bodies that are not on the bench any more. */
  keepOnly(hashes: string[]): void {
    for (const hash of held.keys()) if (!hashes.includes(hash)) held.delete(hash)
  },
}

export type PickingApi = typeof api
expose(api)
