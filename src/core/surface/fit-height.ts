/** Heights through scattered places by least squares, with a little bending held against them (Dierckx 1993; thin plates: Duchon 1977). */
import type { Vec3 } from '@/core/math/vec'
import { solveCells } from './cells'
import { heightAt, onGround, type Ground, type Height } from './height'

export interface Weighed {
  readonly at: Vec3
  readonly weight: number
}

/** Bending weighs so much beside all places together, for a cell's own size. */
const bending = 1e-6
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
  const whole = places.reduce((s, p) => s + p.weight, 0) || 1
  const control = solveCells(
    {
      count: places.length,
      whole,
      at(i) {
        const [u, v, w] = onGround(ground, places[i].at)
        return { u, v, weight: places[i].weight, want: [w] }
      },
    },
    cells,
    side,
    1,
    bending,
    grain,
  )
  return control && { ground, cells, side, control: control[0] }
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
