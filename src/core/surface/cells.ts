/**
 * Control values of bicubic B-splines over even cells by least squares, with a little bending held against them (Dierckx 1993; thin plates:
 * Duchon 1977): for heights, or for several coordinates over the same places at once.
 */
import { evenBasis, evenBend, evenSlope } from '@/core/math/even-cubics'
import { solveBand } from '@/core/math/skyline'
import { cellOf } from './height'

/** Gauss's two places in a cell. */
const gauss = [0.5 - Math.sqrt(1 / 12), 0.5 + Math.sqrt(1 / 12)]

export interface CellPlaces {
  readonly count: number
  readonly whole: number
  /** Parameters from the rectangle's corner, mm, the weight, and what each coordinate is to be there. */
  at(i: number): { readonly u: number; readonly v: number; readonly weight: number; readonly want: readonly number[] }
}

/**
 * @param side sides of a cell, mm
 * @param coordinates how many are wanted
 * @param bending how much bending weighs beside all places together, for a cell's own size
 * @param grain mm: what lies between places this far apart they do not tell; it stays smooth however small the cells
 * @returns for each coordinate (cells u + 3) rows of cells v + 3; null where the places leave them open
 */
export function solveCells(
  places: CellPlaces,
  cells: readonly [number, number],
  side: readonly [number, number],
  coordinates: number,
  bending: number,
  grain: number,
): Float64Array[] | null {
  const width = cells[1] + 3
  const n = (cells[0] + 3) * width
  const band = 3 * width + 3
  const a = new Float64Array(n * (band + 1))
  const right = Array.from({ length: coordinates }, () => new Float64Array(n))
  const index = new Int32Array(16)
  const weights = new Float64Array(16)
  /** One equation for each coordinate: what sixteen control values come to at a place is to be a value. */
  const add = (
    i: number,
    j: number,
    bu: readonly number[],
    bv: readonly number[],
    w: number,
    want: readonly number[] | null,
  ) => {
    for (let p = 0; p < 4; p++)
      for (let q = 0; q < 4; q++) {
        index[4 * p + q] = (i + p) * width + j + q
        weights[4 * p + q] = bu[p] * bv[q]
      }
    for (let p = 0; p < 16; p++) {
      const row = index[p] * (band + 1) + band - index[p]
      const own = w * weights[p]
      if (want) for (let k = 0; k < coordinates; k++) right[k][index[p]] += own * want[k]
      for (let q = 0; q <= p; q++) a[row + index[q]] += own * weights[q]
    }
  }
  for (let p = 0; p < places.count; p++) {
    const { u, v, weight, want } = places.at(p)
    const [i, j] = [cellOf(u, side[0], cells[0]), cellOf(v, side[1], cells[1])]
    add(i.cell, j.cell, evenBasis(i.share), evenBasis(j.share), weight / places.whole, want)
  }
  // Bends over a length squared have the measure of heights: what is left open by places is filled smoothly, whatever its size.
  const least = Math.max(grain, Math.min(side[0], side[1]))
  const [su, sv] = [(least / side[0]) ** 2, (least / side[1]) ** 2]
  const share = bending / (4 * cells[0] * cells[1])
  for (let i = 0; i < cells[0]; i++)
    for (let j = 0; j < cells[1]; j++)
      for (const s of gauss)
        for (const t of gauss) {
          add(i, j, evenBend(s), evenBasis(t), share * su * su, null)
          add(i, j, evenBasis(s), evenBend(t), share * sv * sv, null)
          add(i, j, evenSlope(s), evenSlope(t), 2 * share * su * sv, null)
        }
  // A plane bends nowhere: where all places lie in a row nothing else would hold it.
  for (let k = 0; k < n; k++) a[k * (band + 1) + band] += 1e-13
  for (const r of right) if (!solveBand(coordinates > 1 ? a.slice() : a, n, band, r)) return null
  return right
}
