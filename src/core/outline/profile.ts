/** What features are made of: areas and open runs of an outline's drawing, in its plane. */
import { StepError } from '@/core/base/step-error'
import { many, num } from '@/core/base/say'
import { insideOutline } from '@/core/math/outline'
import { dot, sub, type Vec3 } from '@/core/math/vec'
import { endsOf, toPlane, toSpace, type Drawing, type DrawingPlane, type Place } from './drawing'
import { fillsOf, type Fill, type Loop } from './fills'
import { chainsOf } from './sample'

/** An outline as features take it. */
export interface Drawn {
  readonly plane: DrawingPlane
  readonly drawing: Drawing
  readonly reference: readonly unknown[]
}

export interface Profile {
  readonly plane: DrawingPlane
  /** The drawing with its curves cut where they cross, and for each of them the curve it is of. */
  readonly divided: Drawing
  readonly of: readonly number[]
  readonly areas: readonly Fill[]
  /** Open runs, where there is no area at all. */
  readonly runs: readonly Loop['curves'][]
  /** Middle of the first area or run, in space. */
  readonly middle: Vec3
}

const inside = (f: Fill, p: Place) =>
  insideOutline(f.outer.places as [number, number][], [p[0], p[1]]) &&
  !f.holes.some((h) => insideOutline(h.places as [number, number][], [p[0], p[1]]))

const middleOf = (row: readonly Place[]): Place => [
  row.reduce((s, p) => s + p[0], 0) / row.length,
  row.reduce((s, p) => s + p[1], 0) / row.length,
]

/** The area of an outline that a place lies in; -1 when in none. */
export const areaAt = (fills: readonly Fill[], p: Place): number => fills.findIndex((f) => inside(f, p))

/**
 * The areas of an outline: those that the places lie in, else every one that is not a hole of another. Without any area its open runs.
 * @param picks places in space; empty: all
 * Throws StepError `empty`, `no-area`.
 */
/** More areas than this at once take minutes to join. */
const mostAreas = 600

export function profileOf(name: string, body: Drawn, picks: readonly Vec3[]): Profile {
  const { plane, drawing } = body
  if (!drawing.curves.some((c) => !c.construction))
    throw new StepError(
      'empty',
      body.reference.length
        ? `"${name}" holds only reference curves: nothing is drawn along them yet.`
        : `"${name}" holds no curve.`,
      { where: { body: name }, tryThis: 'Draw or trace an outline first.' },
    )
  const { divided, of, fills } = fillsOf(drawing)
  let areas: readonly Fill[]
  if (picks.length) {
    const chosen = new Set<number>()
    for (const p of picks) {
      const i = areaAt(fills, toPlane(plane, p))
      if (i < 0)
        throw new StepError(
          'no-area',
          `There is no closed area of "${name}" at ${p.map((v) => num(v, 2)).join(', ')}.`,
          {
            where: { body: name, point: p },
            tryThis: 'Pick the area again.',
          },
        )
      chosen.add(i)
    }
    areas = [...chosen].sort((a, b) => a - b).map((i) => fills[i])
  } else areas = fills.filter((f) => f.depth % 2 === 0)
  if (areas.length > mostAreas)
    throw new StepError(
      'too-many',
      `"${name}" falls into ${many(areas.length)} areas where its curves cross; ${many(mostAreas)} is the most at once.`,
      { where: { body: name }, tryThis: 'Pick the areas that are meant, or draw the outline without crossings.' },
    )
  const runs = areas.length
    ? []
    : chainsOf(divided, 1).flatMap((c): Loop['curves'][] => {
        if (!c.places.length) return []
        // Each curve is run the way in which it follows the one before.
        let at: number | null = null
        const run: { curve: number; forward: boolean }[] = []
        c.curves.forEach((curve, i) => {
          const ends = endsOf(divided.curves[curve])
          if (!ends) return
          let forward: boolean
          if (at !== null) forward = ends[0] === at
          else {
            const next = c.curves[i + 1]
            const after = next === undefined ? null : endsOf(divided.curves[next])
            forward = !after || after.includes(ends[1])
          }
          run.push({ curve, forward })
          at = forward ? ends[1] : ends[0]
        })
        return run.length ? [run] : []
      })
  const first = areas[0]?.outer.places ?? chainsOf(divided, 1)[0]?.places ?? [[0, 0]]
  return { plane, divided, of, areas, runs, middle: toSpace(plane, middleOf(first)) }
}

/** Whether two areas border on each other. */
export function border(a: Fill, b: Fill): boolean {
  const curves = new Set([a.outer, ...a.holes].flatMap((l) => l.curves.map((c) => c.curve)))
  return [b.outer, ...b.holes].some((l) => l.curves.some((c) => curves.has(c.curve)))
}

/** Height of a place over a plane, mm. */
export const heightOver = (plane: DrawingPlane, p: Vec3): number => dot(sub(p, plane.at), plane.normal)
