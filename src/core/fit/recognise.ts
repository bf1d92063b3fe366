/**
 * A whole mesh divided into regions of one surface each: surfaces are grown from the largest triangles on, each is given the simplest
 * shape that holds, neighbours that lie on one shape are joined, and what is left beside a region goes to the nearest (after Besl & Jain
 * 1988; Wu & Kobbelt 2005).
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { StepError } from '@/core/base/step-error'
import { surfaceAround, type SkinField } from '@/core/find/smooth-surface'
import { dot, type Vec3 } from '@/core/math/vec'
import { flood } from '@/core/mesh/flood'
import { buildTopology, triangleOf, type Topology } from '@/core/mesh/topology'
import { diagonal, meshBounds, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea, triangleNormals, crossOf } from '@/core/mesh/triangle'
import { settleBorders } from './borders'
import { cleanRegions } from './clean/clean-regions'
import { decimalStep } from './decimals'
import { fitKind, type Fitted } from './fit-shape'
import { faceNoiseOf, type FaceNoise } from './face-noise'
import { cleanShare, exactly, labelled, leastFree, leastSeen, likelyNoise, tellsMore, type Noise } from './labelled'
import { partsOfFree } from './parts-of-free'
import { absorbNarrow, releaseSpanning } from './narrow'
import { shareFree, type Recognised, type Region } from './regions'
import { samplesOf, someOf, thinned } from './samples'
import { wavinessOf } from './waviness'
import { normalOf, offShape, shapeKinds, type Shape, type ShapeKind } from './shape'

/** Regions of fewer triangles than this are none, unless they are large. */
const leastTriangles = 2
/** Regions of less than this share of the skin are none where they are small in number too. */
const leastArea = 2e-5
/** Corners this many times farther off than a drawn part's are not drawn. */
const noisyTimes = 4
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

export type { Recognised, Region } from './regions'

const known = new WeakMap<TriMesh, { tolerance: number | undefined; found: Recognised }>()

/**
 * The regions of a mesh; asked again of the same mesh, they are at hand.
 * @param tolerance mm; left out: from the noise of the mesh and its size
 */
export function recognise(mesh: TriMesh, tolerance?: number, work: Work = quiet): Recognised {
  const kept = known.get(mesh)
  if (kept && kept.tolerance === tolerance) return kept.found
  const found = look(mesh, tolerance, work)
  known.set(mesh, { tolerance, found })
  return found
}

function look(mesh: TriMesh, tolerance: number | undefined, work: Work): Recognised {
  const n = triangleCount(mesh)
  if (!n) throw new StepError('empty', 'The mesh holds no triangles.')
  const size = diagonal(meshBounds(mesh)) || 1
  const pairs = noiseOf(mesh)
  // A file of few decimals leaves corners off their surfaces by those.
  const step = tolerance ? 0 : decimalStep(mesh, size)
  const clean = pairs.flattest < Math.max(cleanShare * size, 2 * step)
  const tight = tolerance ?? Math.max(4 * cleanShare * size, stepTimes * step)
  const field = { mesh, topology: buildTopology(mesh), normals: triangleNormals(mesh) }
  const area = Float64Array.from({ length: n }, (_, t) => triangleArea(mesh, t))
  const whole = area.reduce((a, b) => a + b, 0)
  const faces = faceNoiseOf(mesh, field.topology, field.normals, area)
  const drawn = clean ? asDrawn(field, area, tight, step, work) : null
  if (drawn && shareFree(drawn.regions, whole) < leastFree) return drawn
  // Round walls whose corners lie on them tell that nothing was refined.
  const noise: Noise =
    drawn && wholeWalls(drawn.regions) ? exactly(tight) : likelyNoise(tolerance, faces, pairs.flattest, clean, size)
  const told = labelled(field, area, size, noise, work)
  if (told && !(drawn && tellsMore(drawn, told, whole))) return told
  if (drawn && shareFree(drawn.regions, whole) < (wholeWalls(drawn.regions) ? mostFreeDrawn : mostFree)) return drawn
  // A drawn ball has no flat pair anywhere: small meshes are tried all the same, but for those whose faces tell of noise.
  const noisy = faces.share > leastSeen && faces.sigma > noisyTimes * tight
  const tried = clean || n > mostTried || noisy ? null : asDrawn(field, area, tight, step, work, fewFailures)
  if (tried && shareFree(tried.regions, whole) < mostFree) return tried
  return grownAt(field, area, faces, pairs.noise, size, { tolerance, drawn: clean ? drawn : null, clean }, work)
}

