/**
 * A sheet through scattered places with parameters, by least squares with a little bending held against it (thin plates: Duchon 1977;
 * Dierckx 1993); parameters are brought to the nearest places of the sheet between fits (Hoschek 1988).
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { evenBasis, evenBend, evenSlope } from '@/core/math/even-cubics'
import { solveBand } from '@/core/math/skyline'
import type { Vec3 } from '@/core/math/vec'
import { cellOf } from './height'
import { nearestOn, type Sheet } from './sheet'

/** Gauss's two places in a cell. */
const gauss = [0.5 - Math.sqrt(1 / 12), 0.5 + Math.sqrt(1 / 12)]

export interface SheetPlaces {
  readonly at: readonly Vec3[]
  /** Parameters, mm; brought up to date by fits. */
  readonly u: Float64Array
  readonly v: Float64Array
  readonly weight: Float64Array
}

export interface Rectangle {
  readonly from: readonly [number, number]
  readonly sides: readonly [number, number]
}

/**
 * @param bending how much bending weighs beside all places together, for a cell's own size
 * @param grain mm: what lies between places this far apart stays smooth however small the cells
 */
export function fitSheet(
  places: SheetPlaces,
  { from, sides }: Rectangle,
  cells: readonly [number, number],
  bending: number,
  grain: number,
): Sheet | null {
  // prettier-ignore
  const side: [number, number] = [sides[0] / cells[0], sides[1] / cells[1]]
  const width = cells[1] + 3
  const n = (cells[0] + 3) * width
  const band = 3 * width + 3
  const a = new Float64Array(n * (band + 1))
  const right = [new Float64Array(n), new Float64Array(n), new Float64Array(n)]
  const index = new Int32Array(16)
  const weights = new Float64Array(16)
  const add = (i: number, j: number, bu: readonly number[], bv: readonly number[], w: number, want: Vec3 | null) => {
    for (let p = 0; p < 4; p++)
      for (let q = 0; q < 4; q++) {
        index[4 * p + q] = (i + p) * width + j + q
        weights[4 * p + q] = bu[p] * bv[q]
      }
    for (let p = 0; p < 16; p++) {
      const row = index[p] * (band + 1) + band - index[p]
      const own = w * weights[p]
      if (want) for (let k = 0; k < 3; k++) right[k][index[p]] += own * want[k]
      for (let q = 0; q <= p; q++) a[row + index[q]] += own * weights[q]
    }
  }
  const whole = places.weight.reduce((s, w) => s + w, 0) || 1
  places.at.forEach((at, p) => {
    const [i, j] = [cellOf(places.u[p] - from[0], side[0], cells[0]), cellOf(places.v[p] - from[1], side[1], cells[1])]
    add(i.cell, j.cell, evenBasis(i.share), evenBasis(j.share), places.weight[p] / whole, at)
  })
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
  for (let k = 0; k < n; k++) a[k * (band + 1) + band] += 1e-13
  const control = new Float64Array(3 * n)
  for (let k = 0; k < 3; k++) {
    if (!solveBand(a.slice(), n, band, right[k])) return null
    for (let i = 0; i < n; i++) control[3 * i + k] = right[k][i]
  }
  return { from, cells, side, control }
}

/** Distances of the places from the sheet, their parameters brought to the nearest. */
export function settle(sheet: Sheet, places: SheetPlaces): Float64Array {
  return Float64Array.from(places.at, (x, i) => {
    const near = nearestOn(sheet, x, places.u[i], places.v[i])
    places.u[i] = near.u
    places.v[i] = near.v
    return near.off
  })
}

export interface SheetFit {
  readonly sheet: Sheet
  /** How far each place lies off it, mm; above 0 on the side of its normal. */
  readonly off: Float64Array
  readonly max: number
}

/** @param rounds how often parameters are brought up to date and the sheet is fitted again @throws Stopped */
export function fitSettled(
  places: SheetPlaces,
  rectangle: Rectangle,
  cells: readonly [number, number],
  bending: number,
  grain: number,
  rounds: number,
  work: Work = quiet,
): SheetFit | null {
  let best: SheetFit | null = null
  for (let r = 0; r <= rounds; r++) {
    checkStop(work)
    const sheet = fitSheet(places, rectangle, cells, bending, grain)
    if (!sheet) return best
    const off = settle(sheet, places)
    const max = off.reduce((m, d) => Math.max(m, Math.abs(d)), 0)
    if (!best || max < best.max) best = { sheet, off, max }
  }
  return best
}
