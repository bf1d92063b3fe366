/** A piece of a mesh that lies on no shape, as one fitted B-spline face. */
import type { BoundCurve } from '@/core/bodies/bounded'
import { add, addScaled, cross, dot, length, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { corners, vertex, verticesOf, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf, middleOf, triangleArea } from '@/core/mesh/triangle'
import { fitHeight, type HeightFit, type Weighed } from '@/core/surface/fit-height'
import { groundOver, offHeight } from '@/core/surface/height'

/** What lies inside triangles is off by the height of their chords: it only guides. */
const insideWeight = 0.02
/** The border has to be met. */
const borderWeight = 20
/** The surface reaches beyond its places by this share of their extent. */
const margin = 0.04
/** Control points for each corner of the mesh at most, and in all: a rectangle over a bent strip is mostly empty. */
const freedom = 6
const mostControl = 2200
const leastControl = 64

/** A piece of a cubic between two corners of the mesh bulges as its neighbours do not: so many places tell it. */
const placesAPiece = 6

/** Places along an edge, both ends and some between, mm. */
export function alongCurve(curve: BoundCurve, from: Vec3, to: Vec3, pieces: number): Vec3[] {
  const shares = Array.from({ length: pieces + 1 }, (_, i) => i / pieces)
  switch (curve.kind) {
    case 'line':
      return shares.map((s) => addScaled(from, sub(to, from), s))
    case 'circle':
    case 'ellipse': {
      const long = curve.kind === 'ellipse' ? curve.long : normalize(sub(from, curve.centre))
      const minor = curve.kind === 'ellipse' ? curve.minor : curve.radius
      const side = cross(curve.axis, long)
      const angle = (p: Vec3) => {
        const d = sub(p, curve.centre)
        return Math.atan2(dot(d, side) / minor, dot(d, long) / curve.radius)
      }
      const start = angle(from)
      let turn = angle(to) - start
      if (from === to || turn <= 1e-12) turn += 2 * Math.PI
      return shares.map((s) => {
        const a = start + s * turn
        return addScaled(addScaled(curve.centre, long, curve.radius * Math.cos(a)), side, minor * Math.sin(a))
      })
    }
    case 'spline': {
      // Pieces of cubics, as they are made here: knots of multiplicity two between the ends.
      const count = curve.knots.length - 1
      const each = Math.max(placesAPiece, Math.ceil(pieces / count))
      const out: Vec3[] = []
      for (let i = 0; i < count; i++) {
        const [b, c] = [curve.poles[2 * i + 1], curve.poles[2 * i + 2]]
        const a = i === 0 ? curve.poles[0] : middleBetween(curve, i)
        const d = i === count - 1 ? curve.poles[curve.poles.length - 1] : middleBetween(curve, i + 1)
        for (let k = i === 0 ? 0 : 1; k <= each; k++) {
          const t = k / each
          const s = 1 - t
          out.push(
            [0, 1, 2].map(
              (m) => s ** 3 * a[m] + 3 * s * s * t * b[m] + 3 * s * t * t * c[m] + t ** 3 * d[m],
            ) as unknown as Vec3,
          )
        }
      }
      return out
    }
  }
}

/** Where two pieces of a cubic meet: their control points and the knots beside tell it. */
function middleBetween(c: Extract<BoundCurve, { kind: 'spline' }>, i: number): Vec3 {
  const [before, after] = [c.knots[i] - c.knots[i - 1], c.knots[i + 1] - c.knots[i]]
  const [p, q] = [c.poles[2 * i], c.poles[2 * i + 1]]
  return addScaled(scale(p, after / (before + after)), q, before / (before + after))
}

export interface FittedFace extends HeightFit {
  /** How far the border lies off it at most, mm. */
  readonly border: number
}

/**
 * @param border places along its edges
 * @param within mm
 * @returns null where no heights over one plane can hold it
 */
export function fittedFace(
  mesh: TriMesh,
  triangles: readonly number[],
  border: readonly Vec3[],
  within: number,
): FittedFace | null {
  const toward = normalize(triangles.reduce<Vec3>((s, t) => add(s, crossOf(mesh, t)), [0, 0, 0]))
  if (!(length(toward) > 0.5)) return null
  const own = [...verticesOf(mesh, triangles)]
  const places: Weighed[] = []
  for (const v of own) places.push({ at: vertex(mesh, v), weight: 1 })
  for (const t of triangles) {
    const [a, b, c] = corners(mesh, t)
    for (const at of [middleOf(mesh, t), scale(add(a, b), 0.5), scale(add(b, c), 0.5), scale(add(c, a), 0.5)])
      places.push({ at, weight: insideWeight })
  }
  for (const at of border) places.push({ at, weight: borderWeight })
  const along = longest(border.length ? border : places.map((p) => p.at))
  const { ground, sides } = groundOver(
    places.map((p) => p.at),
    toward,
    along,
    margin,
  )
  const most = Math.min(mostControl, Math.max(leastControl, freedom * own.length))
  const grain = Math.sqrt(triangles.reduce((a, t) => a + triangleArea(mesh, t), 0) / own.length)
  const fit = fitHeight(places, ground, sides, within, most, grain)
  if (!fit) return null
  let off = 0
  for (const { at, weight } of places)
    if (weight === borderWeight) off = Math.max(off, Math.abs(offHeight(fit.height, at)))
  return { ...fit, border: off }
}

/** The direction between the two places farthest apart, nearly. */
function longest(points: readonly Vec3[]): Vec3 {
  const far = (from: Vec3) => points.reduce((m, p) => (length(sub(p, from)) > length(sub(m, from)) ? p : m), from)
  const a = far(points[0])
  const d = sub(far(a), a)
  return length(d) > 0 ? normalize(d) : [1, 0, 0]
}
