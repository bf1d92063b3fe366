/** What is pulled at: arrows and rings at the middle of what is picked. */
import { normalize, type Vec3 } from '@/core/math/vec'
import { pointNormals, pointsOf } from '@/core/cage/edit/net'
import type { HandleSpec } from '@/bench/hands/handle'
import { cageStore, middleOf } from './state'

/** Arrows and rings at the middle of what is picked; each drag of one is an edit of its own. */
export function handlesNow(): HandleSpec[] {
  const { cage, picked, handles, sort } = cageStore.getState()
  const at = cage && middleOf(cage, picked)
  if (!cage || !at) return []
  const axes: readonly (readonly [string, Vec3])[] = [
    ['x', [1, 0, 0]],
    ['y', [0, 1, 0]],
    ['z', [0, 0, 1]],
  ]
  const spec = (key: string, label: string, axis: Vec3, value: number, sort: HandleSpec['sort'] = 'arrow') =>
    ({ key, label, at, axis, value, sort, set: () => ({}) }) satisfies HandleSpec
  if (handles === 'turn') return axes.map(([k, axis]) => spec(k, `Turned about ${k}`, axis, 0, 'ring'))
  if (handles === 'scale') return axes.map(([k, axis]) => spec(k, `Size along ${k}`, axis, sizeAlong(axis)))
  const list = axes.map(([k, axis]) => spec(k, `Moved along ${k}`, axis, 0))
  const n = normalNow()
  // Along a main axis it would lie on that arrow.
  if (n && axes.every(([, a]) => Math.abs(a[0] * n[0] + a[1] * n[1] + a[2] * n[2]) < 0.995))
    list.push(spec('n', sort === 'faces' ? 'Moved square to the faces' : 'Moved along the normal', n, 0))
  return list
}

function sizeAlong(axis: Vec3): number {
  const { cage, picked } = cageStore.getState()
  if (!cage) return 0
  let [low, high] = [Infinity, -Infinity]
  for (const v of pointsOf(cage, picked)) {
    const t = [0, 1, 2].reduce((s, k) => s + axis[k] * cage.positions[3 * v + k], 0)
    low = Math.min(low, t)
    high = Math.max(high, t)
  }
  return Math.max(0, high - low)
}

/** Mean normal of what is picked. */
function normalNow(): Vec3 | null {
  const { cage, picked } = cageStore.getState()
  if (!cage) return null
  const faces = new Set(picked.faces)
  const n = pointNormals(cage, faces.size ? (f) => faces.has(f) : undefined)
  const sum: [number, number, number] = [0, 0, 0]
  for (const v of pointsOf(cage, picked)) for (let k = 0; k < 3; k++) sum[k] += n[3 * v + k]
  return Math.hypot(...sum) > 1e-6 ? normalize(sum) : null
}
