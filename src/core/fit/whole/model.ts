/** A shape that triangles may belong to, and what it costs them to: half the squares of what corners lie off by, in standard deviations. */
import { vertex } from '@/core/mesh/tri-mesh'
import { normalOf, offsFrom, type Shape, type ShapeKind } from '../shape'
import type { Evidence } from './evidence'

/** What it costs a triangle to belong to no shape, or to a wrong one. */
export const freeCost = 8
/** Squares beyond this tell no more. */
export const mostSquare = 100
/** What a shape costs for being one more, by its numbers. */
export const shapeCost: Record<ShapeKind, number> = { plane: 9, sphere: 11, cylinder: 12, cone: 14, ring: 16 }

export interface Model {
  readonly shape: Shape
  /** Its skin looks to its axis or middle. */
  readonly inside: boolean
  readonly off: (p: readonly [number, number, number]) => number
}

export const modelOf = (shape: Shape, inside: boolean): Model => ({ shape, inside, off: offsFrom(shape) })

const p: [number, number, number] = [0, 0, 0]
const q: [number, number, number] = [0, 0, 0]

/** What it costs a triangle to belong to a shape: about 0.5 where it does, more than `freeCost` where it does not. */
export function costOf(e: Evidence, t: number, { shape, inside, off }: Model): number {
  const { positions, triangles } = e.mesh
  const { sigma } = e
  let cost = 0
  p[0] = p[1] = p[2] = 0
  for (let c = 0; c < 3; c++) {
    const v = 3 * triangles[3 * t + c]
    for (let k = 0; k < 3; k++) {
      q[k] = positions[v + k]
      p[k] += q[k] / 3
    }
    const r = off(q) / sigma
    cost += Math.min(mostSquare, r * r) / 6
  }
  if (cost > freeCost) return 2 * freeCost
  const n = normalOf(shape, p)
  const normal = e.normals
  const cos = (n[0] * normal[3 * t] + n[1] * normal[3 * t + 1] + n[2] * normal[3 * t + 2]) * (inside ? -1 : 1)
  if (cos < e.lean[t]) return 2 * freeCost
  if (shape.kind === 'plane') return cost
  for (let c = 0; c < 3; c++) {
    const [v, w] = [3 * triangles[3 * t + c], 3 * triangles[3 * t + ((c + 1) % 3)]]
    for (let k = 0; k < 3; k++) q[k] = (positions[v + k] + positions[w + k]) / 2
    if (Math.abs(off(q)) > e.sag[t]) return 2 * freeCost
  }
  return cost
}

/** How far the farthest corner of a triangle lies off a shape, mm. */
export function farthest(e: Evidence, t: number, { off }: Model): number {
  let most = 0
  for (let c = 0; c < 3; c++) most = Math.max(most, Math.abs(off(vertex(e.mesh, e.mesh.triangles[3 * t + c]))))
  return most
}
