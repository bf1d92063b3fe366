/** Handles that several tools share. */
import { addScaled, dot, normalize, type Vec3 } from '@/core/math/vec'
import type { BenchBody } from '@/bench/state/job'
import type { Values } from '@/bench/state/tool'
import type { HandleSpec } from './handle'

const axes: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]
const names = ['x', 'y', 'z'] as const

/** Three numbers as a place or direction; null while they are not all there. */
export const vectorOf = (v: unknown): Vec3 | null =>
  Array.isArray(v) && v.length === 3 && v.every((x) => Number.isFinite(x)) ? (v as unknown as Vec3) : null

/** A unit direction, or null where there is none. */
export const directionOf = (v: unknown): Vec3 | null => {
  const d = vectorOf(v)
  return d && Math.hypot(...d) > 1e-9 ? normalize(d) : null
}

/** Middle of a body's box as it lies now. */
export function middleOfBody(values: Values, bodies: readonly BenchBody[], key = 'body'): Vec3 | null {
  const f = bodies.find((b) => b.name === values[key])?.facts
  return f ? (f.min.map((v, k) => v + f.size[k] / 2) as unknown as Vec3) : null
}

/** An arrow for each of three numbers in one field; they stand at `at` moved by those numbers. */
export function threeArrows(key: string, label: string, at: Vec3, now: Vec3): HandleSpec[] {
  const foot = at.map((v, k) => v + now[k]) as unknown as Vec3
  return axes.map((axis, k) => ({
    key: `${key} ${names[k]}`,
    sort: 'arrow',
    label: `${label} ${names[k]}`,
    at: foot,
    axis,
    value: now[k],
    set: (v) => ({ [key]: now.map((x, i) => (i === k ? v : x)) }),
  }))
}

/** An arrow for one length, from a foot along a way. `factor`: how much the number grows a mm. */
export function lengthArrow(
  key: string,
  label: string,
  foot: Vec3,
  way: Vec3,
  value: number,
  { factor = 1, min = 0, reach = value / factor }: { factor?: number; min?: number; reach?: number } = {},
): HandleSpec {
  return {
    key,
    sort: 'arrow',
    label,
    at: addScaled(foot, way, reach),
    axis: way,
    value,
    factor,
    min,
    set: (v) => ({ [key]: v }),
  }
}

/** An arrow at the first edge or face that is picked, away from the middle of its body. */
export function edgeArrow(
  key: string,
  label: string,
  picked: unknown,
  value: number,
  values: Values,
  bodies: readonly BenchBody[],
  min = 0.01,
): HandleSpec[] {
  const at = Array.isArray(picked) ? vectorOf((picked[0] as { at?: unknown } | undefined)?.at) : null
  const middle = middleOfBody(values, bodies)
  if (!at || !middle || !Number.isFinite(value)) return []
  const away = normalize([at[0] - middle[0], at[1] - middle[1], at[2] - middle[2]])
  return [lengthArrow(key, label, at, away, value, { min })]
}

/** Middle of the top of a body's box. */
export function bodyTop(values: Values, bodies: readonly BenchBody[]): Vec3 | null {
  const f = bodies.find((b) => b.name === values.body)?.facts
  return f ? [f.min[0] + f.size[0] / 2, f.min[1] + f.size[1] / 2, f.min[2] + f.size[2]] : null
}

/** An arrow that moves the plane of a tool along its normal: its place is the setting `at`. */
export function planeArrow(at: Vec3 | null, normal: Vec3 | null): HandleSpec[] {
  if (!at || !normal) return []
  const level = dot(at, normal)
  return [
    {
      key: 'level',
      sort: 'arrow',
      label: 'Plane at',
      at,
      axis: normal,
      value: level,
      set: (to) => ({ at: addScaled(at, normal, to - level).map((v) => Number(v.toFixed(4))) }),
    },
  ]
}
