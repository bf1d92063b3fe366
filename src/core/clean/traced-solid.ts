/** Solids of a traced profile: a prism drawn out, or a half section turned about its axis. */
import type { Work } from '@/core/base/work'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { makeExtrusion } from '@/core/kernels/exact/extrude'
import { makeRevolution } from '@/core/kernels/exact/revolve'
import { addScaled, type Vec3 } from '@/core/math/vec'
import { toSpace, type Curve, type Drawing, type Place } from '@/core/outline/drawing'
import { extentOf } from '@/core/outline/extent'
import { renumbered } from '@/core/outline/joined'
import { alongOf } from '@/core/outline/parametric'
import { profileOf } from '@/core/outline/profile'
import type { CleanFace } from './clean-face'
import { facesOfProfile, offCurves, turnedWallOf, wallOf } from './profile-faces'
import { roundOf } from './regular/finder'
import { corners, type Row } from '@/core/trace/rows'
import { trace, type Traced, type TraceChoice } from '@/core/trace/trace'
import type { Prism } from './prism'
import type { Turned } from './turned'

/** Kinds of curve that a profile may be drawn with. */
export const profileKinds = ['line', 'arc', 'spline'] as const
export type ProfileKind = (typeof profileKinds)[number]

export interface TracedSolid {
  readonly body: ExactBody
  readonly table: readonly CleanFace[]
  /** How far each corner of the mesh lies off the profile, mm. */
  readonly offs: readonly number[]
  /** Coordinates and radii of the profile that were brought to round numbers, and how many there are. */
  readonly round: number
  readonly of: number
}

/** What files keep of a drawn corner: share of the size, at least mm; and by how many times that is looked wider. */
const narrowest = 1.5e-7
const leastNarrow = 1e-5
const narrowTimes = [1, 4, 12, 36]
/** A profile whose corners lie that closely on curves of which there are few for them needs no wider tolerance. */
const fewCurves = 0.4

/** A row of so few sides is drawn with them, whatever its kind. */
const fewSides = 12
/** Numbers that corners are brought to, mm; and how near they have to be: share of the size. */
const tidySteps = [1, 0.5, 0.25, 0.1, 0.05, 0.01, 0.005, 0.001]
const tidyShare = 4e-7
const leastTidy = 1e-6

const sizeOf = ({ places }: Row) => places.reduce((m, p) => Math.max(m, Math.abs(p[0]), Math.abs(p[1])), 0)

const choiceOf = (kinds: readonly ProfileKind[], within: number): TraceChoice => ({
  ...Object.fromEntries(kinds.map((k) => [k, within])),
  ...(kinds.includes('arc') ? { circle: within } : {}),
})

/**
 * Rows as few curves as the tolerance allows: narrower where the corners are exact, straight sides where they are few. Null where the kinds
 * do not do.
 */
function profile(rows: readonly Row[], kinds: readonly ProfileKind[], within: number, work: Work): Drawing | null {
  const few = (t: Traced, count: number) => !t.left.length && t.drawing.curves.length <= Math.max(1, fewCurves * count)
  const one = (row: Row): Traced | null => {
    const count = corners(row, 1e-7).places.length
    const exact = kinds.filter((k) => k !== 'spline')
    // Corners of a drawn part lie on its curves themselves, to what the file keeps: how near shows where a wider look finds no fewer curves.
    let fine: Traced | null = null
    if (exact.length) {
      const least = Math.max(leastNarrow, narrowest * sizeOf(row))
      const looks = narrowTimes.map((k) => trace([row], choiceOf(exact, k * least), work))
      fine =
        looks.find((t, i) => !t.left.length && looks[i + 1]?.drawing.curves.length === t.drawing.curves.length) ??
        looks[looks.length - 1]
      if (few(fine, count) || (!fine.left.length && fine.drawing.curves.length <= fewSides)) return fine
    }
    // Lines alone would follow a bend in small steps: that is a spline's.
    const bent = kinds.includes('spline') && !kinds.includes('arc')
    const wide = trace([row], choiceOf(bent ? ['spline'] : kinds, within), work)
    if (!wide.left.length) return wide
    return fine && !fine.left.length ? fine : null
  }
  const each = rows.map(one)
  return each.every((t) => t !== null) ? together(each) : null
}

/** Drawings of several rows as one. */
function together(all: readonly Traced[]): Drawing {
  const points: Place[] = []
  const curves: Curve[] = []
  for (const { drawing } of all) {
    const by = points.length
    points.push(...drawing.points)
    curves.push(...drawing.curves.map((c) => renumbered(c, (i) => i + by)))
  }
  return { points, curves }
}

interface Tidied {
  readonly drawing: Drawing
  /** Coordinates and radii brought to round numbers, and how many there are. */
  readonly round: number
  readonly of: number
}

