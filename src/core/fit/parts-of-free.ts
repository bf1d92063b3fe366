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
import { triangleArea } from '@/core/mesh/tri-mesh'
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
  const { twin } = f.topology
  const { positions, triangles } = f.mesh
  const out: Part[] = []
  /** What is not yet in a part; and in which walk a triangle was met last. */
  const left = new Uint8Array(triangles.length / 3)
  const met = new Int32Array(triangles.length / 3)
  const areas = new Map<number, number>()
  for (const t of list) {
    left[t] = 1
    areas.set(t, triangleArea(f.mesh, t))
  }
  const areaOf = (some: readonly number[]) => some.reduce((a, t) => a + areas.get(t)!, 0)
  let rest = [...list]
  let walk = 0
  /** What hangs together with some triangles, those first, as far as `keep` holds, and no more than so many. */
  const walked = (some: number[], most: number, keep: (t: number) => boolean) => {
    walk++
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
  const patch = (seed: number, most: number) => walked([seed], most, () => true)
  const fit = (kind: ShapeKind, some: readonly number[]): Fitted | null => {
    try {
      const shape = fitKind(
        kind,
        thinned(samplesOf(f.mesh, someOf(some, enough)), enough),
        {},
        { lots: 0, patient: false },
      )
      return Math.max(shape.radius ?? 0, shape.thickness ?? 0) > 3 * size ||
        (shape.kind === 'cone' && (shape.halfAngle! < 1 || shape.halfAngle! > 89))
        ? null
        : shape
    } catch (error) {
      if (!(error instanceof StepError)) throw error
      return null
    }
  }
  const onOf = (shape: Fitted) => {
    const off = offsFrom(shape)
    const p: [number, number, number] = [0, 0, 0]
    const place = (v: number) => {
      for (let k = 0; k < 3; k++) p[k] = positions[3 * v + k]
      return p
    }
    return (t: number) => {
      for (let c = 2; c >= 0; c--) if (Math.abs(off(place(triangles[3 * t + c]))) > within) return false
      const n: Vec3 = [f.normals[3 * t], f.normals[3 * t + 1], f.normals[3 * t + 2]]
      return dot(normalOf(shape, p), n) * (shape.inside ? -1 : 1) > facing
    }
  }
  const grown = (shape: Fitted, from: readonly number[]) => {
    const on = onOf(shape)
    return walked(from.filter(on), Infinity, on)
  }
  const whole = areaOf(list)
  while (rest.length >= leastPart) {
    checkStop(work)
    const told = new Set<number>()
    let best: { shape: Fitted; some: number[]; area: number } | null = null
    const wide = rest.length > large
    // Narrow faces of a large rest are met by few patches: where none tells anything, more are tried.
    for (let s = 0; s < seeds + (wide ? moreSeeds : 0); s++) {
      if (s >= seeds && best) break
      const seed = rest[Math.floor((s < seeds ? (s + 0.5) / seeds : (s - seeds + 0.25) / moreSeeds) * rest.length)]
      // What is explained already would be explained again.
      if (told.has(seed)) continue
      for (const most of s >= seeds ? patchSizes : wide ? widePatches : patchSizes) {
        const start = patch(seed, most)
        if (start.length < leastPart) continue
        for (const kind of kinds) {
          let shape = fit(kind, start)
          if (!shape || shape.rms > within / 2) continue
          let some = grown(shape, start)
          if (some.length < leastPart) continue
          // What has grown tells the shape better.
          for (let round = 0; round < 2; round++) {
            const better = fit(kind, some)
            if (!better || better.rms > within / 2) break
            const more = grown(better, some)
            if (more.length < some.length) break
            shape = better
            some = more
          }
          const area = areaOf(some)
          if (shape.rms < within / 3) for (const t of some) told.add(t)
          // Of those that explain about as much the simpler one.
          const later = best ? kinds.indexOf(kind) - kinds.indexOf(best.shape.kind) : 0
          const need = later > 0 ? worth : later < 0 ? 1 / worth : 1
          if (!best || area > best.area * need) best = { shape, some, area }
          if (some.length > grownWell * start.length && shape.rms < within / 3) break
        }
      }
    }
    // Bits of a surface that bends on everywhere are no parts.
    if (!best || (best.area < leastShare * whole && best.some.length < fewTriangles)) break
    for (const t of best.some) left[t] = 0
    rest = rest.filter((t) => left[t])
    out.push({ shape: best.shape, triangles: best.some })
  }
  return out
}
