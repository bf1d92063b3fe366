/**
 * A cage lofted through sections: each is divided into as many places, these are lined up from section to section, rows are put between on
 * cubic splines, and control points are found so that the smooth surface runs through all of them.
 */
import { StepError } from '@/core/base/step-error'
import { hermite, splineSlopes } from '@/core/math/clamped-cubic'
import { cross, normalize, sub, type Vec3 } from '@/core/math/vec'
import { edgeKey } from '@/core/mesh/edge-key'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { evenShares, placesAt, samplesInGap, sharesByBend, type Section } from './divide-section'
import { fillRims } from './edit/bridge'
import { throughPlaces } from './fit-cage'

export interface LoftChoice {
  /** Faces along each section, and rows of them between two sections. */
  readonly columns: number
  readonly rows: number
  /** How much denser places lie where a section bends: 0 evenly along it, 1 by its bend alone. */
  readonly byBend: number
  /** The last section is followed by the first. */
  readonly round: boolean
  /** Closed sections: the two ends are closed by flat faces with a sharp edge. */
  readonly caps: boolean
  /** The surface leaves the end sections square to their planes; how firmly, 1 for the mean distance of sections. */
  readonly square: number | null
}

const square = (a: Vec3, b: Vec3) => (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2
const middle = (p: readonly Vec3[]): Vec3 =>
  [0, 1, 2].map((k) => p.reduce((s, x) => s + x[k], 0) / p.length) as unknown as Vec3

/** A section with even samples of it, and where along it these begin and which way they go. */
interface Lined {
  readonly section: Section
  readonly samples: readonly Vec3[]
  readonly start: number
  readonly back: boolean
}

function sampled(section: Section, columns: number): Lined {
  const { closed } = section
  return { section, samples: placesAt(section, evenShares(columns * samplesInGap, closed)), start: 0, back: false }
}

/** A section whose samples lie nearest to those of the one before, both seen from their middles: way round and start are free. */
function linedUp(before: Lined, own: Lined): Lined {
  const { closed } = own.section
  const n = own.samples.length
  const [m, c] = [middle(before.samples), middle(own.samples)]
  const a = before.samples.map((x) => sub(x, m))
  const b = own.samples.map((x) => sub(x, c))
  let [best, least] = [own, Infinity]
  for (const back of [false, true])
    for (let s = 0; s < (closed ? n : 1); s++) {
      const at = (i: number) => (closed ? (s + (back ? n - i : i)) % n : back ? n - 1 - i : i)
      let sum = 0
      for (let i = 0; i < n && sum < least; i += samplesInGap) sum += square(a[i], b[at(i)])
      if (sum >= least) continue
      least = sum
      best = { ...own, samples: own.samples.map((_, i) => own.samples[at(i)]), start: closed ? s / n : +back, back }
    }
  return best
}

/** Each section's places, across from one another. The section itself is asked, not its samples: those cut its corners. */
function dividedAlike(sections: readonly Section[], { columns, byBend }: LoftChoice): Vec3[][] {
  const lined: Lined[] = []
  for (const s of sections) {
    const own = sampled(s, columns)
    lined.push(lined.length ? linedUp(lined[lined.length - 1], own) : own)
  }
  const { closed } = sections[0]
  const shares = sharesByBend(
    lined.map((l) => l.samples),
    closed,
    columns,
    byBend,
  )
  return lined.map(({ section, start, back }) =>
    placesAt(
      section,
      shares.map((u) => {
        const at = back ? start - u : start + u
        return closed ? at - Math.floor(at) : at
      }),
    ),
  )
}

/** Unit normal of a section's own plane (Newell), toward a place. */
function planeNormal(p: readonly Vec3[], toward: Vec3): Vec3 | null {
  const c = middle(p)
  let n: Vec3 = [0, 0, 0]
  for (let i = 0; i < p.length; i++) {
    const x = cross(sub(p[i], c), sub(p[(i + 1) % p.length], c))
    n = [n[0] + x[0], n[1] + x[1], n[2] + x[2]]
  }
  if (!(Math.hypot(...n) > 1e-9)) return null
  const u = normalize(n)
  const d = sub(toward, c)
  return u[0] * d[0] + u[1] * d[1] + u[2] * d[2] < 0 ? [-u[0], -u[1], -u[2]] : u
}

/** @throws StepError `one-section`, `mixed-sections`, `short-section`, `not-smooth` */
export function loftCage(sections: readonly Section[], choice: LoftChoice): Cage {
  const { columns, rows, round } = choice
  if (sections.length < 2)
    throw new StepError('one-section', 'A cage from sections needs two of them or more.', {
      tryThis: 'Choose another outline.',
    })
  const { closed } = sections[0]
  const other = sections.find((s) => s.closed !== closed)
  if (other)
    throw new StepError(
      'mixed-sections',
      `"${sections[0].name}" is ${closed ? 'closed' : 'open'} and "${other.name}" is ${closed ? 'open' : 'closed'}; all must be alike.`,
      {
        tryThis: 'Close the open ones, or open the closed ones.',
      },
    )
  const short = sections.find((s) => s.places.length < (closed ? 3 : 2))
  if (short)
    throw new StepError('short-section', `"${short.name}" holds too few places for a section.`, {
      tryThis: 'Choose another outline.',
    })
  if (round && sections.length < 3)
    throw new StepError('one-section', 'A loft that runs round needs three sections or more.', {
      tryThis: 'Add a section, or let it end.',
    })
  const count = closed ? columns : columns + 1
  const lines = dividedAlike(sections, choice)
  // Parameters of the sections by the mean distance of their places.
  const gaps = lines.map((l, i) => {
    const next = lines[(i + 1) % lines.length]
    return Math.max(1e-9, l.reduce((s, x, k) => s + Math.sqrt(square(x, next[k])), 0) / count)
  })
  const at = [0]
  for (let i = 0; i < lines.length - (round ? 0 : 1); i++) at.push(at[i] + gaps[i])
  const normals =
    choice.square !== null && !round
      ? [planeNormal(lines[0], middle(lines[1])), planeNormal(lines[lines.length - 1], middle(lines[lines.length - 2]))]
      : [null, null]
  if (choice.square !== null && !round && normals.some((n) => !n))
    throw new StepError('not-smooth', 'An end section lies in no plane that a surface could leave square to.', {
      tryThis: 'Take "square to the ends" off.',
    })
  const [first, last] = normals
  const weight = choice.square ?? 1
  const all: Vec3[][] = []
  const slopes = Array.from({ length: count }, (_, c) =>
    [0, 1, 2].map((k) =>
      splineSlopes(
        at,
        lines.map((l) => l[c][k]),
        round ? 'closed' : [first ? weight * first[k] : null, last ? -weight * last[k] : null],
      ),
    ),
  )
  const bits = round ? lines.length : lines.length - 1
  for (let i = 0; i < bits; i++)
    for (let r = 0; r < rows; r++) {
      const j = (i + 1) % lines.length
      all.push(
        lines[i].map(
          (x, c) =>
            [0, 1, 2].map((k) =>
              hermite(x[k], lines[j][c][k], slopes[c][k][i], slopes[c][k][j], at[i + 1] - at[i], r / rows),
            ) as unknown as Vec3,
        ),
      )
    }
  if (!round) all.push(lines[lines.length - 1])
  return surfaceThrough(all, closed, round, choice.caps && closed && !round)
}

/** A cage of rows of places whose smooth surface runs through them. */
export function surfaceThrough(
  rows: readonly (readonly Vec3[])[],
  closed: boolean,
  round: boolean,
  caps: boolean,
): Cage {
  const [m, n] = [rows.length, rows[0].length]
  const positions = Float64Array.from(rows.flat(2))
  const quads: number[] = []
  for (let i = 0; i < (round ? m : m - 1); i++)
    for (let j = 0; j < (closed ? n : n - 1); j++) {
      const [a, b] = [i * n + j, i * n + ((j + 1) % n)]
      const up = ((i + 1) % m) * n
      quads.push(a, b, up + ((j + 1) % n), up + j)
    }
  let cage: Cage = { positions, quads: Uint32Array.from(quads), creases: new Map(), corners: new Map() }
  if (closed && volumeOf(cage) < 0) cage = { ...cage, quads: cage.quads.slice().reverse() }
  if (caps) {
    const creases = new Map<number, number>()
    for (let j = 0; j < n; j++)
      for (const row of [0, m - 1]) creases.set(edgeKey(row * n + j, row * n + ((j + 1) % n)), Infinity)
    cage = fillRims({ ...cage, creases })
  }
  const want = Float64Array.from(cage.positions)
  return throughPlaces(cage, want)
}

/** Six times the volume that faces enclose with the origin; its sign tells which way they face. */
function volumeOf({ positions: p, quads }: Cage): number {
  let sum = 0
  const c = [0, 1, 2].map((k) => {
    let s = 0
    for (let i = k; i < p.length; i += 3) s += p[i]
    return (3 * s) / p.length
  })
  const at = (v: number): Vec3 => [p[3 * v] - c[0], p[3 * v + 1] - c[1], p[3 * v + 2] - c[2]]
  for (let h = 0; h < quads.length; h += 4) {
    const [a, b, d] = [at(quads[h]), at(quads[nextInQuad(h)]), at(quads[h + 2])]
    const e = at(quads[h + 3])
    for (const [x, y, z] of [
      [a, b, d],
      [a, d, e],
    ]) {
      const w = cross(x, y)
      sum += w[0] * z[0] + w[1] * z[1] + w[2] * z[2]
    }
  }
  return sum
}
