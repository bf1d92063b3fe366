/** Splines of a DXF file as ours: cubics of simple knots are the same, others are followed. */
import type { Drawing, Place } from '@/core/outline/drawing'
import { fitSpline, pieceOf, throughSpline, type Spline } from '@/core/outline/spline'
import { flat, type Entity } from './entities'

/** Place of a rational B-spline of any degree (de Boor in homogeneous coordinates; Piegl & Tiller 4.1). */
function rationalAt(
  control: readonly Place[],
  weights: readonly number[],
  knots: readonly number[],
  degree: number,
  t: number,
): Place {
  let k = degree
  while (k < control.length - 1 && t >= knots[k + 1]) k++
  const d = Array.from({ length: degree + 1 }, (_, i) => {
    const j = k - degree + i
    return [control[j][0] * weights[j], control[j][1] * weights[j], weights[j]]
  })
  for (let r = 1; r <= degree; r++)
    for (let j = degree; j >= r; j--) {
      const i = k - degree + j
      const span = knots[i + degree - r + 1] - knots[i]
      const a = span > 0 ? (t - knots[i]) / span : 0
      d[j] = d[j].map((v, c) => (1 - a) * d[j - 1][c] + a * v)
    }
  return [d[degree][0] / d[degree][2], d[degree][1] / d[degree][2]]
}

const drawingOf = (s: Spline): Drawing => ({
  points: [...s.control],
  curves: [{ kind: 'spline', control: s.control.map((_, i) => i), knots: [...s.knots] }],
})

/** `weights`: of its control points; none where it is not rational. Null where its numbers do not fit together. */
export function splineDrawing(e: Entity, weights: readonly number[]): Drawing | null {
  const control = (e.controlPoints ?? []).map(flat)
  if (control.length < 2 && (e.fitPoints?.length ?? 0) >= 2) return throughPoints(e.fitPoints!.map(flat), !!e.closed)
  const degree = e.degreeOfSplineCurve ?? 3
  const knots = e.knotValues ?? []
  const n = control.length
  if (degree < 1 || degree > 25 || n <= degree || knots.length !== n + degree + 1) return null
  const [from, to] = [knots[degree], knots[n]]
  if (!(to > from) || knots.some((k, i) => !Number.isFinite(k) || (i > 0 && k < knots[i - 1]))) return null
  const rational = weights.length === n && weights.some((w) => Math.abs(w - weights[0]) > 1e-12)
  if (degree === 1 && !rational)
    return { points: control, curves: control.slice(1).map((_, i) => ({ kind: 'line', from: i, to: i + 1 })) }
  if (degree === 3 && !rational && !hasDoubleKnot(knots, n))
    return drawingOf(pieceOf({ control, knots, closed: false }, from, to))
  return follow(control, weights.length === n ? weights : control.map(() => 1), knots, degree)
}

function throughPoints(places: Place[], closed: boolean): Drawing | null {
  const s = throughSpline(places, closed)
  if (!s) return null
  if (!s.closed) return drawingOf(s)
  return { points: [...s.control], curves: [{ kind: 'spline', control: s.control.map((_, i) => i), closed: true }] }
}

function hasDoubleKnot(knots: readonly number[], n: number): boolean {
  for (let i = 4; i < n; i++) if (knots[i] === knots[i + 2]) return true
  return false
}

/** A cubic that follows a spline of another degree, or a rational one. */
function follow(control: Place[], weights: readonly number[], knots: number[], degree: number): Drawing | null {
  const n = control.length
  const [from, to] = [knots[degree], knots[n]]
  const many = Math.min(4000, 24 * n)
  const row = Array.from({ length: many + 1 }, (_, i) =>
    rationalAt(
      control,
      weights,
      knots,
      degree,
      i === many ? to - 1e-12 * (to - from) : from + ((to - from) * i) / many,
    ),
  )
  const fit = fitSpline(row, Math.min(many, 8 * n), false)
  return fit ? drawingOf(fit.spline) : null
}