/** Corners and radii that lie at round numbers to what a file keeps, brought there; and how many of them all did. */
function tidied(d: Drawing, near: number): Tidied {
  let round = 0,
    of = 0
  const tidy = (v: number) => {
    of++
    const r = roundOf(v, near, tidySteps)
    if (r === null) return v
    round++
    return r
  }
  const free = new Set(
    d.curves.flatMap((c) => (c.kind === 'spline' ? (c.control ?? c.through ?? []).slice(1, -1) : [])),
  )
  return {
    drawing: {
      ...d,
      points: d.points.map((p, i) => (free.has(i) ? p : [tidy(p[0]), tidy(p[1])])),
      curves: d.curves.map((c) => (c.kind === 'circle' ? { ...c, radius: tidy(c.radius) } : c)),
    },
    round,
    of,
  }
}

/** What the kernel makes of a profile, or null where it is none that it can make. */
async function orNull(made: Promise<ExactBody>): Promise<ExactBody | null> {
  try {
    return await made
  } catch (error) {
    if (!(error instanceof StepError) || error.code === 'out-of-memory') throw error
    return null
  }
}

export interface ProfileChoice {
  readonly kinds: readonly ProfileKind[]
  /** mm. */
  readonly within: number
  /** Round numbers are taken where the corners lie at them. */
  readonly tidy: boolean
  /** Begins the names of the faces. */
  readonly name: string
}

/** A profile of rows, tidied on wish; and a way to bring other numbers of the body to round ones. Null where the kinds do not do. */
function drawn(rows: readonly Row[], { kinds, within, tidy }: ProfileChoice, work: Work) {
  const d = profile(rows, kinds, within, work)
  if (!d) return null
  const near = Math.max(leastTidy, tidyShare * extentOf(d))
  const made: Tidied = tidy ? tidied(d, near) : { drawing: d, round: 0, of: 0 }
  const round = (v: number, times = 1) => (tidy ? (roundOf(v, times * near, tidySteps) ?? v) : v)
  return {
    ...made,
    numbers: { round: made.round, of: made.of },
    off: offCurves(
      made.drawing,
      rows.flatMap((r) => r.places),
    ),
    tidy: round,
  }
}

/** Null where the profile cannot be drawn with the kinds, or the kernel makes nothing of it. */
export async function extruded(p: Prism, choice: ProfileChoice, work: Work): Promise<TracedSolid | null> {
  const d = drawn(p.rows, choice, work)
  if (!d) return null
  const plane = { ...p.plane, at: p.plane.at.map((v) => d.tidy(v)) as unknown as Vec3 }
  const { areas, ...rest } = profileOf(choice.name, { plane, drawing: d.drawing, reference: [] }, [])
  if (!areas.length) return null
  const height = d.tidy(p.height)
  const body = await orNull(makeExtrusion({ ...rest, areas }, { from: 0, to: height, name: choice.name }))
  if (!body) return null
  const middle = { ...plane, at: addScaled(plane.at, plane.normal, height / 2) }
  const ends = [0, height].map((h): CleanFace => ({
    shape: 'plane',
    corners: p.rows.reduce((n, r) => n + r.places.length, 0),
    rms: p.flatness,
    max: p.flatness,
    at: toSpace({ ...plane, at: addScaled(plane.at, plane.normal, h) }, alongOf(d.drawing, d.drawing.curves[0])(0)),
  }))
  return {
    body,
    table: [...facesOfProfile(middle, d.drawing, d.off, wallOf), ...ends],
    offs: [...d.off.flatMap((o) => o.offs), p.flatness],
    ...d.numbers,
  }
}

/** As `extruded`, of a half section. */
export async function turned(s: Turned, choice: ProfileChoice, work: Work): Promise<TracedSolid | null> {
  const d = drawn(s.rows, choice, work)
  if (!d) return null
  const at = s.at.map((v) => d.tidy(v, 10)) as unknown as Vec3
  const plane = { ...s.plane, at }
  const section = profileOf(choice.name, { plane, drawing: closedAlongAxis(d.drawing, s.rows), reference: [] }, [])
  if (!section.areas.length) return null
  const body = await orNull(makeRevolution(section, { at, axis: s.axis, angle: 360, back: 0, name: choice.name }))
  return (
    body && {
      body,
      table: facesOfProfile(plane, d.drawing, d.off, turnedWallOf),
      offs: d.off.flatMap((o) => o.offs),
      ...d.numbers,
    }
  )
}

/** Runs from the axis to the axis with the lines along it that close them: two by two of their ends, as they lie along it. */
function closedAlongAxis(d: Drawing, rows: readonly Row[]): Drawing {
  const points = [...d.points]
  const ends = rows.flatMap((row) =>
    row.closed
      ? []
      : [row.places[0], row.places[row.places.length - 1]].map((end) => {
          let best = 0
          const far = (i: number) => Math.hypot(points[i][0] - end[0], points[i][1] - end[1])
          points.forEach((_, i) => {
            if (far(i) < far(best)) best = i
          })
          points[best] = [0, points[best][1]]
          return best
        }),
  )
  ends.sort((a, b) => points[a][1] - points[b][1])
  const lines = ends.flatMap((from, i): Curve[] =>
    i % 2 === 0 && i + 1 < ends.length ? [{ kind: 'line', from, to: ends[i + 1] }] : [],
  )
  return { ...d, points, curves: [...d.curves, ...lines] }
}
