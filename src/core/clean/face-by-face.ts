/**
 * A mesh as an exact solid, face by face: recognised surfaces replace their triangles, edges are where neighbours meet. What was not
 * recognised, or cannot be bounded, stays as flat facets; so it degrades by face, and never fails whole.
 */
import { StepError } from '@/core/base/step-error'
import { span, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import type { BoundBody } from '@/core/bodies/bounded'
import type { Fitted } from '@/core/fit/fit-shape'
import { boundedBody } from '@/core/kernels/exact/bounded'
import { findPieces, type Topology } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea } from '@/core/mesh/triangle'
import { boundOf, type Bounded } from './bound'
import { chartsOf } from './charts'
import type { FittedFace } from './fitted-face'
import { isFacet, patchesOf, type Patches } from './patches'

export interface FaceByFace {
  readonly body: ExactBody
  readonly patches: Patches
  /** Patches that were recognised but had to stay facets. */
  readonly given: number
  /** Fitted faces, by their patches. */
  readonly fitted: ReadonlyMap<number, FittedFace>
}

/** So many times what spoils the body is made facets of and all is built anew. */
const mostRounds = 8

/** Patches of each connected piece of the skin: of one body the outer one first, then its hollows, which face inward. */
function shellsOf(mesh: TriMesh, topology: Topology, p: Patches): BoundBody['shells'] {
  const { piece, count } = findPieces(mesh, topology)
  const lists = Array.from({ length: count }, () => [] as number[])
  p.patches.forEach((patch, i) => lists[piece[patch.triangles[0]]].push(i))
  const outward = (list: readonly number[]) => {
    const triangles = list.flatMap((i) => p.patches[i].triangles)
    return meshVolume(mesh, Uint32Array.from(triangles.flatMap((t) => [...mesh.triangles.subarray(3 * t, 3 * t + 3)])))
  }
  if (count === 1) return [{ outer: lists[0], hollows: [] }]
  const [outer, ...hollows] = lists.map((list) => ({ list, volume: outward(list) })).sort((a, b) => b.volume - a.volume)
  return [{ outer: outer.list, hollows: hollows.map((h) => h.list) }]
}

const mostPatches = 4000

/** A surface of more triangles is never made facets of: the kernel could not take them. */
const mostGiven = 5000

/** Of the faces of a scan that spoil the body, those of less than this share of the largest go first. */
const bitOf = 0.5

/** An exact face and its triangles differ by this share of their area at most, beyond what a border that strays takes. */
const areaOff = 0.25

/** Faces of a scan draw back so many times from what lies on nothing, by so many rings of triangles each. */
const mostRetreats = 3
const ringsBack = 2

/** Takes triangles of some regions, in rings from what is of no shape, out of them; returns how many. */
function drawBack(
  mesh: TriMesh,
  label: Int32Array,
  regions: ReadonlySet<number>,
  shaped: (t: number) => boolean,
): number {
  let gone = 0
  for (let ring = 0; ring < ringsBack; ring++) {
    const beside = new Uint8Array(vertexCount(mesh))
    for (let t = 0; t < label.length; t++)
      if (!shaped(t)) for (let c = 0; c < 3; c++) beside[mesh.triangles[3 * t + c]] = 1
    for (let t = 0; t < label.length; t++)
      if (regions.has(label[t]) && [0, 1, 2].some((c) => beside[mesh.triangles[3 * t + c]])) {
        label[t] = -1
        gone++
      }
  }
  return gone
}

/** Patches whose face came out as another part of its surface: its area tells. */
function otherwise(
  mesh: TriMesh,
  p: Patches,
  patch: readonly number[],
  body: ExactBody,
  moved?: ArrayLike<number>,
): number[] {
  const { faces } = body.parts
  if (faces.length !== patch.length) return []
  return faces.flatMap((f, i) => {
    const own = p.patches[patch[i]]
    const area = own.triangles.reduce((s, t) => s + triangleArea(mesh, t), 0)
    // A face grows over what was a fillet by more than the fillet's own area.
    const more = moved ? 2 * own.triangles.reduce((s, t) => s + (moved[t] ? triangleArea(mesh, t) : 0), 0) : 0
    return !isFacet(own) && Math.abs(f.area - area) > areaOff * Math.max(area, f.area) + more ? [patch[i]] : []
  })
}

/** Nor do their volumes by more than this share: facets and fillets that are left out take less. */
const volumeOff = 0.12

export interface FaceByFaceChoice {
  /** mm: how far the mesh may lie off its surfaces. */
  readonly close: number
  /** Borders may stray by about an edge. */
  readonly strays: boolean
  /** By so many edges at most; left out: by a few. */
  readonly strayEdges?: number
  readonly name: string
  readonly closed: boolean
  /** Triangles of fillets that are left out, given to the faces beside, and how far they lie off those at most, mm. */
  readonly moved?: { readonly flags: ArrayLike<number>; readonly reach: number }
  /** Pieces that lie on no shape become fitted faces. */
  readonly fit?: boolean
}

/** Which regions still have faces of their own, round after round: what spoils the body is given up. */
class Kept {
  readonly shapes: (Fitted | null)[]
  readonly label: Int32Array
  readonly charts: ReturnType<typeof chartsOf> | undefined
  private readonly size: Uint32Array
  private readonly retreats: Uint8Array
  constructor(
    private readonly mesh: TriMesh,
    topology: Topology,
    region: ArrayLike<number>,
    shapes: readonly (Fitted | null)[],
    private readonly strays: boolean,
    fit: boolean | undefined,
  ) {
    this.shapes = [...shapes]
    this.label = Int32Array.from({ length: triangleCount(mesh) }, (_, t) => region[t])
    this.size = new Uint32Array(shapes.length)
    for (const r of this.label) if (r >= 0) this.size[r]++
    this.retreats = new Uint8Array(shapes.length)
    this.charts = fit ? chartsOf(mesh, topology, this.shaped) : undefined
  }