/** Surfaces grown one by one, with tolerances ever wider until they tell most of the skin. */
function grownAt(
  field: SkinField,
  area: Float64Array,
  faces: FaceNoise,
  pairs: number,
  size: number,
  { tolerance, drawn, clean }: { tolerance: number | undefined; drawn: Recognised | null; clean: boolean },
  work: Work,
): Recognised {
  const whole = area.reduce((a, b) => a + b, 0)
  // Noise that neighbours share shows over patches; where those lie over edges it is no noise.
  const wavy = wavinessOf(field.mesh, field.topology, field.normals)
  // On smooth skins pairs tell the bend, patches do not.
  const noise =
    wavy === 0 || wavy >= Math.min(mostWavy * pairs, mostWaves * size)
      ? faces.share > leastSeen
        ? faces.sigma
        : pairs
      : wavy > pairs
        ? wavy
        : Math.min(pairs, rmsTimes * wavy)
  const loose = Math.max(2e-5 * size, 4 * noise)
  if (tolerance) return grouped(field, area, whole, tolerance, noise, work)
  // Where facets were divided and turned, corners lie off the surfaces by the height of chords, which no pair of facets tells: looked for.
  let best = drawn
  // A drawn part that was refined is flat to the last digit where it is flat, and off by chords where it is round.
  const wide = mostTolerance * size
  const tolerances = [...(clean ? [wide] : []), ...widerTimes.map((w) => w * loose).filter((w, i) => !i || w <= wide)]
  for (const within of tolerances) {
    const r = grouped(field, area, whole, within, noise, work)
    if (best && shareFree(r.regions, whole) > shareFree(best.regions, whole) - worthWider) break
    best = r
    if (shareFree(r.regions, whole) < mostFree) break
  }
  return best!
}

/** Regions of a clean tessellation, or null where it is none. */
function asDrawn(
  field: SkinField,
  area: Float64Array,
  within: number,
  step: number,
  work: Work,
  patience?: number,
): Recognised | null {
  const found = cleanRegions(field, within, work, { patience, step })
  if (!found) return null
  const regions = found.map((r): Region => ({ ...r, area: r.triangles.reduce((s, t) => s + area[t], 0) }))
  const of = new Int32Array(area.length).fill(-1)
  regions.forEach((r, i) => {
    for (const t of r.triangles) of[t] = i
  })
  return { regions, of, tolerance: within, drawn: true, noise: 0 }
}

/** Three coordinates, each rounded by half a step, lie off by so many steps at most; a fit takes a little more. */
const stepTimes = 1.2
/** Meshes of fewer triangles are tried as drawn ones even where no flat pair says so. */
const mostTried = 8000
/** After so many vain starts such a mesh is none. */
const fewFailures = 8
const mostWavy = 3
/** Nor are waves of more than this share of the size noise. */
const mostWaves = 2e-4
/** What single corners are off, for an rms of even noise. */
const rmsTimes = 1.75

/** Surfaces are looked for with tolerances so many times as wide, until no more than a share of the skin is of no shape, or little is won. */
const widerTimes = [1, 4, 12]
const mostFree = 0.25
const worthWider = 0.05
/** So many small regions one after the other tell that no large one is left. */
const mostVain = 12
/** Tolerances of more than this share of the size tell nothing. */
const mostTolerance = 4e-4

/** Where round walls hang together a drawn part may have this much of free surface. */
const mostFreeDrawn = 0.6
const wallTriangles = 24

const isRound = (r: Region) => r.shape !== null && r.shape.kind !== 'plane'

/** Most of what is round lies in regions of many triangles, not in bits. */
function wholeWalls(regions: readonly Region[]): boolean {
  const round = regions.filter(isRound)
  const area = (some: readonly Region[]) => some.reduce((s, r) => s + r.area, 0)
  return area(round.filter((r) => r.triangles.length >= wallTriangles)) >= 0.7 * area(round)
}

/** Facets many times as large as the mean hold this share of the skin of a drawn part; a scanner's are all alike. */
const largeTimes = 10,
  largeShare = 0.2

/** Whether facets are as a drawn part's are: large where it is flat. Then a face of two of them is one, noise or not. */
function unevenFacets(area: Float64Array, whole: number): boolean {
  const mean = whole / area.length
  return area.reduce((s, a) => s + (a > largeTimes * mean ? a : 0), 0) > largeShare * whole
}

