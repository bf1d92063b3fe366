/** Measures between touched places: distances with their parts, angles, bores, walls and rims. */
import { dot, length, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { buildTopology, findRims } from '@/core/mesh/topology'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { rimLength, rimNearest } from '@/core/mend/loop'
import { resolveTouch, type Touch, type Touched } from '@/core/find/touch'
import { StepError } from '@/core/base/step-error'

export const measureKinds = ['distance', 'faces', 'diameter', 'angle', 'wall', 'rim'] as const
export type MeasureKind = (typeof measureKinds)[number]

export interface Measured {
  /** The figure asked for: mm, or degrees for an angle. */
  readonly value: number
  readonly unit: 'mm' | '°'
  /** Other figures that belong to it. */
  readonly facts: Record<string, number | boolean>
  /** Where the mark is drawn: from one end to the other. */
  readonly from: Vec3
  readonly to: Vec3
}

const degrees = (a: Vec3, b: Vec3): number => (Math.acos(Math.max(-1, Math.min(1, dot(a, b)))) * 180) / Math.PI
const tidy = (v: number) => Number(v.toFixed(6))

/** Distance between two places with its parts along x, y, z and, when given, along a direction. */
function between(a: Vec3, b: Vec3, along: Vec3 | undefined): Measured {
  const d = sub(b, a)
  const value = length(d)
  const part = along ? dot(d, normalize(along)) : undefined
  return {
    value: tidy(value),
    unit: 'mm',
    from: a,
    to: b,
    facts: {
      x: tidy(d[0]),
      y: tidy(d[1]),
      z: tidy(d[2]),
      ...(part === undefined
        ? {}
        : { along: tidy(part), across: tidy(Math.sqrt(Math.max(0, value * value - part * part))) }),
    },
  }
}

const directionOf = (t: Touched, which: string): Vec3 => {
  if (!t.direction)
    throw new StepError('no-direction', `The ${which} place is a point, which has no direction.`, {
      tryThis: 'Touch a face, a round wall or a line.',
    })
  return t.direction
}

/** What is measured: places of two bodies, and how they are told. */
interface Ask {
  readonly first: TriMesh
  readonly a: Touch
  readonly second: TriMesh
  readonly b: Touch | undefined
  readonly along: Vec3 | undefined
  resolve(mesh: TriMesh, touch: Touch): Touched
}

/** @throws StepError `one-place` */
function second({ b }: Ask): Touch {
  if (!b) throw new StepError('one-place', 'This measure needs two places.', { tryThis: 'Pick the second one.' })
  return b
}

/** The shortest way between two places; from an axis square to it. */
function measureDistance(ask: Ask): Measured {
  const { a, along } = ask
  const p = ask.resolve(ask.first, a),
    q = ask.resolve(ask.second, second(ask))
  // From an axis the shortest way to it, square to it.
  if (p.direction && a.as === 'axis' && !q.direction) return between(foot(q.point, p), q.point, along)
  if (q.direction && second(ask).as === 'axis' && !p.direction) return between(p.point, foot(p.point, q), along)
  if (
    p.direction &&
    q.direction &&
    a.as === 'axis' &&
    second(ask).as === 'axis' &&
    degrees(p.direction, q.direction) % 180 < 1
  )
    return between(p.point, foot(p.point, q), along)
  return between(p.point, q.point, along)
}

/** From one flat face to another. */
function measureFaces(ask: Ask): Measured {
  const { a } = ask
  const p = ask.resolve(ask.first, { ...a, as: 'plane' }),
    q = ask.resolve(ask.second, { ...second(ask), as: 'plane' })
  const n = p.direction!
  const gap = dot(sub(q.point, p.point), n)
  const lean = degrees(n, q.direction!)
  const off = Math.min(lean, 180 - lean)
  return {
    value: tidy(Math.abs(gap)),
    unit: 'mm',
    from: p.point,
    to: [p.point[0] + gap * n[0], p.point[1] + gap * n[1], p.point[2] + gap * n[2]],
    facts: {
      outOfParallel: tidy(off),
      parallel: off < 0.5,
      facing: lean > 90,
      planeRms: tidy(Math.max(p.rms, q.rms)),
    },
  }
}

/** Across a round wall. */
function measureDiameter(ask: Ask): Measured {
  const { a } = ask
  const p = ask.resolve(ask.first, { ...a, as: 'axis' })
  const axis = p.direction!
  const side = sub(a.at, foot(a.at, p))
  const l = length(side)
  const unit: Vec3 = l > 1e-9 ? scale(side, 1 / l) : [1, 0, 0]
  const middle = foot(a.at, p)
  const r = p.diameter! / 2
  return {
    value: tidy(p.diameter!),
    unit: 'mm',
    from: [middle[0] - r * unit[0], middle[1] - r * unit[1], middle[2] - r * unit[2]],
    to: [middle[0] + r * unit[0], middle[1] + r * unit[1], middle[2] + r * unit[2]],
    facts: { rms: tidy(p.rms), axisX: tidy(axis[0]), axisY: tidy(axis[1]), axisZ: tidy(axis[2]) },
  }
}

/** Between two faces, axes or lines. */
function measureAngle(ask: Ask): Measured {
  const { a } = ask
  const p = ask.resolve(ask.first, a),
    q = ask.resolve(ask.second, second(ask))
  const lean = degrees(directionOf(p, 'first'), directionOf(q, 'second'))
  // Between a face and an axis or line the angle to the face itself is meant, not to its normal.
  const mixed = (a.as === 'plane') !== (second(ask).as === 'plane')
  const value = mixed ? Math.abs(90 - lean) : a.as === 'plane' ? 180 - lean : Math.min(lean, 180 - lean)
  return { value: tidy(value), unit: '°', from: p.point, to: q.point, facts: { between: tidy(lean) } }
}

/** Through the wall behind a place. */
function measureWall(ask: Ask): Measured {
  const { a, first } = ask
  const search = new MeshSearch(first)
  const near = search.nearest(a.at)
  if (!near) throw new StepError('empty', 'There is no wall to measure.')
  const n = normalize(crossOf(first, near.triangle))
  const start: Vec3 = [near.point[0] - 1e-4 * n[0], near.point[1] - 1e-4 * n[1], near.point[2] - 1e-4 * n[2]]
  const hit = search.all(start, scale(n, -1)).find((h) => h.triangle !== near.triangle && h.distance > 1e-3)
  if (!hit)
    throw new StepError('no-wall', 'Nothing lies behind this place: the skin is open there.', {
      where: { point: a.at },
      tryThis: 'Close the body first, or measure elsewhere.',
    })
  return { value: tidy(hit.distance + 1e-4), unit: 'mm', from: near.point, to: hit.point, facts: {} }
}

/** Round the open rim next to a place. */
function measureRim(ask: Ask): Measured {
  const { a, first } = ask
  const rims = findRims(first, buildTopology(first))
  const near = rimNearest(first, rims, a.at)
  if (!near) throw new StepError('no-hole', 'There is no open rim on this body.')
  const v = 3 * near.rim.vertices[near.corner]
  const at: Vec3 = [first.positions[v], first.positions[v + 1], first.positions[v + 2]]
  return {
    value: tidy(rimLength(first, near.rim)),
    unit: 'mm',
    from: at,
    to: at,
    facts: { edges: near.rim.halfEdges.length },
  }
}

const measures: Record<MeasureKind, (ask: Ask) => Measured> = {
  distance: measureDistance,
  faces: measureFaces,
  diameter: measureDiameter,
  angle: measureAngle,
  wall: measureWall,
  rim: measureRim,
}

/**
 * @param first body of the first touch
 * @param second body of the second touch
 */
export const measure = (
  kind: MeasureKind,
  first: TriMesh,
  a: Touch,
  second: TriMesh,
  b: Touch | undefined,
  along?: Vec3,
  resolve: (mesh: TriMesh, touch: Touch) => Touched = resolveTouch,
): Measured => measures[kind]({ first, a, second, b, along, resolve })

/** Foot of a point on an axis or line. */
function foot(p: Vec3, t: Touched): Vec3 {
  const s = dot(sub(p, t.point), t.direction!)
  return [t.point[0] + s * t.direction![0], t.point[1] + s * t.direction![1], t.point[2] + s * t.direction![2]]
}
