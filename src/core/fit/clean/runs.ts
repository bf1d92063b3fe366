/** Runs of facets that go on from one to the next. */
import { alike, wallTurn, type Facet } from './facets'

/** Facets that run on from one, those that turn least first. */
export function runOn(facets: readonly Facet[], taken: Int8Array, seed: number, many: number): number[] {
  const run = new Set([seed])
  for (const k of run) {
    const next = [...facets[k].beside]
      .filter(
        ([j, turn]) =>
          !taken[j] &&
          turn < wallTurn &&
          facets[k].area < alike * facets[j].area &&
          facets[j].area < alike * facets[k].area,
      )
      .sort((a, b) => a[1] - b[1])
    for (const [j] of next) if (run.size < many) run.add(j)
    if (run.size >= many) break
  }
  return [...run]
}

/** Facets that bend on from one to the next by less than this are of one surface, radians; so many of them are no accident. */
const freeTurn = 0.35
const leastFree = 6
/** Facets of a free surface may differ by so many times in area from one to the next. */
const freeAlike = 8

/** Runs of flat facets that bend on into each other: surfaces that are none of the shapes. */
export function freeRuns(facets: readonly Facet[], flat: readonly number[]): number[][] {
  const left = new Set(flat)
  const out: number[][] = []
  for (const start of flat) {
    if (!left.has(start)) continue
    const run = [start]
    left.delete(start)
    for (const k of run)
      for (const [j, turn] of facets[k].beside) {
        const ratio = facets[j].area / facets[k].area
        if (!left.has(j) || turn > freeTurn || ratio > freeAlike || ratio < 1 / freeAlike) continue
        left.delete(j)
        run.push(j)
      }
    if (run.length >= leastFree) out.push(run)
  }
  return out
}
