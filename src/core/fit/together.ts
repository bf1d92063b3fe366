/**
 * Shapes of one kind and one size within what their noise leaves free, fitted together: one axis direction and one radius for all of
 * them, each weighed by how surely its own patch tells it, then every shape's place fitted anew. It holds only where no patch gets
 * noticeably worse by it.
 */
import { plural } from '@/core/base/say'
import { addScaled, cross, dot, length, normalize, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { extentOf } from './extent'
import { fitKind, type Care, type Fitted } from './fit-shape'
import type { HeldFit } from './held'
import { patternOf, type Pattern } from './pattern'
import type { Samples } from './samples'

export interface Group {
  /** Numbers of the fits that belong together. */
  readonly of: readonly number[]
  readonly kind: Fitted['kind']
  /** Radius of all of them (of rings: of the tube), mm. */
  readonly radius?: number
  readonly parallel: boolean
  readonly pattern: Pattern | null
  /** "4 cylinders, equal, parallel, on a 40 × 30 mm pattern" */
  readonly words: string
}

/** Sizes agree when they differ by less than so many standard deviations of their difference. */
const agreeSigmas = 4
/** Sizes of a clean mesh agree when they differ by less than this share, or this many mm. */
const agreeShare = 2e-3
const agreeLeast = 2e-3
/** Axes are parallel within what noise leaves free, or this many degrees. */
const parallelDegrees = 0.3
/** A patch may get this much worse by what it shares with others, and so much of its noise. */
const worseTimes = 1.1
/** Middles that turn less than this from a straight row, radians, stand in one. */
const inRow = 0.01

const roundOf = (f: Fitted) => (f.kind === 'ring' ? f.thickness : f.radius)

/** Two fits may be of one size. */
function agree(a: Fitted, b: Fitted): boolean {
  if (a.kind !== b.kind || a.inside !== b.inside) return false
  if (a.kind === 'cone')
    return Math.abs(a.halfAngle! - b.halfAngle!) <= Math.max(0.1, agreeSigmas * Math.hypot(a.sigma ?? 0, b.sigma ?? 0))
  const [p, q] = [roundOf(a), roundOf(b)]
  if (p === undefined || q === undefined) return a.kind === 'plane'
  const free = agreeSigmas * Math.hypot(a.sigma ?? 0, b.sigma ?? 0)
  // What noise leaves free may be all there is of a small patch; sizes far apart are never one.
  return Math.abs(p - q) <= Math.min(0.1 * Math.max(p, q), Math.max(agreeLeast, agreeShare * Math.max(p, q), free))
}

/** What noise leaves free in the direction of a fit's axis, degrees. */
function axisSigma(f: Fitted, s: Samples): number {
  const { from, to } = extentOf(f, s.points, Math.max(3 * f.rms, f.max))
  const long = Math.max(1e-9, to - from)
  return ((Math.max(f.rms, 1e-6) * Math.sqrt(12 / Math.max(1, s.points.length))) / long) * (180 / Math.PI)
}

const degrees = (a: Vec3, b: Vec3) => (Math.acos(Math.min(1, Math.abs(dot(a, b)))) * 180) / Math.PI

/** The mean of directions, either way round, by weights. */
function meanAxis(axes: readonly Vec3[], weights: readonly number[]): Vec3 {
  let sum: Vec3 = [0, 0, 0]
  axes.forEach((a, i) => (sum = addScaled(sum, a, weights[i] * (dot(a, axes[0]) < 0 ? -1 : 1))))
  return length(sum) > 0 ? normalize(sum) : axes[0]
}

/** Groups of fits that agree; and the fits, those of a group made to share what they agree in. Order and number stay. */
export function fitTogether(
  given: readonly { readonly samples: Samples; readonly held: HeldFit }[],
  care: Care = {},
): { fits: HeldFit[]; groups: Group[] } {
  const fits = given.map((g) => g.held)
  const groups: Group[] = []
  const taken = new Set<number>()
  for (let i = 0; i < fits.length; i++) {
    if (taken.has(i) || fits[i].fit.kind === 'plane') continue
    const of = [i]
    for (let k = i + 1; k < fits.length; k++) if (!taken.has(k) && agree(fits[i].fit, fits[k].fit)) of.push(k)
    if (of.length < 2) continue
    of.forEach((k) => taken.add(k))
    const sure = of.map((k) => 1 / Math.max(fits[k].fit.sigma ?? 0, fits[k].fit.rms * 1e-3, 1e-9) ** 2)
    const all = sure.reduce((s, w) => s + w, 0)
    const radius = roundOf(fits[i].fit) && of.reduce((s, k, n) => s + roundOf(fits[k].fit)! * sure[n], 0) / all
    const axes = of.flatMap((k) => (fits[k].fit.axis ? [fits[k].fit.axis!] : []))
    const free = of.map((k) => (fits[k].fit.axis ? axisSigma(fits[k].fit, given[k].samples) : 0))
    const mean =
      axes.length === of.length &&
      meanAxis(
        axes,
        free.map((s) => 1 / Math.max(s, 1e-6) ** 2),
      )
    const parallel =
      !!mean && axes.every((a, n) => degrees(a, mean) <= Math.max(parallelDegrees, agreeSigmas * free[n]))
    of.forEach((k) => {
      const { fit, known } = fits[k]
      const shared = {
        ...known,
        ...(parallel && !known.axis ? { axis: dot(fit.axis!, mean) < 0 ? scale(mean, -1) : mean } : {}),
        ...(radius && !known.radius && fit.kind !== 'cone' ? { radius } : {}),
      }
      const again = fitKind(fit.kind, given[k].samples, shared, care)
      if (again.rms <= worseTimes * Math.max(fit.rms, agreeLeast / 10) + 1e-6) fits[k] = { fit: again, known: shared }
    })
    const places = of.map((k) => fits[k].fit.at)
    // Where the pattern has its centres, noise leaves free as much as in the radius.
    const within = Math.max(0.02, agreeSigmas * Math.max(...of.map((k) => fits[k].fit.sigma ?? 0)))
    const along = parallel ? fits[i].fit.axis! : planeOf(places)
    const pattern = along ? patternOf(places, along, within) : null
    const { kind } = fits[i].fit
    groups.push({
      of,
      kind,
      ...(radius && kind !== 'cone' ? { radius } : {}),
      parallel,
      pattern,
      words: [
        plural(of.length, kind),
        'equal',
        ...(parallel ? ['parallel'] : []),
        ...(pattern ? [pattern.words] : []),
      ].join(', '),
    })
  }
  return { fits, groups }
}

/** The direction square to middles without axes of their own, such as those of balls: of the plane they lie in, or of the row. */
function planeOf(places: readonly Vec3[]): Vec3 | null {
  const from = places.slice(1).map((p) => sub(p, places[0]))
  const row = from.reduce<Vec3>((a, b) => (length(b) > length(a) ? b : a), [0, 0, 0])
  if (!(length(row) > 0)) return null
  const across = from.map((d) => cross(row, d)).reduce<Vec3>((a, b) => (length(b) > length(a) ? b : a), [0, 0, 0])
  return length(across) > inRow * length(row) ** 2 ? normalize(across) : perpendicular(normalize(row))
}
