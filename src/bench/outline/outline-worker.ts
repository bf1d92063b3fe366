/** Solves drawings beside the screen, on the same core as the step. */
import { expose } from 'comlink'
import { reportError, type ErrorReport } from '@/core/base/step-error'
import { isDatum, isOutline } from '@/core/bodies/body'
import { resolveTaken, type Taken, type Whereabouts } from '@/core/find/taken'
import { takenRows } from '@/core/find/taken-rows'
import { laidOn, placesOf, rowsOnPlane } from '@/core/kinds/outline'
import { closeness } from '@/core/outline/crossings'
import { drawingPlane, type Drawing, type DrawingPlane, type Place } from '@/core/outline/drawing'
import { extentOf } from '@/core/outline/extent'
import { faultsOf, type DrawingFault } from '@/core/outline/faults'
import { fillsOf } from '@/core/outline/fills'
import type { Owner } from '@/core/outline/laws/formula'
import { freedomOf, type Clash, type Freedom } from '@/core/outline/freedom'
import { joined } from '@/core/outline/joined'
import { lettersOf, loadGlyphs, withLetters } from '@/core/outline/lettering'
import { chainsOf, sampleCurve } from '@/core/outline/sample'
import { measuresOf } from '@/core/outline/laws/laws'
import { proposals, type Proposal } from '@/core/outline/propose'
import { drag, solve, type Pull } from '@/core/outline/solve'
import { fitStretch, type Fitted, type StretchKind } from '@/core/trace/stretch'
import { fetchBody } from '@/bench/workers/fetch-body'
import { hereMark } from '@/bench/workers/sturdy-worker'

export type Numbers = readonly (number | null)[]

export interface Settled {
  readonly drawing: Drawing
  readonly holds: boolean
  /** What clashes, the last first. */
  readonly clashes: readonly Clash[]
  readonly broken: readonly Owner[]
  readonly error: ErrorReport | null
}

export interface Analysis {
  readonly freedom: Freedom
  readonly measures: readonly number[]
  readonly fills: readonly {
    readonly outer: readonly Place[]
    readonly holes: readonly (readonly Place[])[]
    readonly area: number
    readonly depth: number
  }[]
  readonly faults: readonly DrawingFault[]
  /** What it nearly holds. */
  readonly proposed: readonly Proposal[]
  /** The letters of its lettering, as rows of places. */
  readonly letters: readonly (readonly Place[])[]
}

const api = {
  /** `look`: tells also what says again what holds already; what contradicts is always told. */
  settle(d: Drawing, values: Numbers, look: boolean): Settled {
    try {
      const s = solve(d, values)
      const clashes = s.holds && !look ? [] : freedomOf(s.holds ? s.drawing : d, values).clashes
      return { drawing: s.drawing, holds: s.holds, clashes: [...clashes].reverse(), broken: s.broken, error: null }
    } catch (error) {
      return { drawing: d, holds: false, clashes: [], broken: [], error: reportError(error) }
    }
  },
  pull(d: Drawing, values: Numbers, pulls: readonly Pull[], sizes: readonly { curve: number; to: number }[]): Drawing {
    try {
      return drag(d, values, pulls, sizes).drawing
    } catch {
      return d
    }
  },
  async analyse(d: Drawing, values: Numbers, tolerance: number): Promise<Analysis | null> {
    try {
      const letters = d.lettering?.length ? lettersOf(d, await loadGlyphs()).drawing : undefined
      const one = joined(withLetters(d, letters), extentOf(d) * closeness)
      return {
        freedom: freedomOf(d, values),
        measures: measuresOf(d),
        fills: fillsOf(one).fills.map((f) => ({
          outer: f.outer.places,
          holes: f.holes.map((h) => h.places),
          area: f.area,
          depth: f.depth,
        })),
        faults: faultsOf(one),
        proposed: proposals(d, tolerance),
        letters: letters ? letters.curves.map((c) => sampleCurve(letters, c, extentOf(d) * 1e-4)) : [],
      }
    } catch {
      return null
    }
  },
  fit: (stretch: readonly Place[], kind: StretchKind, tolerance: number, whole: boolean): Fitted | null =>
    fitStretch(stretch, kind, tolerance, whole),
  /** The curves of other outlines, and edges of bodies, laid on a plane. */
  async behind(
    hashes: readonly string[],
    over: readonly { hash: string; taken: Taken }[],
    plane: DrawingPlane,
  ): Promise<Place[][]> {
    const bodies = await Promise.all(hashes.map((h) => fetchBody(h)))
    const edges = await Promise.all(
      over.map(async ({ hash, taken }) => laidOn(takenRows(taken, await fetchBody(hash)), plane)),
    )
    return [...bodies.flatMap((b) => (isOutline(b) ? rowsOnPlane(b, plane) : [])), ...edges.flat()].map((r) => {
      const row = placesOf(r)
      return r.closed && row.length ? [...row, row[0]] : row
    })
  },
  /** Where what is taken from a body lies. */
  whereabouts: async (hash: string, taken: Taken): Promise<Whereabouts> => resolveTaken(taken, await fetchBody(hash)),
  /** The plane of an outline or datum, and the reference curves that come with it. */
  async ground(hash: string): Promise<{ plane: DrawingPlane; references: Place[][]; drawing: Drawing | null } | null> {
    const b = await fetchBody(hash)
    if (isOutline(b))
      return {
        plane: b.plane,
        // What is drawn there can be traced as well: an import of many bits becomes a few curves.
        references: [
          ...b.reference.map((r) => ({ places: placesOf(r), closed: r.closed })),
          ...chainsOf(b.drawing, extentOf(b.drawing) * 1e-4),
        ].map(({ places, closed }) => (closed && places.length ? [...places, places[0]] : places)),
        drawing: b.drawing.curves.length ? b.drawing : null,
      }
    if (isDatum(b) && b.datum !== 'point')
      return { plane: drawingPlane(b.at, b.direction), references: [], drawing: null }
    return null
  },
}

export type OutlineApi = typeof api
expose(api)
postMessage(hereMark)
