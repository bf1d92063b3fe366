/** A body made ready to draw: any kind's skin with normals, its lines and points. */
import { creased } from '@/core/mesh/crease'
import type { Body } from '@/core/bodies/body'
import { kindOf } from './registry'

export interface Shaded {
  positions: Float32Array
  normals: Float32Array
  index: Uint32Array
  /** Segments as point pairs. */
  lines: Float32Array
  points: Float32Array
}

const none = new Float32Array(0)

/** Arrays of their own, so that they can travel to another thread. */
export function shadeBody(body: Body): Shaded {
  const { skin, lines, points } = kindOf(body).draw(body)
  const shaded = !skin
    ? { positions: none.slice(), normals: none.slice(), index: new Uint32Array(0) }
    : skin.normals
      ? { positions: skin.positions.slice(), normals: skin.normals.slice(), index: skin.triangles.slice() }
      : creased({ positions: skin.positions, triangles: skin.triangles })
  return { ...shaded, lines: lines?.points.slice() ?? none.slice(), points: points?.points.slice() ?? none.slice() }
}

/** The arrays of a shaded body, to hand over instead of copying. */
export const buffersOf = (s: Shaded): ArrayBuffer[] =>
  [s.positions, s.normals, s.index, s.lines, s.points].map((a) => a.buffer as ArrayBuffer)