  private readonly shaped = (t: number): boolean => this.label[t] >= 0 && this.shapes[this.label[t]] !== null

  /** A fitted face that spoils the body becomes facets before anything else does. Gives how many did. */
  unfit(p: Patches, patches: readonly number[]): number {
    const some = patches.filter((i) => p.patches[i].chart >= 0)
    for (const i of some) for (const t of p.patches[i].triangles) this.charts![t] = -1
    return some.length
  }

  /** Gives up what spoils the body of some patches; how much that was, 0 when nothing is left to give. */
  giveUp(p: Patches, patches: readonly number[], unclear: Bounded['unclear']): number {
    const { shapes, size } = this
    const regionOf = (i: number) => p.patches[i].region
    const dropped = this.unfit(p, patches)
    if (dropped) return dropped
    // Where a spoilt face runs into another with no clear cut, the smaller of the two is hardly a face of its own.
    const smaller = unclear
      .filter((pair) => pair.some((i) => patches.includes(i)))
      .map(([l, r]) => (size[regionOf(l)] < size[regionOf(r)] ? regionOf(l) : regionOf(r)))
      .filter((r) => shapes[r] && size[r] <= mostGiven)
    for (const r of smaller) shapes[r] = null
    if (smaller.length) return smaller.length
    const given = patches.map(regionOf).filter((r) => r >= 0 && shapes[r] && size[r] <= mostGiven)
    const gone = this.strays ? this.retreat(p, patches) : 0
    if (gone) return gone
    // Bits go before the large faces that they spoil.
    const most = given.reduce((m, r) => Math.max(m, size[r]), 0)
    const bits = this.strays ? given.filter((r) => size[r] < bitOf * most) : []
    const regions = new Set(bits.length ? bits : given)
    for (const r of regions) shapes[r] = null
    return regions.size
  }

  /** The border of a scan's face beside what lies on nothing is ragged: the face draws back from it before it is given up. */
  private retreat(p: Patches, patches: readonly number[]): number {
    const back = patches.filter((i) => p.patches[i].shape && this.retreats[p.patches[i].region] < mostRetreats)
    const drawn = new Set(back.map((i) => p.patches[i].region))
    for (const r of drawn) this.retreats[r]++
    return drawBack(this.mesh, this.label, drawn, this.shaped)
  }
}

/** Round faces beside facets: what is given up where the kernel cannot say what is wrong. */
const besideFacets = (p: Patches): number[] =>
  p.chains.flatMap((c) => {
    if (c.right < 0) return []
    const [l, r] = [p.patches[c.left], p.patches[c.right]]
    return !l.shape && r.shape && r.shape.kind !== 'plane'
      ? [c.right]
      : !r.shape && l.shape && l.shape.kind !== 'plane'
        ? [c.left]
        : []
  })

/**
 * @param region of each triangle its region's number, -1 for none
 */
export async function faceByFace(
  mesh: TriMesh,
  topology: Topology,
  region: ArrayLike<number>,
  shapes: readonly (Fitted | null)[],
  { close, strays, strayEdges, name, closed, moved, fit }: FaceByFaceChoice,
  work: Work,
): Promise<FaceByFace> {
  const kept = new Kept(mesh, topology, region, shapes, strays, fit)
  const skin = meshVolume(mesh)
  let given = 0
  for (let round = 0; ; round++) {
    const p = patchesOf(mesh, topology, kept.label, kept.shapes, kept.charts)
    // Of a fine scan so many facets take the kernel long, round after round: one that was brought down serves.
    if (round && p.patches.length > mostPatches && p.of.length > 4 * mostPatches)
      throw new StepError('not-valid', 'Too much of the scan lies on no surface.')
    const made = boundOf(
      mesh,
      p,
      shellsOf(mesh, topology, p),
      closed,
      { close, strays, strayEdges, moved },
      span(work, 0, 0.4),
    )
    if (made.failed.size && round < mostRounds) {
      const more = kept.giveUp(p, [...made.failed], made.unclear)
      given += more
      if (more) continue
    }
    let bound = await boundedBody(made.body, 'Clean solid', name, made.gap, span(work, 0.4, 1))
    // The kernel may leave out what it cannot join: the volume tells.
    if (closed && 'body' in bound && Math.abs(bound.body.facts.volume - skin) > volumeOff * skin)
      bound = { faulty: [], why: new StepError('not-valid', 'The body that its faces close is another one.') }
    if ('body' in bound) {
      const wrong = otherwise(mesh, p, made.patch, bound.body, moved?.flags)
      const more = round < mostRounds ? kept.giveUp(p, wrong, made.unclear) : 0
      if (!more) return { body: bound.body, patches: p, given, fitted: made.fitted }
      given += more
      continue
    }
    // What is not sound becomes facets; fitted faces go first where it cannot be told.
    const faulty = bound.faulty.map((f) => made.patch[f]).filter((i) => !isFacet(p.patches[i]))
    if (!faulty.length && round < mostRounds && kept.unfit(p, [...p.patches.keys()])) continue
    const more = kept.giveUp(p, faulty.length ? faulty : besideFacets(p), made.unclear)
    if (!more || round >= mostRounds) throw bound.why
    given += more
  }
}
