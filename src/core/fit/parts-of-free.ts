/**
 * A surface that none of the shapes holds as a whole, divided: shapes are fitted to small patches of it, grown as far as the surface lies on
 * them, and the one that explains most hanging together is taken; then again in what is left (after Schnabel, Wahl & Klein 2007, judged by
 * the connected region that a candidate explains).
 */
import type { SkinField } from '@/core/find/smooth-surface'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'
import { dot, type Vec3 } from '@/core/math/vec'
import { triangleOf } from '@/core/mesh/topology'
import { triangleArea } from '@/core/mesh/triangle'
import { fitKind, type Fitted } from './fit-shape'
import { samplesOf, someOf, thinned } from './samples'
import { normalOf, offsFrom, type ShapeKind } from './shape'

export interface Part {
  readonly shape: Fitted
  readonly triangles: number[]
}

/** Triangles of a patch that a shape is guessed from, and how many patches are tried in what is left each time. */
const patchSizes = [14, 36, 110]
const widePatches = [60, 220]
const seeds = 8
const moreSeeds = 40
/** A surface of more triangles is looked at by the wider patches. */
const large = 1500
/** A kind that a patch grows by so many times with is what was meant: later ones are not tried. */
const grownWell = 4
/** Corners that a candidate is fitted to at most. */
const enough = 110
/** A part has to have so many triangles. */
const leastPart = 10
/** A part of fewer triangles has to be this share of the surface. */
const fewTriangles = 60
const leastShare = 0.02
/** Triangles face as their shape does, by this cosine. */
const facing = Math.cos((30 * Math.PI) / 180)
/** A kind that comes later has to explain so much more than a simpler one. */
const worth = 1.15
const kinds: readonly ShapeKind[] = ['plane', 'cylinder', 'cone', 'sphere', 'ring']

/** What is left of a surface while parts are taken from it, with walks over what hangs together. */
class Rest {
  /** 1 for what is not yet in a part; and in which walk a triangle was met last. */
  private readonly left: Uint8Array
  private readonly met: Int32Array
  private readonly areas = new Map<number, number>()
  private walk = 0
  triangles: number[]

  constructor(
    private readonly field: SkinField,
    list: readonly number[],
  ) {
    const count = field.mesh.triangles.length / 3
    this.left = new Uint8Array(count)
    this.met = new Int32Array(count)
    this.triangles = [...list]
    for (const t of list) {
      this.left[t] = 1
      this.areas.set(t, triangleArea(field.mesh, t))
    }
  }
  areaOf(some: readonly number[]): number {
    return some.reduce((a, t) => a + this.areas.get(t)!, 0)
  }
  /** What hangs together with some triangles, those first, as far as `keep` holds, and no more than so many. Changes `some`. */
  walked(some: number[], most: number, keep: (t: number) => boolean): number[] {
    const { left, met } = this
    const { twin } = this.field.topology
    const walk = ++this.walk
    for (const t of some) met[t] = walk
    for (let i = 0; i < some.length && some.length < most; i++)
      for (let h = 3 * some[i]; h < 3 * some[i] + 3 && some.length < most; h++) {
        const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
        if (u < 0 || !left[u] || met[u] === walk) continue
        met[u] = walk
        if (keep(u)) some.push(u)
      }
    return some
  }
  patch(seed: number, most: number): number[] {
    return this.walked([seed], most, () => true)
  }
  take(part: readonly number[]): void {
    for (const t of part) this.left[t] = 0
    this.triangles = this.triangles.filter((t) => this.left[t])
  }
}

/** A shape of a kind through some triangles; null where it is too large or blunt to be one. */
function fitOf(f: SkinField, kind: ShapeKind, some: readonly number[], size: number): Fitted | null {
  try {
    const samples = thinned(samplesOf(f.mesh, someOf(some, enough)), enough)
    const shape = fitKind(kind, samples, {}, { lots: 0, patient: false })
    const large = Math.max(shape.radius ?? 0, shape.thickness ?? 0) > 3 * size
    const blunt = shape.kind === 'cone' && (shape.halfAngle! < 1 || shape.halfAngle! > 89)
    return large || blunt ? null : shape
  } catch (error) {
    if (!(error instanceof StepError)) throw error
    return null
  }
}

