/** Heights through scattered places by least squares, with a little bending held against them (Dierckx 1993; thin plates: Duchon 1977). */
import { solveBand } from '@/core/math/skyline'
import type { Vec3 } from '@/core/math/vec'
import { evenBasis, evenBend, evenSlope } from '@/core/math/even-cubics'
import { cellOf, heightAt, onGround, type Ground, type Height } from './height'

export interface Weighed {
  readonly at: Vec3
  readonly weight: number
}

/** Bending weighs so much beside all places together, for a cell's own size. */
const bending = 1e-6
/** Gauss's two places in a cell. */
const gauss = [0.5 - Math.sqrt(1 / 12), 0.5 + Math.sqrt(1 / 12)]
/** Cells along the longer side, one try after the other. */
const rows = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48]

/**
 * Heights with so many cells; null where the places leave them open.
 * @param grain mm: what lies between places this far apart they do not tell; it stays smooth however small the cells
 */
export function fitCells(
  places: readonly Weighed[],
  ground: Ground,
  sides: readonly [number, number],
  cells: readonly [number, number],
  grain = 0,
): Height | null {
  const side: [number, number] = [sides[0] / cells[0], sides[1] / cells[1]]
  const width = cells[1] + 3
  const n = (cells[0] + 3) * width
  const band = 3 * width + 3
  const a = new Float64Array(n * (band + 1))
  const r = new Float64Array(n)
  const index = new Int32Array(16)
  const weights = new Float64Array(16)
  /** One equation: what sixteen control points come to at a place is to be a value. */
  const add = (i: number, j: number, bu: readonly number[], bv: readonly number[], w: number, want: number) => {
    for (let p = 0; p < 4; p++)
      for (let q = 0; q < 4; q++) {
        index[4 * p + q] = (i + p) * width + j + q
        weights[4 * p + q] = bu[p] * bv[q]
      }
    for (let p = 0; p < 16; p++) {
      const row = index[p] * (band + 1) + band - index[p]
      const own = w * weights[p]
      r[index[p]] += own * want
      for (let q = 0; q <= p; q++) a[row + index[q]] += own * weights[q]
    }
  }
  const whole = places.reduce((s, p) => s + p.weight, 0) || 1
  for (const { at, weight } of places) {
    const [u, v, w] = onGround(ground, at)
    const [i, j] = [cellOf(u, side[0], cells[0]), cellOf(v, side[1], cells[1])]
    add(i.cell, j.cell, evenBasis(i.share), evenBasis(j.share), weight / whole, w)
  }
  // Bends over a length squared have the measure of heights: what is left open by places is filled smoothly, whatever its size.
  const least = Math.max(grain, Math.min(side[0], side[1]))
  const [su, sv] = [(least / side[0]) ** 2, (least / side[1]) ** 2]
  const share = bending / (4 * cells[0] * cells[1])
  for (let i = 0; i < cells[0]; i++)
    for (let j = 0; j < cells[1]; j++)
      for (const s of gauss)
        for (const t of gauss) {
          add(i, j, evenBend(s), evenBasis(t), share * su * su, 0)
          add(i, j, evenBasis(s), evenBend(t), share * sv * sv, 0)
          add(i, j, evenSlope(s), evenSlope(t), 2 * share * su * sv, 0)
        }
  // A plane bends nowhere: where all places lie in a row nothing else would hold it.
  for (let k = 0; k < n; k++) a[k * (band + 1) + band] += 1e-13
  return solveBand(a, n, band, r) ? { ground, cells, side, control: r } : null
}

export interface HeightFit {
  readonly height: Height
  /** Greatest distance of a place of full weight, along the heights and slopes, mm. */
  readonly max: number
}

/**
 * The coarsest heights that places lie on to a tolerance, or the nearest there are.
 * @param within mm
 * @param most control points are asked for at most
 * @param grain as for `fitCells`
 */
export function fitHeight(
  places: readonly Weighed[],
  ground: Ground,
  sides: readonly [number, number],
  within: number,
  most: number,
  grain = 0,
): HeightFit | null {
  let best: HeightFit | null = null
  for (const k of rows) {
    const cells: [number, number] = [k, Math.max(1, Math.round((k * sides[1]) / sides[0]))]
    if (best && (cells[0] + 3) * (cells[1] + 3) > most) break
    const height = fitCells(places, ground, sides, cells, grain)
    if (!height) continue
    let max = 0
    for (const { at, weight } of places) {
      if (weight < 1) continue
      const [u, v, w] = onGround(ground, at)
      const h = heightAt(height, u, v)
      max = Math.max(max, Math.abs(w - h.height) / Math.hypot(1, h.slope[0], h.slope[1]))
    }
    if (!best || max < best.max) best = { height, max }
    if (max <= within) break
  }
  return best
}
