/** The place near another that lies on several surfaces at once. */
import { solveDense } from '@/core/math/least-squares'
import { addScaled, dot, length, type Vec3 } from '@/core/math/vec'
import { normalOf, offShape, type Shape } from '@/core/fit/shape'

/** Of two surfaces that touch each other where they run on, nothing tells where across: there a place stays (share of a normal's length). */
const touching = 1e-4
const rounds = 30

/**
 * Newton's steps of least length (damped normal equations).
 * @returns the place, and how far the farthest of the surfaces is off there, mm
 */
export function onto(p: Vec3, shapes: readonly Shape[]): { at: Vec3; off: number } {
  let at = p
  let off = Math.max(0, ...shapes.map((s) => Math.abs(offShape(s, at))))
  for (let round = 0; round < rounds && off > 1e-13; round++) {
    const normals = shapes.map((s) => normalOf(s, at))
    const a = normals.map((n, i) => normals.map((m, j) => dot(n, m) + (i === j ? touching : 0)))
    const x = solveDense(
      a,
      shapes.map((s) => -offShape(s, at)),
    )
    if (!x) break
    const next = normals.reduce<Vec3>((q, n, i) => addScaled(q, n, x[i]), at)
    const step = length([next[0] - at[0], next[1] - at[1], next[2] - at[2]])
    at = next
    off = Math.max(...shapes.map((s) => Math.abs(offShape(s, at))))
    if (!(step > 1e-13)) break
  }
  return { at, off }
}
