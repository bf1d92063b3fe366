/** Geometric least squares of a shape from a first guess: the sum of squared distances is made least (Marquardt 1963; Ahn 2004). */
import { levenbergMarquardt, solveDense } from '@/core/math/least-squares'
import { add, addScaled, cross, dot, normalize, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { offsFrom, type Shape, type ShapeKind } from './shape'

/** What may be known of a shape beforehand. */
export interface Known {
  /** The axis (of a plane its normal) stays as it is. */
  readonly axis?: Vec3
  /** A place that the axis runs through, or that is the middle of a sphere or lies on a plane. */
  readonly at?: Vec3
  /** Radius of a cylinder, sphere, or a ring's tube, mm. */
  readonly radius?: number
}

/** Numbers that a shape is made of, in a frame of its own at the guess; and the shape for some of them. */
interface Model {
  readonly start: number[]
  shape(x: readonly number[]): Shape
}

function modelOf(guess: Shape, known: Known, size: number): Model {
  const w = known.axis ?? guess.axis ?? ([0, 0, 1] as Vec3)
  const u = perpendicular(w)
  const v = cross(w, u)
  /** An axis a little turned from the guess; not at all where it is known. */
  const turned = (a: number, b: number): Vec3 => normalize(add(w, add(scale(u, a), scale(v, b))))
  const from = known.at ?? guess.at
  const free = known.axis ? 0 : 2
  /** Numbers that place a shape: across its axis only where that may move. */
  const places = known.at ? 0 : 2
  const moved = (n: readonly number[]): [Vec3, number[]] =>
    places ? [addScaled(addScaled(from, u, n[0] * size), v, n[1] * size), n.slice(2)] : [from, [...n]]
  /** The guess's own place along an axis through a given place. */
  const startAlong = known.at ? dot(sub(guess.at, from), w) / size : 0
  const zeros = (count: number) => Array<number>(count).fill(0)
  switch (guess.kind) {
    case 'plane':
      return known.at
        ? { start: zeros(free), shape: ([a = 0, b = 0]) => ({ kind: 'plane', at: from, axis: turned(a, b) }) }
        : {
            start: zeros(1 + free),
            shape: ([d, a = 0, b = 0]) => ({ kind: 'plane', at: addScaled(from, w, d * size), axis: turned(a, b) }),
          }
    case 'cylinder': {
      const held = known.radius
      return {
        start: [...zeros(places), ...(held ? [] : [guess.radius! / size]), ...zeros(free)],
        shape: (n) => {
          const [at, rest] = moved(n)
          const radius = held ?? Math.abs(rest.shift()!) * size
          const [a = 0, b = 0] = rest
          return { kind: 'cylinder', at, axis: turned(a, b), radius }
        },
      }
    }
    case 'cone':
      return {
        start: [...zeros(places), startAlong, (guess.halfAngle! * Math.PI) / 180, ...zeros(free)],
        shape: (n) => {
          const [at, [z, half, a = 0, b = 0]] = moved(n)
          const halfAngle = (half * 180) / Math.PI
          return { kind: 'cone', at: addScaled(at, w, z * size), axis: turned(a, b), halfAngle }
        },
      }
    case 'sphere':
      return {
        start: [...zeros(places && 3), ...(known.radius ? [] : [guess.radius! / size])],
        shape: (n) => {
          const [at, rest] = moved(n)
          const z = places ? rest.shift()! : 0
          return {
            kind: 'sphere',
            at: addScaled(at, w, z * size),
            radius: known.radius ?? Math.abs(rest[0]) * size,
          }
        },
      }
    case 'ring':
      return {
        start: [
          ...zeros(places),
          startAlong,
          guess.radius! / size,
          ...(known.radius ? [] : [guess.thickness! / size]),
          ...zeros(free),
        ],
        shape: (n) => {
          const [at, [z, big, ...rest]] = moved(n)
          const thickness = known.radius ?? Math.abs(rest.shift()!) * size
          const [a = 0, b = 0] = rest
          const radius = Math.abs(big) * size
          return { kind: 'ring', at: addScaled(at, w, z * size), axis: turned(a, b), radius, thickness }
        },
      }
  }
}

const step = 1e-7

/** The shape of a kind with the least squares of distances, started at a guess. */
export function refine(
  guess: Shape,
  points: readonly Vec3[],
  known: Known = {},
  patient: boolean | 'some' = true,
): Shape {
  const size = Math.max(
    1e-9,
    Math.sqrt(points.reduce((s, p) => s + dot(sub(p, points[0]), sub(p, points[0])), 0) / points.length),
  )
  const model = modelOf(guess, known, size)
  // Shapes of the steps beside the place under way are made once for all points.
  let at: readonly number[] | null = null
  let here = offsFrom(guess)
  let beside: ReturnType<typeof offsFrom>[] | null = null
  const row = (i: number, now: readonly number[], grad: number[] | null) => {
    if (i === 0 && (at === null || at.some((v, k) => v !== now[k]))) {
      at = [...now]
      here = offsFrom(model.shape(now))
      beside = null
    }
    const off = here(points[i]) / size
    if (!grad) return off
    beside ??= now.map((_, k) => offsFrom(model.shape(now.map((v, j) => (j === k ? v + step : v)))))
    for (let k = 0; k < beside.length; k++) grad[k] = (beside[k](points[i]) / size - off) / step
    return off
  }
  let { x, sum } = levenbergMarquardt(model.start, points.length, row, ...(patient ? [40, 1e-9] : [12, 1e-4]))
  // Small patches of the right shape leave a long flat valley to walk down; there it costs little.
  const rms = Math.sqrt(sum / points.length)
  if (patient === true && points.length < 200 && rms < 2e-3 && rms > 1e-9)
    ({ x, sum } = levenbergMarquardt(x, points.length, row, 400))
  const out = model.shape(x)
  // Angles of cones may come out below zero or over a right angle: the same wall told from the other side.
  if (out.kind !== 'cone') return out
  const half = out.halfAngle!
  return half < 0
    ? { ...out, halfAngle: -half }
    : half > 90
      ? { ...out, axis: scale(out.axis!, -1), halfAngle: 180 - half }
      : out
}

/** Standard deviation that noise leaves in the radius of a shape (for a cone in its half angle, degrees): from the normal equations. */
export function radiusSigma(s: Shape, points: readonly Vec3[], rms: number, known: Known = {}): number | undefined {
  if (known.radius || s.kind === 'plane') return undefined
  const size = Math.max(
    1e-9,
    Math.sqrt(points.reduce((m, p) => m + dot(sub(p, points[0]), sub(p, points[0])), 0) / points.length),
  )
  const model = modelOf(s, known, size)
  const n = model.start.length
  const at = offsFrom(s)
  const beside = model.start.map((_, k) => offsFrom(model.shape(model.start.map((v, j) => (j === k ? v + step : v)))))
  const jtj = Array.from({ length: n }, () => new Array<number>(n).fill(0))
  for (const p of points) {
    const here = at(p)
    const row = beside.map((b) => (b(p) - here) / size / step)
    for (let a = 0; a < n; a++) for (let b = 0; b < n; b++) jtj[a][b] += row[a] * row[b]
  }
  const less = known.at ? 2 : 0
  const index: Record<ShapeKind, number> = {
    plane: -1,
    cylinder: 2 - less,
    cone: 3 - less,
    sphere: known.at ? 0 : 3,
    ring: 4 - less,
  }
  const unit = new Array<number>(n).fill(0)
  unit[index[s.kind]] = 1
  const column = solveDense(jtj, unit)
  if (!column) return Infinity
  const sigma = (rms / size) * Math.sqrt(Math.max(0, column[index[s.kind]]))
  return s.kind === 'cone' ? (sigma * 180) / Math.PI : sigma * size
}