/** Regions whose corners lie on their shapes to a tolerance, grown from the largest triangles on. */
function grouped(
  field: SkinField,
  area: Float64Array,
  whole: number,
  within: number,
  noise: number,
  work: Work,
): Recognised {
  const { mesh } = field
  const { twin } = field.topology
  const n = triangleCount(mesh)
  const size = diagonal(meshBounds(mesh)) || 1
  const { found, of } = surfacesOf(field, area, whole, within, size, work)
  const scan = noise > noisyShare * within && !unevenFacets(area, whole)
  const shapes = () => found.map((r) => r.shape)
  const gather = () => {
    for (const r of found) r.list = []
    of.forEach((r, t) => {
      if (r >= 0) found[r].list.push(t)
    })
  }
  divideFree(field, of, found, within, noise, size, work)
  joinEqual(mesh, twin, of, found, within, scan)
  takeIn(mesh, field, of, found, within)
  // What came in later tells the shapes better; then each border goes where it belongs.
  fitAnew(mesh, found, within, noise)
  settleBorders(field, of, shapes(), within)
  gather()
  fitAnew(mesh, found, within, noise)
  releaseFar(mesh, twin, of, found, within)
  divideFree(field, of, found, within, noise, size, work)
  joinEqual(mesh, twin, of, found, within, scan)
  settleBorders(field, of, shapes(), within)
  if (scan) releaseSpanning(mesh, of, shapes(), farTimes * within)
  absorbNarrow(mesh, field.topology, of, shapes(), scan ? undefined : farTimes * within)
  gather()
  fitAnew(mesh, found, within, noise, mostFitted)
  work.progress(0.95, 'regions')
  const regions: Region[] = []
  const number = new Int32Array(found.length).fill(-1)
  found.forEach((r, i) => {
    const own = r.list.reduce((s, t) => s + area[t], 0)
    if (!r.list.length || (own < leastArea * whole && r.list.length < 6)) return
    number[i] = regions.length
    // A few triangles of a scan lie on one shape as well as on another: they tell none.
    const bit = scan && r.list.length < leastOnScan(n) && (r.shape?.kind !== 'plane' || own < bitArea * whole)
    regions.push({ shape: bit ? null : r.shape, triangles: r.list, area: own })
  })
  return { regions, of: of.map((r) => (r < 0 ? -1 : number[r])), tolerance: within, drawn: false, noise }
}

/** Surfaces grown round seeds, the largest triangles first, with the shape each has if any; and of which each triangle is. */
function surfacesOf(
  field: SkinField,
  area: Float64Array,
  whole: number,
  within: number,
  size: number,
  work: Work,
): { found: { shape: Fitted | null; list: number[] }[]; of: Int32Array } {
  const { mesh } = field
  const n = triangleCount(mesh)
  const order = [...area.keys()].sort((a, b) => area[b] - area[a] || a - b)
  const of = new Int32Array(n).fill(-1)
  const tried = new Uint8Array(n)
  const found: { shape: Fitted | null; list: number[] }[] = []
  let done = 0
  let vain = 0
  for (const seed of order) {
    if (of[seed] >= 0 || tried[seed]) continue
    if (vain > mostVain) break
    checkStop(work)
    work.progress(0.5 * (done / n), `${found.length} regions`)
    const list = surfaceAround(field, seed).filter((t) => of[t] < 0)
    for (const t of list) tried[t] = 1
    done += list.length
    if (!list.length) continue
    const own = list.reduce((s, t) => s + area[t], 0)
    vain = own < 1e-3 * whole ? vain + 1 : 0
    if (list.length < leastTriangles && own < 1e-3 * whole) continue
    const shape = shapeOf(mesh, list, within, size)
    for (const t of list) of[t] = found.length
    found.push({ shape, list })
  }
  // What was not reached hangs together somehow: surfaces to be divided.
  for (let s = 0; s < n; s++) {
    if (tried[s]) continue
    const list = flood(field.topology.twin, s, tried, () => true)
    for (const t of list) of[t] = found.length
    found.push({ shape: null, list })
  }
  return { found, of }
}

/** Triangles with a corner so many tolerances off their region's shape are of another surface, where so many hang together. */
const farTimes = 3
const leastFar = 10

/** A surface that was grown round a soft bend holds some of what lies beyond: that becomes a region of its own, of no shape yet. */
function releaseFar(
  mesh: TriMesh,
  twin: Int32Array,
  of: Int32Array,
  found: { shape: Fitted | null; list: number[] }[],
  within: number,
): void {
  const seen = new Uint8Array(of.length)
  for (const [r, own] of [...found.entries()]) {
    const shape = own.shape
    if (!shape) continue
    const far = new Set(
      own.list.filter((t) =>
        [0, 1, 2].some((c) => Math.abs(offShape(shape, vertex(mesh, mesh.triangles[3 * t + c]))) > farTimes * within),
      ),
    )
    if (far.size < leastFar) continue
    for (const first of far) {
      if (seen[first]) continue
      const part = flood(twin, first, seen, (u) => far.has(u))
      if (part.length < leastFar) continue
      for (const t of part) of[t] = found.length
      found.push({ shape: null, list: part })
    }
    own.list = own.list.filter((t) => of[t] === r)
  }
}

