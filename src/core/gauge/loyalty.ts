/** How loyal a mended skin is to what was scanned: how much of the sound skin is still there, how far off the rest lies, and what was made up. */
import { boxOf, flagInBox, type Box } from '@/core/mesh/in-box'
import { NearestInGrid } from '@/core/mesh/nearest'
import { meshVolume } from '@/core/mesh/measures'
import { diagonal, keepTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea } from '@/core/mesh/triangle'
import { buildTopology } from '@/core/mesh/topology'
import { checkStop, quiet, type Work } from '@/core/base/work'
import { shareBeyond, type TwoSided } from './deviation'
import { WindingNumber } from './winding'

export interface LoyaltyFigures {
  /** Shares of the input's sound area that does not lie inside, 0 to 1: bit-equal or within `near`; further off but within `far`; beyond. */
  readonly kept: number
  readonly moved: number
  readonly lost: number
  /** Share of the input's sound area whose triangles are in the result to the last digit; null where that was not looked at. */
  readonly equal: number | null
  /** Share of the input's sound area that went because it lies inside the result, where parts were united. */
  readonly inside: number
  /** Greatest distance of the input's sound skin from the result, mm. */
  readonly greatest: number
  /** Share of the result's area that lies further than `near` from the input. */
  readonly fresh: number
  /** Volumes, mm³, of skins that are closed. */
  readonly volumeBefore: number | null
  readonly volumeAfter: number | null
  /** The distances that were told apart, mm. */
  readonly near: number
  readonly far: number
}

export interface Loyalty extends LoyaltyFigures {
  readonly equal: number
  /** For each triangle of input and result its fate, see `fates`. */
  readonly inputFates: Uint8Array
  readonly resultFates: Uint8Array
}

/** What became of a triangle: of the input kept to inside, of the result kept, moved or fresh. What was a fault itself does not count. */
export const fates = { kept: 0, moved: 1, lost: 2, fresh: 2, unsound: 3, inside: 4 } as const

/** Shares of the diagonal: within the first the skin counts as kept, beyond the second as lost. */
const nearShare = 1 / 2000,
  farShare = 1 / 500
/** Samples lie this share of the diagonal apart, or so far that this many cover what changed; at most 64 on a triangle. */
const cellShare = 1 / 250,
  mostSamples = 40_000,
  mostAcross = 8

/** Bits of the coordinates; the two zeros count as one. */
const bitsOf = (p: Float32Array): Int32Array => {
  const bits = new Int32Array(p.length)
  new Float32Array(bits.buffer).set(p)
  for (let i = 0; i < bits.length; i++) if (bits[i] === -2147483648) bits[i] = 0
  return bits
}

/** Finds triangles by their corners, bit for bit, in whichever order those stand. Open addressing; 1 M triangles take a tenth of a second. */
class TriangleTable {
  private readonly slots: Int32Array
  private readonly bits: Int32Array
  constructor(private readonly mesh: TriMesh) {
    const n = triangleCount(mesh)
    this.slots = new Int32Array(1 << Math.ceil(Math.log2(2 * n + 2))).fill(-1)
    this.bits = bitsOf(mesh.positions)
    for (let t = 0; t < n; t++) {
      let at = this.start(this.bits, mesh.triangles, t)
      while (this.slots[at] >= 0) at = (at + 1) & (this.slots.length - 1)
      this.slots[at] = t
    }
  }

  /** The sum of its corners' hashes does not ask for their order (finaliser of MurmurHash3, Appleby 2011, public domain). */
  private start(bits: Int32Array, k: Uint32Array, t: number): number {
    let sum = 0
    for (let c = 0; c < 3; c++) {
      const o = 3 * k[3 * t + c]
      let h =
        (Math.imul(bits[o], 0x9e3779b1) ^ Math.imul(bits[o + 1], 0x85ebca6b) ^ Math.imul(bits[o + 2], 0xc2b2ae35)) | 0
      h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
      h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
      sum = (sum + (h ^ (h >>> 16))) | 0
    }
    return (sum ^ (sum >>> 15)) & (this.slots.length - 1)
  }

