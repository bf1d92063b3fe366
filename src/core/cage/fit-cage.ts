/**
 * A cage whose limit surface runs through a skin: least squares over places of the surface two steps down, each to the nearest place of the
 * skin, again and again (Litke, Levin & Schröder 2001 for the setting; conjugate gradients on the normal equations).
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { conjugateGradient } from '@/core/math/conjugate-gradient'
import { quadNormals } from '@/core/mesh/quad-mesh'
import type { Ground } from '@/core/net/relax-quads'
import {
  applyRows,
  composed,
  limitRows,
  subdivide,
  subdivisionRows,
  type Cage,
  type Rows,
} from '@/core/subdivision/subdivide'

const outerRounds = 8
const innerSteps = 15
/** How strongly control points stay where they are. */
const ridge = 0.02

/** Rows transposed times values. */
function transposed({ start, index, weight }: Rows, x: Float64Array, size: number): Float64Array {
  const out = new Float64Array(size)
  for (let i = 0; i < start.length - 1; i++)
    for (let e = start[i]; e < start[i + 1]; e++)
      for (let k = 0; k < 3; k++) out[3 * index[e] + k] += weight[e] * x[3 * i + k]
  return out
}

/** Places of the limit surface at the vertices of the cage two steps down, and the quads between them. */
export function fineLimit(cage: Cage): { rows: Rows; quads: Uint32Array } {
  const first = subdivisionRows(cage)
  const one = subdivide(cage, first)
  const second = subdivisionRows(one)
  const two = subdivide(one, second)
  return { rows: composed(limitRows(two), composed(second, first)), quads: two.quads }
}

/** @param held 1 for control points that stay */
export function fitCage(cage: Cage, ground: Ground, work: Work = quiet, held?: Uint8Array): Cage {
  const { rows, quads } = fineLimit(cage)
  const size = cage.positions.length
  const p = Float64Array.from(cage.positions)
  const free = (x: Float64Array) => {
    if (held) for (let v = 0; v < held.length; v++) if (held[v]) x.fill(0, 3 * v, 3 * v + 3)
    return x
  }
  const diagonal = new Float64Array(size).fill(ridge)
  rows.index.forEach((v, e) => {
    for (let k = 0; k < 3; k++) diagonal[3 * v + k] += rows.weight[e] ** 2
  })
  for (let round = 0; round < outerRounds; round++) {
    checkStop(work)
    work.progress(round / outerRounds, 'through the scan')
    const at = applyRows(rows, p)
    const normals = quadNormals(at, quads)
    const miss = new Float64Array(at.length)
    for (let i = 0; i < at.length; i += 3) {
      const to = ground.nearest([at[i], at[i + 1], at[i + 2]], [normals[i], normals[i + 1], normals[i + 2]])
      if (to) for (let k = 0; k < 3; k++) miss[i + k] = to[k] - at[i + k]
    }
    // (S'S + ridge) d = S' miss
    const apply = (x: Float64Array, out: Float64Array) => {
      const y = transposed(rows, applyRows(rows, x), size)
      for (let i = 0; i < size; i++) out[i] = y[i] + ridge * x[i]
      free(out)
    }
    const right = free(transposed(rows, miss, size))
    const d = conjugateGradient(size, apply, diagonal, right, new Float64Array(size), { iterations: innerSteps })
    for (let i = 0; i < size; i++) p[i] += d[i]
  }
  return { ...cage, positions: p }
}

const throughRounds = 15

/** A cage whose limit surface runs through given places, one for each control point: what is missed is added, again and again. */
export function throughPlaces(cage: Cage, places: ArrayLike<number>): Cage {
  const rows = limitRows(cage)
  const p = Float64Array.from(cage.positions)
  for (let round = 0; round < throughRounds; round++) {
    const at = applyRows(rows, p)
    for (let i = 0; i < p.length; i++) p[i] += places[i] - at[i]
  }
  return { ...cage, positions: p }
}
