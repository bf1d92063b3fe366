/** Runs beside the screen: loads bodies, makes them ready to draw, and answers hover and picks on the same core as the server. */
import { expose, transfer } from 'comlink'
import { reportError, StepError } from '@/core/base/step-error'
import { isMesh, isOutline, type Body } from '@/core/bodies/body'
import { boreAt, boreField, findBores, type Bore, type BoreField } from '@/core/find/bore'
import { creasesOf, endsOfCrease } from '@/core/find/crease'
import { creaseRow } from '@/core/find/taken-rows'
import { exactFaceOf, tagsIn, trianglesOnFace } from '@/core/find/exact-face'
import { pointedBore } from '@/core/find/pointed-bore'
import { applyPick, pickField, type PickField, type Region } from '@/core/find/region'
import { snapAt, type Snap } from '@/core/find/snap'
import { isTaken } from '@/core/find/taken'
import { brisk } from '@/core/fit/fit-shape'
import { fitRegion, type RegionWish } from '@/core/fit/region-fit'
import { flagged } from '@/core/fit/samples'
import { offShape, shapeKinds, type ShapeKind } from '@/core/fit/shape'
import type { Part, PartSort } from '@/core/kinds/kind'
import { drawPart, pointedPart, raySegment, type PointedPart } from '@/core/kinds/pointed-part'
import { kindOf, shownSkin } from '@/core/kinds/registry'
import { buffersOf, shadeBody, type Shaded } from '@/core/kinds/shade'
import { toPlane, toSpace, type DrawingPlane, type Place } from '@/core/outline/drawing'
import { coverOf } from '@/core/outline/cover'
import { fillsOf, type Fill } from '@/core/outline/fills'
import { areaAt } from '@/core/outline/profile'
import { addScaled, dot, frame, normalize, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { flood } from '@/core/mesh/flood'
import { findDegenerate, findFolded } from '@/core/mesh/defects'
import { findPieces, buildTopology } from '@/core/mesh/topology'
import { trianglesAsPoints, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import { fates, loyaltyOf } from '@/core/gauge/loyalty'
import { referenceOf, signedDistance, type Reference } from '@/core/gauge/deviation'
import { sectionLines } from '@/core/section/section-lines'
import { Slicer } from '@/core/section/slice'
import { withTaken } from '@/core/step/taken'
import { stepOf } from '@/core/steps/registry'
import { fetchBody } from '@/bench/workers/fetch-body'
import { hereMark } from '@/bench/workers/sturdy-worker'

interface Held {
  body: Body
  mesh: TriMesh
  slicer?: Slicer
  reference?: Reference
  search?: MeshSearch
  field?: PickField
  bores?: BoreField
  boreList?: Bore[]
  fills?: readonly Fill[]
  /** The flat area that was pointed at last. */
  flat?: { flags: Uint8Array; points: Float32Array }
  region?: { picks: string[]; flags: Uint8Array[] }
}
const held = new Map<string, Promise<Held>>()

function hold(hash: string): Promise<Held> {
  let h = held.get(hash)
  if (!h) {
    h = fetchBody(hash).then((body) => ({ body, mesh: shownSkin(body) }))
    held.set(hash, h)
    h.catch(() => held.delete(hash))
  }
  return h
}

const searchOf = (h: Held) => (h.search ??= new MeshSearch(h.mesh))
const fieldOf = (h: Held) => (h.field ??= pickField(h.mesh, searchOf(h), tagsIn(h.body)))
const boresOf = (h: Held) => (h.bores ??= boreField(h.mesh))
const boreListOf = (h: Held) => (h.boreList ??= findBores(boresOf(h)))

/** The triangles of a region; picks made before are not done again. */
function flagsOf(h: Held, region: Region): Uint8Array {
  const f = fieldOf(h)
  const keys = region.map((p) => JSON.stringify(p))
  const old = h.region ?? { picks: [], flags: [] }
  let same = 0
  while (same < keys.length && old.picks[same] === keys[same]) same++
  const flags = old.flags.slice(0, same)
  const none = () => new Uint8Array(h.mesh.triangles.length / 3)
  for (let i = same; i < region.length; i++) flags.push(applyPick(f, flags[i - 1] ?? none(), region[i]))
  h.region = { picks: keys, flags }
  return flags.at(-1) ?? none()
}

/** Triangles of the face that one was found to be of; where it is of none, of what hangs together there. */
function regionOf(h: Held, triangle: number): Uint8Array {
  const flags = new Uint8Array(h.mesh.triangles.length / 3)
  const on = trianglesOnFace(h.body, triangle)
  for (const t of on) flags[t] = 1
  if (on.length) return flags
  flood(fieldOf(h).topology.twin, triangle, flags, (t) => !exactFaceOf(h.body, t))
  return flags
}

/** Looking for bores on larger meshes would hold up the pointer. */
const mostForBores = 500_000

export interface PickBody {
  name: string
  hash: string
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
export interface BoreHit extends Pick<Bore, 'centre' | 'axis' | 'diameter' | 'depth' | 'through' | 'rms'> {
  name: string
  hash: string
  at: Vec3
  points: Float32Array
}
export interface AreaHit {
  name: string
  hash: string
  /** Where the ray meets it. */
  at: Vec3
  /** Number of the area in its outline. */
  index: number
  area: number
  /** Corners of triangles that cover it, and its loops as point pairs. */
  triangles: Float32Array
  lines: Float32Array
}
/** Shapes fitted to a region while it is picked. */
export interface LiveFit {
  /** Corners of the picked triangles, and how far each lies off its shape, mm: above zero outside. */
  points: Float32Array
  off: Float32Array
  shapes: {
    kind: ShapeKind
    /** Radius, of a ring of its tube, mm. */
    round?: number
    halfAngle?: number
    rms: number
    max: number
    inliers: number
    sigma?: number
    triangles: number
  }[]
  /** What is equal, in words. */
  groups: string[]
  /** Patches that tell no shape. */
  left: number
  /** Why nothing was fitted. */
  trouble?: string
}
export interface PartHit extends PointedPart {
  name: string
  hash: string
  /** Where on the part the pointer is. */
  at: Vec3
}

const normalAt = (h: Held, triangle: number): Vec3 => {
  const n = triangleNormals({
    positions: h.mesh.positions,
    triangles: h.mesh.triangles.slice(3 * triangle, 3 * triangle + 3),
  })
  return [n[0], n[1], n[2]]
}

/** The flat area of a mesh round a hit, as far as it goes. */
function flatPart(h: Held, hit: { point: Vec3; triangle: number }): Omit<PartHit, 'name' | 'hash'> {
  if (!h.flat?.flags[hit.triangle]) {
    const flags = applyPick(fieldOf(h), new Uint8Array(h.mesh.triangles.length / 3), {
      pick: 'grow',
      mode: 'add',
      at: [...hit.point],
      angle: 1,
    })
    const list: number[] = []
    flags.forEach((f, t) => f && list.push(t))
    h.flat = { flags, points: trianglesAsPoints(h.mesh, list) }
  }
  return {
    at: hit.point,
    sort: 'face',
    part: { index: -1, name: '', shape: 'flat area', at: hit.point },
    triangles: h.flat.points,
    lines: new Float32Array(0),
  }
}

/** The sharp edge of a mesh beside a hit, with what runs on from it. */
function creasePart(
  h: Held,
  hit: { point: Vec3; distance: number },
  origin: Vec3,
  direction: Vec3,
  reach: number,
): Omit<PartHit, 'name' | 'hash'> | null {
  const way = normalize(direction)
  let best = -1,
    least = reach
  const at = (v: number) => vertex(h.mesh, v)
  for (const e of creasesOf(h.mesh).list) {
    const [a, b] = endsOfCrease(h.mesh, e).map(at)
    const { off, along } = raySegment(origin, way, a, b)
    if (off < least && along > 0 && along < hit.distance + 2 * reach) {
      least = off
      best = e
    }
  }
  if (best < 0) return null
  const { places, closed } = creaseRow(h.mesh, best)
  const lines: number[] = []
  for (let i = closed ? 0 : 1; i < places.length; i++)
    lines.push(...places[(i + places.length - 1) % places.length], ...places[i])
  const [a, b] = endsOfCrease(h.mesh, best).map(at)
  const middle: Vec3 = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2]
  return {
    at: middle,
    sort: 'edge',
    part: { index: -1, name: '', shape: 'sharp', at: middle },
    triangles: new Float32Array(0),
    lines: Float32Array.from(lines),
  }
}

const api = {
  /** What is needed to draw a body; the arrays travel, nothing is copied. */
  async display(hash: string): Promise<Shaded> {
    const shaded = shadeBody((await hold(hash)).body)
    return transfer(shaded, buffersOf(shaded))
  },

  /** Colour number of the piece of each corner, for "own colours". */
  async pieces(hash: string): Promise<Uint32Array> {
    const { mesh } = await hold(hash)
    return findPieces(mesh, buildTopology(mesh)).piece
  },

  /** Triangles of a body that came from sources which it did not have before: what a ghost adds. */
  async added(hash: string, before?: string): Promise<Float32Array> {
    const { body, mesh } = await hold(hash)
    if (!isMesh(body) || !body.tags) return new Float32Array(0)
    const was = before && before !== hash ? (await hold(before)).body : null
    const had = was && isMesh(was) ? (was.tags?.names ?? []) : []
    const { names } = body.tags
    // What was joined on comes after the names there were; a step that tells its sources anew begins with the body.
    const first = names.length > had.length && had.every((n, k) => n === names[k]) ? Math.max(1, had.length) : 1
    const list: number[] = []
    body.tags.source.forEach((s, t) => {
      if (s >= first) list.push(t)
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
  async pick(bodies: PickBody[], origin: Vec3, direction: Vec3): Promise<Hit | null> {
    let best: Hit | null = null
    for (const { name, hash } of bodies) {
      const h = await hold(hash)
      const hit = searchOf(h).first(origin, direction)
      if (!hit || (best && best.distance <= hit.distance)) continue
      best = { name, hash, normal: normalAt(h, hit.triangle), ...hit }
    }
    return best
  },

  /** A hit with what it snaps to within `reach` mm: fitted centres of bores first, then corners, then edges. */
  async touch(bodies: PickBody[], origin: Vec3, direction: Vec3, reach: number): Promise<Hit | null> {
    let hit = await api.pick(bodies, origin, direction)
    // Just beside an outline a corner or edge is still meant: rays round about find the body, and only a snap counts.
    const beside = !hit
    const [x, y] = frame(normalize(direction))
    for (let i = 0; i < 8 && !hit; i++) {
      const a = (Math.PI / 4) * i
      const from = addScaled(addScaled(origin, x, reach * Math.cos(a)), y, reach * Math.sin(a))
      hit = await api.pick(bodies, from, direction)
    }
    if (!hit) return null
    const h = await hold(hit.hash)
    const snap = snapAt({
      mesh: h.mesh,
      triangle: hit.triangle,
      point: hit.point,
      reach,
      beside: beside ? { origin, direction } : undefined,
      bores: !beside && h.mesh.triangles.length < 3 * mostForBores ? boreListOf(h) : [],
    })
    return snap ? { ...hit, snap } : beside ? null : hit
  },

  /** The face or edge under a ray. */
  async part(
    bodies: PickBody[],
    origin: Vec3,
    direction: Vec3,
    reach: number,
    want: PartSort | 'any',
  ): Promise<PartHit | null> {
    const hit = await api.pick(bodies, origin, direction)
    // An edge seen from just outside belongs to the body beside the ray.
    const order = hit ? [{ name: hit.name, hash: hit.hash }] : bodies
    if (hit && want !== 'edge') {
      // A mesh that was cut by an exact body still shows its faces whole.
      const { body, mesh } = await hold(hit.hash)
      const part = exactFaceOf(body, hit.triangle)
      if (part)
        return {
          name: hit.name,
          hash: hit.hash,
          at: hit.point,
          sort: 'face',
          part: { index: -1, ...part },
          triangles: trianglesAsPoints(mesh, trianglesOnFace(body, hit.triangle)),
          lines: new Float32Array(0),
        }
    }
    if (hit) {
      const h = await hold(hit.hash)
      if (isMesh(h.body) && h.mesh.triangles.length < 3 * mostForBores) {
        const found = want === 'face' ? flatPart(h, hit) : creasePart(h, hit, origin, direction, reach)
        if (found) return { name: hit.name, hash: hit.hash, ...found }
        return null
      }
    }
    for (const { name, hash } of order) {
      const { body } = await hold(hash)
      const found = pointedPart(body, { origin, direction: normalize(direction) }, hit, reach, want)
      if (found) return { name, hash, at: hit?.point ?? found.part.at, ...found }
    }
    return null
  },

  /** The closed area of an outline under a ray; of several the nearest, and there the innermost. */
  async area(bodies: PickBody[], origin: Vec3, direction: Vec3): Promise<AreaHit | null> {
    let best: (Omit<AreaHit, 'triangles' | 'lines'> & { along: number; plane: DrawingPlane; fill: Fill }) | null = null
    for (const { name, hash } of bodies) {
      const h = await hold(hash)
      if (!isOutline(h.body)) continue
      const { plane, drawing } = h.body
      const slope = dot(direction, plane.normal)
      if (Math.abs(slope) < 1e-9) continue
      const along = dot(sub(plane.at, origin), plane.normal) / slope
      if (along <= 0 || (best && best.along < along - 1e-6)) continue
      const at = addScaled(origin, direction, along)
      const fills = (h.fills ??= fillsOf(drawing).fills)
      const index = areaAt(fills, toPlane(plane, at))
      if (index >= 0) best = { name, hash, at, index, area: fills[index].area, along, plane, fill: fills[index] }
    }
    if (!best) return null
    const { plane, fill } = best
    const cover = coverOf(fill)
    const space = (list: readonly Place[]) => Float32Array.from(list.flatMap((p) => [...toSpace(plane, p)]))
    const loops = [fill.outer, ...fill.holes].flatMap(({ places }) =>
      places.flatMap((p, i) => [p, places[(i + 1) % places.length]]),
    )
    const { name, hash, at, index, area } = best
    return { name, hash, at, index, area, triangles: space(cover), lines: space(loops) }
  },

  /** Number of the area of an outline that a place lies in, -1 for none. */
  async areaOf(hash: string, at: Vec3): Promise<number> {
    const h = await hold(hash)
    if (!isOutline(h.body)) return -1
    return areaAt((h.fills ??= fillsOf(h.body.drawing).fills), toPlane(h.body.plane, at))
  },

  /** What is drawn of a face or edge of a body. */
  async drawPart(hash: string, sort: PartSort, index: number): Promise<Pick<PointedPart, 'triangles' | 'lines'>> {
    return drawPart((await hold(hash)).body, sort, index)
  },

  /** What is known of a face or edge of a body. */
  async partFacts(hash: string, sort: PartSort, index: number): Promise<Part | null> {
    const { body } = await hold(hash)
    return kindOf(body).parts?.list(body, sort)[index] ?? null
  },

  /** The filled section face of a body; about 20 ms for a million triangles. */
  async section(
    hash: string,
    normal: Vec3,
    offset: number,
  ): Promise<{ face: Float32Array; lines: Float32Array; area: number }> {
    const h = await hold(hash)
    const s = (h.slicer ??= new Slicer(h.mesh)).slice(normal, offset)
    const lines = sectionLines(s.loops)
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

  /** What became of every triangle between two states of a body: corners of what is not as it was, and shares of the area. */
  async kept(before: string, after: string, united: boolean) {
    const a = (await hold(before)).mesh,
      b = (await hold(after)).mesh
    const unsound = new Uint8Array(a.triangles.length / 3)
    for (const t of [...findDegenerate(a), ...findFolded(a, buildTopology(a))]) unsound[t] = 1
    const l = loyaltyOf(a, b, { unsound, united })
    const list = (of: Uint8Array, fate: number) => {
      const out: number[] = []
      of.forEach((f, t) => {
        if (f === fate) out.push(t)
      })
      return out
    }
    const moved = trianglesAsPoints(b, list(l.resultFates, fates.moved)),
      fresh = trianglesAsPoints(b, list(l.resultFates, fates.fresh)),
      lost = trianglesAsPoints(a, list(l.inputFates, fates.lost)),
      inside = trianglesAsPoints(a, list(l.inputFates, fates.inside))
    const shares = { kept: l.kept, moved: l.moved, fresh: l.fresh, lost: l.lost, inside: l.inside }
    return transfer({ moved, fresh, lost, inside, shares }, [moved.buffer, fresh.buffer, lost.buffer, inside.buffer])
  },

  /** Evaluates a region; picks made before are not done again. */
  async region(hash: string, region: Region): Promise<{ count: number; points: Float32Array }> {
    const h = await hold(hash)
    const list = flagged(flagsOf(h, region))
    const points = trianglesAsPoints(h.mesh, list)
    return transfer({ count: list.length, points }, [points.buffer])
  },

  /** Regions that a mesh remembers: all triangles, the kind of each, and a shade that tells neighbours of one kind apart. */
  async kinds(hash: string): Promise<{ points: Float32Array; kind: Uint8Array; shade: Float32Array; kinds: string[] }> {
    const { body, mesh } = await hold(hash)
    const n = mesh.triangles.length / 3
    const points = trianglesAsPoints(
      mesh,
      Array.from({ length: n }, (_, t) => t),
    )
    const kinds: string[] = [...shapeKinds, 'free']
    const kind = new Uint8Array(n)
    const shade = new Float32Array(n)
    for (let t = 0; t < n; t++) {
      const shape = exactFaceOf(body, t)?.shape
      const at = kinds.indexOf(shape === 'torus' ? 'ring' : (shape ?? 'free'))
      kind[t] = at < 0 ? kinds.length - 1 : at
      // By the golden angle, so that numbers that follow each other lie apart.
      shade[t] = isMesh(body) && shape ? 0.86 + 0.28 * ((body.tags!.face[t] * 0.618034) % 1) : 1
    }
    return transfer({ points, kind, shade, kinds }, [points.buffer, kind.buffer, shade.buffer])
  },

  /** Which of some places lies on the region of a triangle, -1 for none. */
  async regionAt(hash: string, triangle: number, places: Vec3[]): Promise<number> {
    const h = await hold(hash)
    const own = regionOf(h, triangle)
    return places.findIndex((p) => {
      const near = searchOf(h).nearest(p)
      return !!near && own[near.triangle] === 1
    })
  },

  /** Corners of the triangles of the regions that some places lie on. */
  async regionsOn(hash: string, places: Vec3[]): Promise<Float32Array> {
    const h = await hold(hash)
    const all = new Uint8Array(h.mesh.triangles.length / 3)
    for (const p of places) {
      const near = searchOf(h).nearest(p)
      if (near) regionOf(h, near.triangle).forEach((f, t) => f && (all[t] = 1))
    }
    const points = trianglesAsPoints(h.mesh, flagged(all))
    return transfer(points, [points.buffer])
  },

  /**
   * The shapes that fit a region as the settings of a step ask for, at once: some tens of milliseconds for thousands of triangles.
   * @param bench bodies by name, for what the settings take from them
   */
  async fit(
    hash: string,
    region: Region,
    kind: string,
    set: Record<string, unknown>,
    bench: Record<string, string>,
  ): Promise<LiveFit> {
    const h = await hold(hash)
    const flags = flagsOf(h, region)
    try {
      const bodies = new Map<string, Body>()
      for (const v of Object.values(set))
        if (isTaken(v) && bench[v.from]) bodies.set(v.from, (await hold(bench[v.from])).body)
      const find = (name: string) => {
        const b = bodies.get(name)
        if (!b) throw new StepError('no-body', `There is no body named "${name}" here.`)
        return b
      }
      const wish = withTaken(stepOf(kind)!.settings, set, find) as unknown as RegionWish & { patches: string }
      const { patches, groups, left } = fitRegion(
        h.mesh,
        flags,
        { ...wish, each: wish.patches === 'each' },
        brisk,
        fieldOf(h).topology,
      )
      const points = trianglesAsPoints(
        h.mesh,
        patches.flatMap((p) => p.triangles),
      )
      const off = new Float32Array(points.length / 3)
      let at = 0
      for (const { triangles, fit } of patches)
        for (let i = 0; i < 3 * triangles.length; i++, at++)
          off[at] = offShape(fit, [points[3 * at], points[3 * at + 1], points[3 * at + 2]])
      const result: LiveFit = {
        points,
        off,
        shapes: patches.map(({ fit, triangles }) => ({
          kind: fit.kind,
          round: fit.kind === 'ring' ? fit.thickness : fit.radius,
          halfAngle: fit.halfAngle,
          rms: fit.rms,
          max: fit.max,
          inliers: fit.inliers,
          sigma: fit.sigma,
          triangles: triangles.length,
        })),
        groups: groups.map((g) => g.words),
        left,
      }
      return transfer(result, [points.buffer, off.buffer])
    } catch (error) {
      return {
        points: new Float32Array(0),
        off: new Float32Array(0),
        shapes: [],
        groups: [],
        left: 0,
        trouble: reportError(error).message,
      }
    }
  },

  /** The bore a ray points at: the wall it hits, or the nearest mouth it passes through or close by. */
  async bore(bodies: PickBody[], origin: Vec3, direction: Vec3): Promise<BoreHit | null> {
    const hit = await api.pick(bodies, origin, direction)
    const give = (b: PickBody, h: Held, { triangles, ...bore }: Bore, at: Vec3): BoreHit => ({
      ...bore,
      name: b.name,
      hash: b.hash,
      at,
      points: trianglesAsPoints(h.mesh, triangles),
    })
    let best: { off: number; make: () => BoreHit } | null = null
    for (const b of bodies) {
      const h = await hold(b.hash)
      if (!isMesh(h.body)) continue
      const own = hit?.hash === b.hash
      const found = pointedBore(boreListOf(h), { origin, direction }, hit && { ...hit, own })
      if (found && (!best || found.off < best.off))
        best = { off: found.off, make: () => give(b, h, found.bore, found.at) }
    }
    if (best) return best.make()
    if (!hit) return null
    const h = await hold(hit.hash)
    if (!isMesh(h.body)) return null
    const f = boresOf(h)
    const b = boreAt(f, hit.point, hit.triangle, 0.01 * f.scale)
    return b ? give(hit, h, b, hit.point) : null
  },

  /** Lets go of bodies that are not on the bench any more. */
  keepOnly(hashes: string[]): void {
    for (const hash of held.keys()) if (!hashes.includes(hash)) held.delete(hash)
  },
}

export type PickingApi = typeof api
expose(api)
postMessage(hereMark)