/** Regions without a shape are divided into parts that have one. */
function divideFree(
  field: { mesh: TriMesh; topology: Topology; normals: Float32Array },
  of: Int32Array,
  found: { shape: Fitted | null; list: number[] }[],
  within: number,
  noise: number,
  size: number,
  work: Work,
): void {
  // Bits of a scan's rounded edges tell shapes that are none.
  const least = noise > noisyShare * within ? leastOnScan(of.length) : leastDivided
  const free = found.filter((r) => !r.shape && r.list.length >= least)
  free.forEach((r, i) => {
    work.progress(0.75 + (0.2 * i) / free.length, 'dividing surfaces')
    const tight = Math.min(within, Math.max(3 * noise, within / 4))
    let parts = partsOfFree(field, r.list, tight, size, work)
    // Where facets were divided further, what is told by noise alone misses walls that lie off by the height of their chords.
    if (tight < worthTight * within && explains(parts) < mostExplained * r.list.length) {
      const wider = partsOfFree(field, r.list, within, size, work)
      if (explains(wider) > explains(parts)) parts = wider
    }
    for (const p of parts) {
      for (const t of p.triangles) of[t] = found.length
      found.push({ shape: p.shape, list: p.triangles })
    }
    const taken = new Set(parts.flatMap((p) => p.triangles))
    r.list = r.list.filter((t) => !taken.has(t))
  })
}

const mostExplained = 0.8
const worthTight = 0.6
const explains = (parts: readonly { triangles: readonly number[] }[]) =>
  parts.reduce((s, p) => s + p.triangles.length, 0)

/** A simpler kind serves when it leaves only noise, or its rms is at most so many times that of the other. */
const asWell = 1.25

/** A ring so wide for its tube is told from a cylinder by little. */
const bentSlowly = (s: Shape) => s.kind === 'ring' && s.radius! > 12 * s.thickness!

/** The shapes of regions once more, from all that they hold now. */
function fitAnew(
  mesh: TriMesh,
  found: { shape: Fitted | null; list: number[] }[],
  within: number,
  noise: number,
  most = fewFitted,
): void {
  const size = diagonal(meshBounds(mesh))
  for (const r of found) {
    if (!r.shape || r.list.length < leastTriangles) continue
    const samples = samplesOf(mesh, someOf(r.list, fewFitted))
    const again = (kind: ShapeKind, from = samples): Fitted | null => {
      try {
        const shape = fitKind(kind, from, {}, { lots: 0 })
        return shape.rms <= within && (shape.radius ?? 0) < 3 * size ? shape : null
      } catch (error) {
        if (!(error instanceof StepError)) throw error
        return null
      }
    }
    const own = again(r.shape.kind) ?? r.shape
    // A simpler kind that serves nearly as well is what was meant.
    const simpler = shapeKinds.slice(0, shapeKinds.indexOf(own.kind)).map((kind) => again(kind))
    r.shape =
      simpler.find(
        (x) =>
          x &&
          x.rms <= Math.max(asWell * own.rms, noise, bentSlowly(own) ? within / 2 : 0) &&
          x.inliers >= 0.9 * own.inliers,
      ) ?? own
    if (most > fewFitted && r.list.length > fewFitted)
      r.shape = again(r.shape.kind, samplesOf(mesh, someOf(r.list, most))) ?? r.shape
  }
}

/** A surface of fewer triangles is not divided. */
const leastDivided = 12
const leastOnScan = (triangles: number) => Math.max(24, 5e-4 * triangles)
/** Planes of few triangles may still be large: less than this share of the skin is not. */
const bitArea = 1e-3
/** Of a scan noise is this share of the tolerance or more. */
const noisyShare = 0.1

/** Corners on which kinds are tried. */
const enough = 300
/** Triangles whose corners a region's shape is fitted to: at first, and at last. */
const fewFitted = 1500
const mostFitted = 6000

/** A shape whose rms is below this share of the tolerance leaves only noise: no other kind is tried. */
const onlyNoise = 0.4