  /** The number of a triangle with the same corners as triangle `t` of another mesh (its coordinates as `bitsOf` gives them), or -1. */
  find(bits: Int32Array, k: Uint32Array, t: number): number {
    const mine = this.mesh.triangles
    for (let at = this.start(bits, k, t); this.slots[at] >= 0; at = (at + 1) & (this.slots.length - 1)) {
      const u = this.slots[at]
      let used = 0
      for (let c = 0; c < 3; c++) {
        const o = 3 * k[3 * t + c]
        for (let d = 0; d < 3; d++) {
          const q = 3 * mine[3 * u + d]
          if (used & (1 << d)) continue
          if (bits[o] !== this.bits[q] || bits[o + 1] !== this.bits[q + 1] || bits[o + 2] !== this.bits[q + 2]) continue
          used |= 1 << d
          break
        }
      }
      if (used === 7) return u
    }
    return -1
  }
}

function sameNumbers(a: Uint32Array, b: Uint32Array): boolean {
  if (a.length !== b.length) return false
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false
  return true
}

/** Beyond the box in question by this share of the diagonal, the rest of a skin is looked at only when it must be. */
const roomShare = 0.02

/** Distances from a skin for questions from within a box: what lies far from the box is searched only when nothing nearer answers. Made when first asked. */
class NearSearch {
  private near: NearestInGrid | null = null
  private whole: NearestInGrid | null = null
  private readonly room: number
  constructor(
    private readonly mesh: TriMesh,
    private readonly box: Box,
    size: number,
  ) {
    this.room = roomShare * size
  }

  private part(): TriMesh {
    const keep = flagInBox(this.mesh, this.box, this.room)
    const kept = keep.reduce((n, f) => n + f, 0)
    // Little to be won by leaving out a few.
    return kept > 0.7 * keep.length ? this.mesh : keepTriangles(this.mesh, keep).mesh
  }

  /** Squared distance, mm²; Infinity when nothing lies within `within`. */
  square(x: number, y: number, z: number, within: number): number {
    if (!this.near) {
      const part = this.part()
      this.near = new NearestInGrid(part)
      if (part === this.mesh) this.whole = this.near
    }
    const d = this.near.square(x, y, z, within)
    if (d <= this.room * this.room || this.whole === this.near) return d
    if (within <= this.room) return d
    this.whole ??= new NearestInGrid(this.mesh)
    return Math.min(d, this.whole.square(x, y, z, within))
  }
}

/** Calls back for the middles of the small triangles that a triangle falls into, no further apart than a cell. */
function eachSample(
  mesh: TriMesh,
  t: number,
  cell: number,
  area: number,
  visit: (x: number, y: number, z: number) => void,
) {
  const { positions: p, triangles: k } = mesh
  const n = Math.min(mostAcross, Math.max(1, Math.ceil(Math.sqrt((2 * area) / (cell * cell)))))
  const a = 3 * k[3 * t],
    b = 3 * k[3 * t + 1],
    c = 3 * k[3 * t + 2]
  for (let i = 0; i < n; i++)
    for (let j = 0; i + j < n; j++)
      for (let up = 1; up <= (i + j < n - 1 ? 2 : 1); up++) {
        const v = (i + up / 3) / n,
          w = (j + up / 3) / n,
          u = 1 - v - w
        visit(
          u * p[a] + v * p[b] + w * p[c],
          u * p[a + 1] + v * p[b + 1] + w * p[c + 1],
          u * p[a + 2] + v * p[b + 2] + w * p[c + 2],
        )
      }
}

/** Whether a triangle whose middle is inside stays clear of the skin with its corners, so that all of it is inside. */
function deepInside(mesh: TriMesh, t: number, skin: NearSearch, solid: WindingNumber, near: number): boolean {
  const { positions: p, triangles: k } = mesh
  const at = [0, 0, 0]
  let reach = near
  for (let c = 0; c < 3; c++) for (let a = 0; a < 3; a++) at[a] += p[3 * k[3 * t + c] + a] / 3
  for (let c = 0; c < 3; c++) {
    const o = 3 * k[3 * t + c]
    reach = Math.max(reach, Math.hypot(p[o] - at[0], p[o + 1] - at[1], p[o + 2] - at[2]))
  }
  return skin.square(at[0], at[1], at[2], reach) === Infinity && solid.at(at[0], at[1], at[2]) > 0.5
}

