/** Patches of a mesh as an exact body: corners where their surfaces meet, edges along which two do, faces within those. */
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { BoundBody, BoundCurve, BoundEdge, BoundFace, BoundSurface } from '@/core/bodies/bounded'
import { normalOf, offShape, type Shape } from '@/core/fit/shape'
import {
  add,
  addScaled,
  cross,
  distance,
  dot,
  length,
  normalize,
  perpendicular,
  scale,
  sub,
  type Vec3,
} from '@/core/math/vec'
import { corners as trianglePlaces, placeAt, placesOf, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { vertexNormals } from '@/core/mesh/vertex-normals'
import { conicsOf, evenly, meet, ontoConic, seamOf, smoothThrough, type Within } from './meet'
import { alongCurve, fittedFace, type FittedFace } from './fitted-face'
import { onto } from './onto'
import { isFacet, type Chain, type Patch, type Patches } from './patches'
import { splineOfHeight } from '@/core/surface/height'

export interface Bounded {
  readonly body: BoundBody
  /** Patch that each face is of. */
  readonly patch: readonly number[]
  /** Patches whose borders could not be made as curves on them. */
  readonly failed: ReadonlySet<number>
  /** How far edges may lie off the faces beside them, mm: what is known beforehand, as where a facet's straight edge ends a round face. */
  readonly gap: number
  /** Fitted faces, by their patches. */
  readonly fitted: ReadonlyMap<number, FittedFace>
  /** Pairs of patches whose surfaces are no clear cut of each other along their border. */
  readonly unclear: readonly (readonly [number, number])[]
}

/** The plane through a triangle's own corners, once they lie where they are to. */
function facetPlane(places: readonly Vec3[]): Shape | null {
  const [a, b, c] = places
  const n = cross(sub(b, a), sub(c, a))
  return length(n) > 1e-12 ? { kind: 'plane', at: a, axis: normalize(n) } : null
}

/** Surfaces whose normals turn by less than this touch rather than cross (sine). */
const touching = 0.35
const cornerRounds = 40

/**
 * The place where surfaces meet near another. Where two of them run on into each other, a place may slide across their seam; so it is also
 * brought on to the line or circle that they share there (projections in turn; von Neumann 1949).
 */
function meetingPlace(from: Vec3, shapes: readonly Shape[], close: number): { at: Vec3; off: number } {
  let now = onto(from, shapes)
  const seams = shapes.flatMap((a, i) =>
    shapes.slice(i + 1).flatMap((b) => {
      if (length(cross(normalOf(a, now.at), normalOf(b, now.at))) > touching) return []
      const near = conicsOf(a, b, close).map((c) => ({ c, off: distance(ontoConic(c, now.at), now.at) }))
      const best = near.sort((x, y) => x.off - y.off)[0]
      return best ? [best.c] : []
    }),
  )
  for (let round = 0; seams.length && round < cornerRounds; round++) {
    const before = now.at
    const slid = seams.reduce((p, c) => ontoConic(c, p), before)
    now = onto(slid, shapes)
    if (distance(now.at, before) < 1e-12) break
  }
  return now
}

/** Borders of a scan lie within so many edges of where they belong; surfaces at its corners miss each other by so many times the tolerance. */
const usualStray = 4
const looseTimes = 6

/** Sharp edges lie off the fillets that stood for them by so many times what those lie off the faces beside: by 1 + 1 / sqrt 2 at a right angle. */
const filletTimes = 2.5

/** The length of a mesh edge in the middle of all, mm: a border of a scan strays by about that. */
function usualEdge(mesh: TriMesh, p: Patches): number {
  const lengths = p.chains.flatMap(({ vertices }) =>
    vertices.slice(1).map((v, i) => distance(vertex(mesh, v), vertex(mesh, vertices[i]))),
  )
  return lengths.sort((a, b) => a - b)[lengths.length >> 1] ?? 0
}

interface BoundChoice {
  readonly close: number
  readonly strays: boolean
  readonly strayEdges?: number
  readonly moved?: { readonly flags: ArrayLike<number>; readonly reach: number }
}

/** The distances that a body is bound within, mm. */
interface Reaches {
  readonly close: number
  readonly strays: boolean
  /** How far facets lie off their surfaces between their corners. */
  readonly chord: number
  /** How far a border may lie beside where it belongs. */
  readonly loose: number
}

function reachesOf(mesh: TriMesh, p: Patches, { close, strays, strayEdges = usualStray, moved }: BoundChoice): Reaches {
  // Where facets were divided further, what lies between their corners is off the surface by as much as they are.
  const chord = p.patches.reduce(
    (m, { shape, triangles }) =>
      shape
        ? placesOf(mesh, moved ? triangles.filter((t) => !moved.flags[t]) : triangles).reduce(
            (most, q) => Math.max(most, Math.abs(offShape(shape, q))),
            m,
          )
        : m,
    0,
  )
  // A scan rounds sharp edges over a few of its own, and its borders wander there.
  const border = strays ? strayEdges * usualEdge(mesh, p) : Math.max(close, 2 * chord)
  const loose = moved ? border + filletTimes * moved.reach + 2 * usualEdge(mesh, p) : border
  return { close, strays, chord, loose }
}

/** One body on its way: its corners, then its edges, then its faces. */
class Binding {
  readonly failed = new Set<number>()
  readonly unclear: [number, number][] = []
  readonly fitted = new Map<number, FittedFace>()
  readonly list: Vec3[] = []
  gap: number
  private readonly place = new Map<number, Vec3>()
  private readonly number = new Map<number, number>()
  private readonly surface: readonly (Shape | null)[]
  private readonly frames: readonly (ReturnType<typeof frameOf> | null)[]
  private readonly normals: Float32Array

  constructor(
    private readonly mesh: TriMesh,
    private readonly p: Patches,
    private readonly reaches: Reaches,
  ) {
    const { close, strays, chord } = reaches
    this.gap = strays ? looseTimes * close : Math.max(close, 2 * chord)
    this.placeCorners()
    // Planes of the facets, from where their corners lie now.
    this.surface = p.patches.map((patch): Shape | null => {
      if (patch.shape) return patch.shape
      if (patch.chart >= 0) return null
      const t = patch.triangles[0]
      return facetPlane([0, 1, 2].map((c) => this.at(mesh.triangles[3 * t + c])))
    })
    this.frames = p.patches.map((patch, i) => {
      const s = this.surface[i]
      return s && frameOf(mesh, s, patch.triangles)
    })
    this.standAtAngles()
    // Of what is to be fitted alone: where it ends at a rim, what lies beyond faces elsewhere.
    const charted = p.patches.flatMap((q) => (q.chart < 0 ? [] : q.triangles))
    const triangles = Uint32Array.from(charted.flatMap((t) => [...mesh.triangles.subarray(3 * t, 3 * t + 3)]))
    this.normals = vertexNormals({ positions: mesh.positions, triangles })
  }

  /** Of patches that do not meet the largest stays: beside facets it may well. */
  private fail(some: readonly number[]): void {
    const { patches } = this.p
    const size = (i: number) => patches[i].triangles.length
    const largest = some.length > 1 ? some.reduce((a, b) => (size(b) > size(a) ? b : a)) : -1
    for (const i of some) if (i !== largest) this.failed.add(i)
  }

  private at(v: number): Vec3 {
    return this.place.get(v) ?? vertex(this.mesh, v)
  }

  /** Corners: on all exact surfaces around. */
  private placeCorners(): void {
    const { mesh, p, place } = this
    const { close, strays, loose } = this.reaches
    for (const [v, around] of p.corners) {
      const shapes = around.flatMap((i) => p.patches[i].shape ?? [])
      const from = vertex(mesh, v)
      const { at, off } = meetingPlace(from, shapes, close)
      const far = distance(at, from)
      if (off > (strays ? looseTimes * close : close) || far > Math.max(20 * close, 2 * loose)) {
        this.fail(around.filter((i) => p.patches[i].shape))
        place.set(v, from)
        continue
      }
      place.set(v, at)
    }
  }

  /** Corners beside where angles begin stand there: the kernel takes an edge that ends a hair beyond for one that goes round. */
  private standAtAngles(): void {
    const { p, place, frames, surface } = this
    for (const [v, around] of p.corners)
      for (const i of around) {
        const f = frames[i]
        const s = surface[i]
        if (!f || !s || !p.patches[i].shape || s.kind === 'plane' || s.kind === 'sphere') continue
        const y = cross(s.axis!, f.x)
        const d = sub(this.at(v), s.at)
        const aside = dot(d, y)
        if (aside !== 0 && dot(d, f.x) > 0 && Math.abs(aside) < 0.1 * this.reaches.close)
          place.set(v, addScaled(this.at(v), y, -aside))
      }
  }

  private cornerOf(v: number): number {
    let n = this.number.get(v)
    if (n === undefined) {
      n = this.list.length
      this.list.push(this.at(v))
      this.number.set(v, n)
    }
    return n
  }

  /** The edge along a chain; null where it has no curve. */
  edge(chain: Chain): BoundEdge | null {
    const { mesh, p, surface, normals, list, unclear } = this
    const { close, strays, loose } = this.reaches
    const [l, r] = [surface[chain.left], chain.right < 0 ? null : surface[chain.right]]
    const row = chain.vertices.map((v, k) =>
      !chain.closed && (k === 0 || k === chain.vertices.length - 1) ? this.at(v) : vertex(mesh, v),
    )
    const sides = [l, r].filter((s) => s !== null)
    const free = [chain.left, chain.right].some((k) => k >= 0 && p.patches[k].chart >= 0)
    const found = free
      ? freeBorder(
          row,
          chain.closed,
          sides,
          sides.length ? null : chain.vertices.map((v) => placeAt(normals, v)),
          close,
          strays,
        )
      : curveOf(chain, l, r, row, p, { close, loose: Math.max(close, loose) })
    // The border of a scan that is no clear cut of two surfaces stays where it runs, smoothed.
    const made = found ?? (strays && sides.length ? alongRun(row, chain.closed, sides) : null)
    if (!found && [chain.left, chain.right].every((k) => k >= 0 && p.patches[k].shape))
      unclear.push([chain.left, chain.right])
    if (!made) {
      this.fail([chain.left, chain.right].filter((k) => k >= 0 && !isFacet(p.patches[k])))
      return null
    }
    if (made.curve.kind === 'line' && row.length === 2) {
      const middle = scale(add(row[0], row[1]), 0.5)
      for (const s of sides) this.gap = Math.max(this.gap, 1.5 * Math.abs(offShape(s, middle)))
    }
    if (chain.closed) {
      const n = list.length
      list.push(made.start ?? row[0])
      return { from: n, to: n, curve: made.curve }
    }
    return {
      from: this.cornerOf(chain.vertices[0]),
      to: this.cornerOf(chain.vertices[chain.vertices.length - 1]),
      curve: made.curve,
    }
  }

  /** The face of a patch, within edges; null where it has none. */
  face(i: number, edges: readonly (BoundEdge | null)[]): BoundFace | null {
    const { p, surface, frames, list } = this
    const patch = p.patches[i]
    const s = surface[i]
    if (!s && patch.chart < 0) return null
    const loops = patch.loops
      .map((loop) => loop.filter((l) => edges[l.chain]).map((l) => ({ edge: l.chain, forward: l.forward })))
      .filter((loop) => loop.length)
    if (!s) return this.splineFace(i, loops, edges)
    const flip = s.kind !== 'plane' && patch.shape!.inside
    return { ...frames[i]!, flip, loops: s.kind === 'plane' ? farthestFirst(loops, edges, list) : loops }
  }

  private splineFace(i: number, loops: BoundFace['loops'], edges: readonly (BoundEdge | null)[]): BoundFace {
    const { mesh, p, list } = this
    const { close } = this.reaches
    const face = fittedTo(mesh, p.patches[i], edges, list, close)
    if (!face || face.border > mostBorder * Math.max(close, face.within) || face.max > mostOffTimes * face.within)
      this.failed.add(i)
    if (!face) return { surface: { kind: 'plane', at: [0, 0, 0], axis: [0, 0, 1] }, x: [1, 0, 0], flip: false, loops }
    this.fitted.set(i, face)
    this.gap = Math.max(this.gap, gapTimes * face.border)
    return {
      surface: splineOfHeight(face.height),
      x: face.height.ground.x,
      flip: false,
      loops: farthestFirst(loops, edges, list),
    }
  }
}

/**
 * @param choice.close mm: how far the mesh may lie off its surfaces
 * @param choice.moved triangles that lie off the surface they are given to, and how far at most: fillets that are left out
 * @param choice.strays borders of a scan may lie beside where they belong by about an edge
 * @param shells patches of each connected piece of the skin: outer ones and the hollows within them
 */
export function boundOf(
  mesh: TriMesh,
  p: Patches,
  shells: BoundBody['shells'],
  closed: boolean,
  choice: BoundChoice,
  work: Work = quiet,
): Bounded {
  const now = new Binding(mesh, p, reachesOf(mesh, p, choice))
  const edges = p.chains.map((chain, i) => {
    if (i % 200 === 0) {
      checkStop(work)
      work.progress((0.8 * i) / p.chains.length, 'edges')
    }
    return now.edge(chain)
  })
  const faces: BoundFace[] = []
  const patchOfFace: number[] = []
  const faceOf = new Int32Array(p.patches.length).fill(-1)
  for (const i of p.patches.keys()) {
    const face = now.face(i, edges)
    if (!face) continue
    faceOf[i] = faces.push(face) - 1
    patchOfFace.push(i)
  }
  const body: BoundBody = {
    corners: now.list,
    edges: edges.map((e) => e ?? { from: 0, to: 0, curve: { kind: 'line' } }),
    faces,
    shells: shells.map((s) => ({
      outer: s.outer.map((i) => faceOf[i]).filter((i) => i >= 0),
      hollows: s.hollows.map((h) => h.map((i) => faceOf[i]).filter((i) => i >= 0)),
    })),
    closed,
  }
  const { failed, gap, fitted, unclear } = now
  return { body, patch: patchOfFace, failed, gap, fitted, unclear }
}

/** The curve of a run of mesh edges, or null where none lies on both sides. */
function curveOf(
  chain: Chain,
  left: Shape | null,
  right: Shape | null,
  row: readonly Vec3[],
  p: Patches,
  within: Within,
): { curve: BoundCurve; start?: Vec3 } | null {
  const facet = isFacet(p.patches[chain.left]) || (chain.right >= 0 && isFacet(p.patches[chain.right]))
  if (facet && row.length === 2) {
    // Between a facet and a round face the facet's own plane cuts it, else they share a straight edge.
    const round = [left, right].some((s) => s && s.kind !== 'plane')
    // Where the facet nearly touches, its plane cuts the other in an arc that strays far aside.
    const clear = left && right && length(cross(normalOf(left, row[0]), normalOf(right, row[0]))) > touching
    const cut = round && clear ? meet(left, right, subdivided(row, left, right), false, within) : null
    return cut ?? { curve: { kind: 'line' } }
  }
  if (left && right) return meet(left, right, row, chain.closed, within)
  const s = left ?? right
  return s ? rimCurve(s, row, chain.closed, within) : null
}

/** A run of mesh edges as a smooth curve through some of its places, brought as near to both surfaces as they allow. */
function alongRun(
  row: readonly Vec3[],
  closed: boolean,
  shapes: readonly Shape[],
): { curve: BoundCurve; start?: Vec3 } | null {
  const pieces = Math.max(closed ? 6 : 1, Math.min(60, Math.floor((row.length - 1) / edgesAPiece)))
  if (pieces === 1) return { curve: { kind: 'line' } }
  const even = evenly(row, pieces).map((p, i) => (!closed && (i === 0 || i === pieces) ? p : onto(p, shapes).at))
  return smoothThrough(closed ? [...even.slice(0, pieces), even[0]] : even, closed)
}

/** The border of a fitted face: straight where it is, else smooth through its places, on what lies beside. */
function freeBorder(
  row: readonly Vec3[],
  closed: boolean,
  shapes: readonly Shape[],
  /** Of the fitted surfaces on both sides, at each place. */
  normals: readonly Vec3[] | null,
  close: number,
  strays: boolean,
): { curve: BoundCurve; start?: Vec3 } | null {
  const [a, b] = [row[0], row[row.length - 1]]
  if (!closed) {
    const way = sub(b, a)
    const flat = shapes.every((s) => s.kind === 'plane')
    const off = (q: Vec3) => length(cross(sub(q, a), way)) / (length(way) || 1e-300)
    if (flat && shapes.length && row.every((q) => off(q) <= close)) return { curve: { kind: 'line' } }
  }
  if (strays) return alongRun(row, closed, shapes)
  const places = row.map((q, i) => (!closed && (i === 0 || i === row.length - 1) ? q : onto(q, shapes).at))
  if (closed) places[places.length - 1] = places[0]
  // A curve along surfaces whose facets it follows: its pieces bulge as those do.
  if (normals && row.length > leastStraightened) return straightened(places, closed, normals)
  const across = places.map((q, i) => (normals ? [normals[i]] : shapes.map((s) => normalOf(s, q))))
  return smoothThrough(places, closed, across)
}

/** Borders of fewer corners are left as they run. */
const leastStraightened = 4
const straighteningRounds = 3

/**
 * The border between two fitted faces follows edges of the mesh to and fro. The middles of its bulged pieces lie on the surface as the
 * corners do, and turn less: the curve goes through those, and again.
 */
function straightened(
  row: readonly Vec3[],
  closed: boolean,
  normals: readonly Vec3[],
): { curve: BoundCurve; start?: Vec3 } | null {
  let [places, across] = [[...row], [...normals]]
  for (let round = 0; ; round++) {
    const made = smoothThrough(
      places,
      closed,
      across.map((n) => [n]),
    )
    if (round === straighteningRounds || made?.curve.kind !== 'spline') return made
    const { poles } = made.curve
    const middles = places.slice(1).map((q, i): Vec3 => {
      const inner = add(poles[2 * i + 1], poles[2 * i + 2])
      return scale(addScaled(add(places[i], q), inner, 3), 1 / 8)
    })
    const between = across.slice(1).map((n, i) => normalize(add(across[i], n)))
    places = closed ? [...middles, middles[0]] : [places[0], ...middles, places[places.length - 1]]
    across = closed ? [...between, between[0]] : [across[0], ...between, across[across.length - 1]]
  }
}

/** The kernel finds borders of fitted faces off by up to so many times what is seen at their places: it draws them anew in parameters. */
const gapTimes = 5
/** A fitted face's border lies off it by at most so many tolerances, and the corners of the mesh. */
const mostBorder = 8
const mostOffTimes = 12
/** Nothing finer than this share of what the facets themselves are off is asked of a fit. */
const chordShare = 0.2

function fittedTo(
  mesh: TriMesh,
  patch: Patch,
  edges: readonly (BoundEdge | null)[],
  list: readonly Vec3[],
  close: number,
): (FittedFace & { within: number }) | null {
  const border = patch.loops.flatMap((loop) =>
    loop.flatMap(({ chain }) => {
      const e = edges[chain]
      return e ? alongCurve(e.curve, list[e.from], list[e.to], borderPieces) : []
    }),
  )
  const within = Math.max(close, chordShare * chordOf(mesh, patch.triangles))
  const face = fittedFace(mesh, patch.triangles, border, within)
  return face && { ...face, within }
}
const borderPieces = 16

/** What facets are off the surface they stand for, mm: an edge's eighth times the turn across, in the middle of all. */
function chordOf(mesh: TriMesh, triangles: readonly number[]): number {
  const across = new Map<string, { n: Vec3; l: number }>()
  const found: number[] = []
  for (const t of triangles) {
    const n = normalize(crossOf(mesh, t))
    const c = trianglePlaces(mesh, t)
    const v = [0, 1, 2].map((k) => mesh.triangles[3 * t + k])
    for (let k = 0; k < 3; k++) {
      const key = [v[k], v[(k + 1) % 3]].sort((x, y) => x - y).join(' ')
      const height = length(crossOf(mesh, t)) / (distance(c[k], c[(k + 1) % 3]) || 1e-300)
      const other = across.get(key)
      if (!other) across.set(key, { n, l: height })
      else found.push((Math.acos(Math.min(1, Math.max(-1, dot(n, other.n)))) * Math.min(height, other.l)) / 8)
    }
  }
  return found.sort((x, y) => x - y)[found.length >> 1] ?? 0
}

/** A curve along a run of a scan has a place for so many mesh edges. */
const edgesAPiece = 4

/** A few places between two, on a round surface. */
function subdivided(row: readonly Vec3[], a: Shape, b: Shape): Vec3[] {
  const [p, q] = row
  const mid = [0.25, 0.5, 0.75].map((t) => onto(addScaled(p, sub(q, p), t), [a, b]).at)
  return [p, ...mid, q]
}

/** An open rim: where a plane holds it, the cut of that plane; else a run of straight edges cannot be told better. */
function rimCurve(
  s: Shape,
  row: readonly Vec3[],
  closed: boolean,
  within: Within,
): { curve: BoundCurve; start?: Vec3 } | null {
  if (s.kind === 'plane' && row.length === 2 && !closed) return { curve: { kind: 'line' } }
  const inner = closed ? row.slice(0, -1) : row
  const middle = scale(
    inner.reduce<Vec3>((m, q) => addScaled(m, q, 1), [0, 0, 0]),
    1 / inner.length,
  )
  let n: Vec3 = [0, 0, 0]
  for (let i = 0; i + 1 < row.length; i++) n = addScaled(n, cross(sub(row[i], middle), sub(row[i + 1], middle)), 1)
  if (s.kind === 'plane') n = cross(s.axis!, sub(row[row.length - 1], row[0]))
  if (length(n) < 1e-12) return null
  const cut: Shape = { kind: 'plane', at: s.kind === 'plane' ? row[0] : middle, axis: normalize(n) }
  return meet(s, cut, row, closed, within)
}

/** Where angles about a surface's axis begin: opposite of the face, or where all that go round begin. */
function frameOf(mesh: TriMesh, s: Shape, triangles: readonly number[]): { surface: BoundSurface; x: Vec3 } {
  if (s.kind === 'plane') return { surface: s, x: perpendicular(s.axis!) }
  if (s.kind === 'sphere') {
    let mean: Vec3 = [0, 0, 0]
    for (const t of triangles) mean = addScaled(mean, crossOf(mesh, t), 1)
    let area = 0
    for (const t of triangles) area += length(crossOf(mesh, t))
    // Less than about half a ball: its poles and seam lie on the other side.
    if (length(mean) > 0.55 * area) {
      const sign = triangles.length && dot(mean, sub(trianglePlaces(mesh, triangles[0])[0], s.at)) < 0 ? 1 : -1
      const x = scale(normalize(mean), sign)
      return { surface: { ...s, axis: perpendicular(x) }, x }
    }
    return { surface: { ...s, axis: [0, 0, 1] }, x: [1, 0, 0] }
  }
  const axis = s.axis!
  const y0 = perpendicular(axis)
  const z0 = cross(axis, y0)
  const angles = new Set<number>()
  for (const t of triangles)
    for (const q of trianglePlaces(mesh, t)) {
      const d = sub(q, s.at)
      angles.add(Math.atan2(dot(d, z0), dot(d, y0)))
    }
  const sorted = [...angles].sort((a, b) => a - b)
  let [gap, middle] = [0, 0]
  sorted.forEach((a, i) => {
    const next = i + 1 < sorted.length ? sorted[i + 1] : sorted[0] + 2 * Math.PI
    if (next - a > gap) {
      gap = next - a
      middle = (a + next) / 2
    }
  })
  if (!goesRound(mesh, s, triangles, middle, y0, z0)) {
    const x = addScaled(scale(y0, Math.cos(middle)), z0, Math.sin(middle))
    return { surface: s, x: normalize(x) }
  }
  return { surface: s, x: seamOf(axis) }
}

/** Whether some triangle of a round patch reaches over the middle of its widest gap: then there is none. */
function goesRound(mesh: TriMesh, s: Shape, triangles: readonly number[], middle: number, y: Vec3, z: Vec3): boolean {
  const from = (q: Vec3) => {
    const d = sub(q, s.at)
    const a = Math.atan2(dot(d, z), dot(d, y)) - middle
    return a - 2 * Math.PI * Math.round(a / (2 * Math.PI))
  }
  return triangles.some((t) => {
    const a = trianglePlaces(mesh, t).map(from)
    const near = a.filter((x) => Math.abs(x) < Math.PI / 2)
    return near.some((x) => x < 0) && near.some((x) => x > 0)
  })
}

/** The outer border of a face first. */
function farthestFirst(loops: BoundFace['loops'], edges: readonly (BoundEdge | null)[], corners: readonly Vec3[]) {
  if (loops.length < 2) return loops
  const reach = (loop: readonly { readonly edge: number }[]) => {
    const min = [Infinity, Infinity, Infinity],
      max = [-Infinity, -Infinity, -Infinity]
    const take = (q: Vec3) => q.forEach((v, k) => ((min[k] = Math.min(min[k], v)), (max[k] = Math.max(max[k], v))))
    for (const { edge } of loop) {
      const e = edges[edge]!
      take(corners[e.from])
      take(corners[e.to])
      const c = e.curve
      if (c.kind === 'spline') c.poles.forEach(take)
      if (c.kind === 'circle' || c.kind === 'ellipse')
        for (const way of [perpendicular(c.axis), cross(c.axis, perpendicular(c.axis))])
          for (const k of [-1, 1]) if (e.from === e.to) take(addScaled(c.centre, way, k * c.radius))
    }
    return Math.hypot(...max.map((m, k) => m - min[k]))
  }
  return [...loops].sort((a, b) => reach(b) - reach(a))
}