/** The simplest shape of a region, or null where none holds. */
function shapeOf(mesh: TriMesh, list: readonly number[], within: number, size: number): Fitted | null {
  const samples = samplesOf(mesh, someOf(list, fewFitted))
  const tried = (fit: () => Fitted): Fitted | null => {
    try {
      return fit()
    } catch (error) {
      if (error instanceof StepError) return null
      throw error
    }
  }
  let best: Fitted | null = null
  for (const kind of shapeKinds) {
    const f = tried(() => fitKind(kind, thinned(samples, enough), {}, { lots: 4, patient: false }))
    if (!f || Math.max(f.radius ?? 0, f.thickness ?? 0) > 3 * size) continue
    if (f.rms <= onlyNoise * within && f.inliers >= 0.97) return f
    if (f.rms > within || f.inliers < mostOn || (f.kind === 'cone' && (f.halfAngle! < 0.5 || f.halfAngle! > 89.5)))
      continue
    // A kind that comes later has to serve much better.
    if (!best || f.rms < 0.5 * best.rms) best = f
  }
  return best
}

/** Single corners of a scan stick out. */
const nearlyAll = 0.97

/** Whether the corners of some triangles lie on a shape. */
function lieOn(mesh: TriMesh, shape: Fitted, list: readonly number[], within: number, most = nearlyAll): boolean {
  const step = Math.max(1, Math.floor(list.length / 200))
  let [on, all] = [0, 0]
  for (let i = 0; i < list.length; i += step)
    for (let c = 0; c < 3; c++) {
      all++
      if (Math.abs(offShape(shape, vertex(mesh, mesh.triangles[3 * list[i] + c]))) <= within) on++
    }
  return on >= most * all
}

/** Two parts of one wall, each of too little to tell it by itself, tell it together: the shape of both, or null. */
function asOne(
  mesh: TriMesh,
  a: { shape: Fitted | null; list: number[] },
  b: { shape: Fitted | null; list: number[] },
  within: number,
  scan: boolean,
): Fitted | null {
  const [p, q] = [a.shape, b.shape]
  if (!p || !q || p.kind !== q.kind || p.kind === 'plane' || p.inside !== q.inside) return null
  const list = [...a.list, ...b.list]
  try {
    const shape = fitKind(p.kind, samplesOf(mesh, someOf(list, fewFitted)), {}, { lots: 0 })
    const [far, share] = scan ? [bitWithin * within, bitOn] : [1.5 * within, nearlyAll]
    if (shape.rms <= within && [a, b].every(({ list }) => lieOn(mesh, shape, list, far, share))) return shape
  } catch (error) {
    if (!(error instanceof StepError)) throw error
  }
  return null
}

/** A bit has less than this share of its neighbour's triangles; so much of it lies within so many tolerances of that one's surface. */
const bitOf = 0.6
const bitWithin = 2.5
const bitOn = 0.9

/** Neighbouring regions on one shape become one. */
function joinEqual(
  mesh: TriMesh,
  twin: Int32Array,
  of: Int32Array,
  found: { shape: Fitted | null; list: number[] }[],
  within: number,
  scan: boolean,
): void {
  // Pairs that are known to be two, by what both held when they were looked at.
  const apart = new Map<number, number>()
  for (let again = true; again;) {
    again = false
    for (let h = 0; h < twin.length; h++) {
      if (twin[h] < 0) continue
      const [a, b] = [of[triangleOf(h)], of[triangleOf(twin[h])]]
      if (a < 0 || b < 0 || a === b) continue
      const [big, small] = found[a].list.length >= found[b].list.length ? [a, b] : [b, a]
      let shape = found[big].shape
      const pair = big * found.length + small
      const held = found[big].list.length * of.length + found[small].list.length
      if (!shape || apart.get(pair) === held) continue
      apart.set(pair, held)
      // Deep in a bore a scan is noisier than elsewhere; what is left of its wall there is told as this or that.
      const bit = scan && found[small].list.length < bitOf * found[big].list.length
      const on = bit
        ? lieOn(mesh, shape, found[small].list, bitWithin * within, bitOn)
        : lieOn(mesh, shape, found[small].list, 1.5 * within)
      if (!on) {
        shape = asOne(mesh, found[big], found[small], within, scan)
        if (!shape) continue
        found[big].shape = shape
      }
      // Facets that run on: the same sense, not the other side of a thin wall.
      const t = found[small].list[0]
      const p = vertex(mesh, mesh.triangles[3 * t])
      if (!facesAs(mesh, shape, t, p)) continue
      for (const k of found[small].list) {
        of[k] = big
        found[big].list.push(k)
      }
      found[small].list = []
      again = true
    }
  }
}

function facesAs(mesh: TriMesh, shape: Fitted, t: number, p: Vec3): boolean {
  const n = crossOf(mesh, t)
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