/** Worst distance of a triangle's samples from a skin, mm. */
function worst(mesh: TriMesh, t: number, to: NearSearch, cell: number, area: number): number {
  let most = 0
  eachSample(mesh, t, cell, area, (x, y, z) => {
    most = Math.max(most, to.square(x, y, z, Infinity))
  })
  return Math.sqrt(most)
}

/** Volume of a closed skin, mm³, else null. */
const volumeOf = (mesh: TriMesh): number | null =>
  triangleCount(mesh) && buildTopology(mesh).openEdges === 0 ? meshVolume(mesh) : null

/** The same figures from a deviation of the result (first) against its input (second) that was measured already. */
export function loyaltyOfDeviation({ samples }: TwoSided, input: TriMesh, result: TriMesh): LoyaltyFigures {
  const size = diagonal(meshBounds(input)) || 1
  const near = nearShare * size,
    far = farShare * size
  const lost = shareBeyond(samples.back, far),
    off = shareBeyond(samples.back, near)
  return {
    ...{ kept: 1 - off, moved: off - lost, lost, inside: 0, equal: null, near, far },
    fresh: shareBeyond(samples.there, near),
    greatest: samples.back.distance.reduce((most, d) => Math.max(most, Math.abs(d)), 0),
    volumeBefore: volumeOf(input),
    volumeAfter: volumeOf(result),
  }
}

interface Choice {
  readonly unsound?: Uint8Array
  readonly united?: boolean
  readonly quick?: boolean
  /** What is not there any more was taken out: it is lost, without asking how far off. */
  readonly gone?: boolean
  /** Whether input and result are closed, when that is known. */
  readonly closed?: readonly [boolean, boolean]
  readonly work?: Work
}

/** Input and result side by side, with the distances that are told apart, mm. */
interface Pair {
  readonly input: TriMesh
  readonly result: TriMesh
  readonly size: number
  readonly near: number
  readonly far: number
  /** How far a triangle's corners have moved, where both have the same triangles between the same corners; else null. */
  readonly movedBy: ((t: number) => number) | null
}

function pairOf(input: TriMesh, result: TriMesh): Pair {
  const size = diagonal(meshBounds(input)) || 1
  // With the same triangles between the same corners, none lies further off than its corners have moved.
  const corresponds =
    input.positions.length === result.positions.length &&
    (input.triangles === result.triangles || sameNumbers(input.triangles, result.triangles))
  const movedBy = (t: number) => {
    let most = 0
    for (let c = 0; c < 3; c++) {
      const o = 3 * input.triangles[3 * t + c]
      const p = input.positions,
        q = result.positions
      most = Math.max(most, (p[o] - q[o]) ** 2 + (p[o + 1] - q[o + 1]) ** 2 + (p[o + 2] - q[o + 2]) ** 2)
    }
    return Math.sqrt(most)
  }
  return { input, result, size, near: nearShare * size, far: farShare * size, movedBy: corresponds ? movedBy : null }
}

/** How far apart samples lie where so much area has changed, mm. */
const cellOf = ({ size }: Pair, area: number) => Math.max(cellShare * size, Math.sqrt((2 * area) / mostSamples))

interface Matched {
  readonly inputFates: Uint8Array
  /** 255 for triangles that have no twin in the input. */
  readonly resultFates: Uint8Array
  /** Sound area of the input, mm², and what of it is in the result to the last digit. */
  readonly total: number
  readonly equal: number
  /** Input triangles without a twin, and their area. */
  readonly open: readonly number[]
  readonly openArea: number
}

