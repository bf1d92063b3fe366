/**
 * A sheet through scattered places with parameters, by least squares with a little bending held against it (thin plates: Duchon 1977;
 * Dierckx 1993); parameters are brought to the nearest places of the sheet between fits (Hoschek 1988).
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { Vec3 } from '@/core/math/vec'
import { solveCells } from './cells'
import { nearestOn, type Sheet } from './sheet'

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
  const side: [number, number] = [sides[0] / cells[0], sides[1] / cells[1]]
  const solved = solveCells(
    {
      count: places.at.length,
      whole: places.weight.reduce((s, w) => s + w, 0) || 1,
      at: (i) => ({
        u: places.u[i] - from[0],
        v: places.v[i] - from[1],
        weight: places.weight[i],
        want: places.at[i],
      }),
    },
    cells,
    side,
    3,
    bending,
    grain,
  )
  if (!solved) return null
  const control = new Float64Array(3 * solved[0].length)
  solved.forEach((c, k) => c.forEach((x, i) => (control[3 * i + k] = x)))
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
