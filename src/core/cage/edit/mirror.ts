/** One side of a cage kept, mirrored and welded in the plane, with a loop of edges there. */
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { addPoint, draftOf, faceCount, faceMiddle, finished, meanEdge } from './net'
import type { EditOf } from './schema'

/** Points of the kept side's rim that lie closer to the plane than this share of an edge come to lie in it. */
const closeBy = 0.25

/** @throws StepError `plane-misses` */
export function mirrorCage(cage: Cage, { axis, keep, at = 0 }: EditOf<'mirror'>): Cage {
  const k = 'xyz'.indexOf(axis)
  const side = keep === '+' ? 1 : -1
  const d = draftOf(cage)
  const near = closeBy * meanEdge(cage)
  const kept = new Set<number>()
  for (let f = 0; f < faceCount(cage); f++) {
    if (side * (faceMiddle(cage, f)[k] - at) > 0) kept.add(f)
    else d.faces[f] = null
  }
  if (!kept.size)
    throw new StepError(
      'plane-misses',
      `The cage has no face where ${axis} is ${keep === '+' ? 'above' : 'below'} ${num(at)}.`,
      {
        tryThis: 'Keep the other side, or move the cage.',
      },
    )
  // Points at the rim of what is kept: those that were cut loose there, and those that lie at the plane already.
  const count = new Map<number, number>()
  for (const f of kept)
    for (let h = 4 * f; h < 4 * f + 4; h++) {
      const key = edgeKey(cage.quads[h], cage.quads[nextInQuad(h)])
      count.set(key, (count.get(key) ?? 0) + 1)
    }
  const before = new Map<number, number>()
  for (let h = 0; h < cage.quads.length; h++) {
    const key = edgeKey(cage.quads[h], cage.quads[nextInQuad(h)])
    before.set(key, (before.get(key) ?? 0) + 1)
  }
  const inPlane = new Set<number>()
  for (const [key, n] of count)
    if (n === 1)
      for (const v of endsOfKey(key))
        if (before.get(key) === 2 || Math.abs(cage.positions[3 * v + k] - at) <= near) inPlane.add(v)
  for (const v of inPlane) d.positions[3 * v + k] = at
  const twin = new Map<number, number>()
  const other = (v: number): number => {
    if (inPlane.has(v)) return v
    let u = twin.get(v)
    if (u === undefined) {
      const x = [0, 1, 2].map((i) => (i === k ? 2 * at - d.positions[3 * v + i] : d.positions[3 * v + i]))
      twin.set(v, (u = addPoint(d, x)))
      const s = d.corners.get(v)
      if (s) d.corners.set(u, s)
    }
    return u
  }
  for (const f of kept) {
    const loop = d.faces[f]!
    d.faces.push([...loop].reverse().map(other) as typeof loop)
  }
  for (const [key, s] of cage.creases) {
    const [a, b] = endsOfKey(key)
    if (count.has(key)) d.creases.set(edgeKey(other(a), other(b)), s)
  }
  return finished(d, 'Mirroring')
}