/** Finds the triangles that are in both to the last digit. */
function match({ input, result, movedBy }: Pair, unsound: Uint8Array | undefined): Matched {
  const there = movedBy ? null : new TriangleTable(result)
  const bits = there && bitsOf(input.positions)
  const twinOf = (t: number) => (there ? there.find(bits!, input.triangles, t) : movedBy!(t) === 0 ? t : -1)
  const inputFates = new Uint8Array(triangleCount(input)),
    resultFates = new Uint8Array(triangleCount(result)).fill(255)
  let total = 0,
    equal = 0,
    openArea = 0
  const open: number[] = []
  for (let t = 0; t < inputFates.length; t++) {
    const twin = twinOf(t)
    if (twin >= 0) resultFates[twin] = 0
    if (unsound?.[t]) {
      inputFates[t] = fates.unsound
      continue
    }
    const area = triangleArea(input, t)
    total += area
    if (twin < 0) {
      open.push(t)
      openArea += area
    } else equal += area
  }
  return { inputFates, resultFates, total, equal, open, openArea }
}

/** The fates of input triangles without a twin: areas kept, moved and lost, area that lies inside, and the greatest distance. Changes `inputFates`. */
function judgeInput(
  pair: Pair,
  { inputFates, open, openArea }: Matched,
  { united = false, quick = false, gone = false, work = quiet }: Choice,
): { changed: readonly number[]; inside: number; greatest: number } {
  const { input, result, size, near, far, movedBy } = pair
  const changed = [0, 0, 0]
  let inside = 0,
    greatest = 0,
    looked = 0
  const empty = !triangleCount(result)
  const solid = united && open.length && !empty ? new WindingNumber(result) : null
  const toResult = open.length && !empty && !gone ? new NearSearch(result, boxOf(input, open), size) : null
  const cell = cellOf(pair, openArea)
  /** The greatest squared distance of a triangle's samples, and how many of them lie inside the result. */
  const sampled = (t: number, area: number) => {
    let most = 0,
      samples = 0,
      within = 0
    const by = movedBy ? movedBy(t) : Infinity
    if (by <= near) most = by * by
    else if (solid && toResult && deepInside(input, t, toResult, solid, near)) samples = within = 1
    else if (toResult)
      eachSample(input, t, cell, area, (x, y, z) => {
        samples++
        if (solid && toResult.square(x, y, z, near) === Infinity && solid.at(x, y, z) > 0.5) within++
        else most = Math.max(most, toResult.square(x, y, z, Infinity))
      })
    return { most, samples, within }
  }
  const step = quick ? Math.max(1, Math.floor(open.length / mostSamples)) : 1
  for (let i = 0; i < open.length; i += step) {
    const t = open[i]
    if (i % 1024 < step) {
      checkStop(work)
      work.progress((0.5 * i) / open.length, 'measuring what was kept')
    }
    const area = triangleArea(input, t)
    looked += area
    const { most, samples, within } = sampled(t, area)
    if (samples && within === samples) {
      inputFates[t] = fates.inside
      inside += area
      continue
    }
    const part = samples ? within / samples : 0
    inside += part * area
    const d = toResult ? Math.sqrt(most) : size
    if (d > greatest && !gone) greatest = d
    const fate = d <= near ? fates.kept : d <= far ? fates.moved : fates.lost
    inputFates[t] = fate
    changed[fate] += (1 - part) * area
  }
  const weight = looked > 0 ? openArea / looked : 1
  return { changed: changed.map((area) => weight * area), inside: weight * inside, greatest }
}

/** The fates of result triangles that were not in the input; gives the area of what is new. Changes `resultFates`. */
function judgeResult(
  pair: Pair,
  { inputFates, resultFates }: Matched,
  { quick = false, work = quiet }: Choice,
): number {
  const { input, result, size, near, far, movedBy } = pair
  const made: number[] = []
  let madeArea = 0
  for (let t = 0; t < resultFates.length; t++)
    if (resultFates[t] === 255) {
      made.push(t)
      madeArea += triangleArea(result, t)
    }
  const cell = cellOf(pair, madeArea)
  const toInput = made.length && inputFates.length ? new NearSearch(input, boxOf(result, made), size) : null
  const step = quick ? Math.max(1, Math.floor(made.length / mostSamples)) : 1
  let fresh = 0,
    seen = 0
  for (let i = 0; i < made.length; i += step) {
    const t = made[i]
    if (i % 1024 < step) {
      checkStop(work)
      work.progress(0.5 + (0.5 * i) / made.length, 'measuring what is new')
    }
    const area = triangleArea(result, t)
    seen += area
    const by = movedBy ? movedBy(t) : Infinity
    const d = by <= near ? by : toInput ? worst(result, t, toInput, cell, area) : size
    resultFates[t] = d <= near ? 0 : d <= far ? 1 : 2
    if (d > near) fresh += area
  }
  return seen > 0 ? fresh * (madeArea / seen) : fresh
}