/** Tells which triangles lie on a shape: their corners do, and they face as it does. */
function onOf(f: SkinField, shape: Fitted, within: number): (t: number) => boolean {
  const { positions, triangles } = f.mesh
  const off = offsFrom(shape)
  const p: [number, number, number] = [0, 0, 0]
  const place = (v: number) => {
    for (let k = 0; k < 3; k++) p[k] = positions[3 * v + k]
    return p
  }
  return (t) => {
    for (let c = 2; c >= 0; c--) if (Math.abs(off(place(triangles[3 * t + c]))) > within) return false
    const n: Vec3 = [f.normals[3 * t], f.normals[3 * t + 1], f.normals[3 * t + 2]]
    return dot(normalOf(shape, p), n) * (shape.inside ? -1 : 1) > facing
  }
}

interface Candidate {
  readonly shape: Fitted
  readonly some: number[]
}

/** A shape of a kind grown from a patch over all that lies on it; null where it explains too little. */
function grownFrom(
  f: SkinField,
  rest: Rest,
  kind: ShapeKind,
  start: readonly number[],
  within: number,
  size: number,
): Candidate | null {
  const grown = (shape: Fitted, from: readonly number[]) => {
    const on = onOf(f, shape, within)
    return rest.walked(from.filter(on), Infinity, on)
  }
  let shape = fitOf(f, kind, start, size)
  if (!shape || shape.rms > within / 2) return null
  let some = grown(shape, start)
  if (some.length < leastPart) return null
  // What has grown tells the shape better.
  for (let round = 0; round < 2; round++) {
    const better = fitOf(f, kind, some, size)
    if (!better || better.rms > within / 2) break
    const more = grown(better, some)
    if (more.length < some.length) break
    shape = better
    some = more
  }
  return { shape, some }
}

/** The shape that explains most of what is left, with its triangles. */
function bestPart(f: SkinField, rest: Rest, within: number, size: number): (Candidate & { area: number }) | null {
  const { triangles } = rest
  const told = new Set<number>()
  let best: (Candidate & { area: number }) | null = null
  const wide = triangles.length > large
  // Narrow faces of a large rest are met by few patches: where none tells anything, more are tried.
  for (let s = 0; s < seeds + (wide ? moreSeeds : 0); s++) {
    if (s >= seeds && best) break
    const share = s < seeds ? (s + 0.5) / seeds : (s - seeds + 0.25) / moreSeeds
    const seed = triangles[Math.floor(share * triangles.length)]
    // What is explained already would be explained again.
    if (told.has(seed)) continue
    for (const most of s < seeds && wide ? widePatches : patchSizes) {
      const start = rest.patch(seed, most)
      if (start.length < leastPart) continue
      for (const kind of kinds) {
        const found = grownFrom(f, rest, kind, start, within, size)
        if (!found) continue
        const area = rest.areaOf(found.some)
        const close = found.shape.rms < within / 3
        if (close) for (const t of found.some) told.add(t)
        // Of those that explain about as much the simpler one.
        const later = best ? kinds.indexOf(kind) - kinds.indexOf(best.shape.kind) : 0
        const need = later > 0 ? worth : later < 0 ? 1 / worth : 1
        if (!best || area > best.area * need) best = { ...found, area }
        if (found.some.length > grownWell * start.length && close) break
      }
    }
  }
  return best
}

/**
 * @param list triangles that hang together
 * @param within mm: corners are on a shape when nearer than this
 * @param size mm: radii of more than some times this are flat
 */
export function partsOfFree(
  f: SkinField,
  list: readonly number[],
  within: number,
  size: number,
  work: Work = quiet,
): Part[] {
  const out: Part[] = []
  const rest = new Rest(f, list)
  const whole = rest.areaOf(list)
  while (rest.triangles.length >= leastPart) {
    checkStop(work)
    const best = bestPart(f, rest, within, size)
    // Bits of a surface that bends on everywhere are no parts.
    if (!best || (best.area < leastShare * whole && best.some.length < fewTriangles)) break
    rest.take(best.some)
    out.push({ shape: best.shape, triangles: best.some })
  }
  return out
}