/**
 * Measures a result against what it was made of. `unsound`: 1 for input triangles that are faults by themselves (without area, folded) and
 * need not be kept. `united`: what lies inside the closed result went by right and counts apart. `quick`: where much has changed only every
 * so many triangles are measured; fates are those of the measured ones then. Triangles that are the same to the last digit cost nothing but
 * the comparison.
 */
export function loyaltyOf(input: TriMesh, result: TriMesh, choice: Choice = {}): Loyalty {
  const pair = pairOf(input, result)
  const matched = match(pair, choice.unsound)
  const { inputFates, resultFates, total, equal } = matched
  const { changed, inside, greatest } = judgeInput(pair, matched, choice)
  const fresh = judgeResult(pair, matched, choice)
  let whole = 0
  if (fresh > 0) for (let t = 0; t < resultFates.length; t++) whole += triangleArea(result, t)
  const share = (part: number, of: number, none: number) => (of > 0 ? part / of : none)
  const { closed } = choice
  const volume = (mesh: TriMesh, known: boolean | undefined) =>
    known === undefined ? volumeOf(mesh) : known ? meshVolume(mesh) : null
  return {
    kept: share(equal + changed[0], total - inside, 1),
    moved: share(changed[1], total - inside, 0),
    lost: share(changed[2], total - inside, 0),
    inside: share(inside, total, 0),
    equal: share(equal, total - inside, 1),
    greatest,
    fresh: share(fresh, whole, 0),
    volumeBefore: volume(input, closed?.[0]),
    volumeAfter: volume(result, closed?.[1]),
    near: pair.near,
    far: pair.far,
    inputFates,
    resultFates,
  }
}

/** More than this share of the sound skin may not be lost without a warning. */
export const mostLost = 0.005

/** Whether the facts of a step tell of more sound skin lost than may be. */
export const isLoss = (facts: { readonly [key: string]: unknown }): boolean => Number(facts.lost ?? 0) > mostLost

const percent = (share: number): string => {
  const p = 100 * share
  // Nearly all is not all: 99.96 % must not read 100 %.
  const rounded = share >= 1 ? 100 : share > 0.999 ? Math.floor(p * 100) / 100 : Math.round(p * 10) / 10
  return `${rounded} %`
}

/** "99.8 % of the skin kept, 2.1 % new". */
export const loyaltyWords = (l: Pick<LoyaltyFigures, 'lost' | 'fresh' | 'inside'>): string =>
  [
    `${percent(1 - l.lost)} of the skin kept`,
    ...(l.fresh > 0.0005 ? [`${percent(l.fresh)} new`] : []),
    ...(l.inside > 0.0005 ? [`${percent(l.inside)} lay inside and went`] : []),
  ].join(', ')

/** What steps tell of it; shares from 0 to 1, lengths in mm, volumes in mm³. */
export const loyaltyFacts = (l: LoyaltyFigures) => ({
  kept: 1 - l.lost,
  lost: l.lost,
  ...(l.inside > 0 ? { inside: l.inside } : {}),
  ...(l.equal === null ? {} : { unmoved: l.equal }),
  fresh: l.fresh,
  keptWithinMm: l.greatest,
  volumeBefore: l.volumeBefore,
  volumeAfter: l.volumeAfter,
})

/** The warning of a result that lost more than it may, or none. */
export const loyaltyWarning = (l: Pick<LoyaltyFigures, 'lost' | 'greatest'>): string[] =>
  l.lost > mostLost
    ? [
        `${percent(l.lost)} of the sound skin is lost, up to ${l.greatest.toPrecision(3)} mm off. "Show what was kept" shows where.`,
      ]
    : []
