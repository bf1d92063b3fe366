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
import { fillRims } from './edit/bridge'
import { throughPlaces } from './fit-cage'

export interface Section {
  readonly name: string
  readonly places: readonly Vec3[]
  readonly closed: boolean
}

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

/** Turn at each place of a section, radians. */
function turns(p: readonly Vec3[], closed: boolean): number[] {
  const n = p.length
  return p.map((x, i) => {
    if (!closed && (i === 0 || i === n - 1)) return 0
    const [a, b] = [sub(x, p[(i + n - 1) % n]), sub(p[(i + 1) % n], x)]
    const cos = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (Math.hypot(...a) * Math.hypot(...b) || 1)
    return Math.acos(Math.max(-1, Math.min(1, cos)))
  })
}

/** A section divided into equal shares of its length and bend. */
export function divided({ places, closed }: Section, count: number, byBend: number): Vec3[] {
  const p = places
  const n = p.length
  const bits = closed ? n : n - 1
  const lengths = Array.from({ length: bits }, (_, i) => Math.hypot(...sub(p[(i + 1) % n], p[i])))
  const turn = turns(p, closed)
  const bends = lengths.map((_, i) => (turn[i] + turn[(i + 1) % n]) / 2)
  const [length, bend] = [lengths, bends].map((l) => l.reduce((s, x) => s + x, 0))
  const share = lengths.map(
    (l, i) =>
      (1 - byBend) * (l / (length || 1)) + (bend > 1e-9 ? byBend * (bends[i] / bend) : byBend * (l / (length || 1))),
  )
  const total = share.reduce((s, x) => s + x, 0)
  const out: Vec3[] = []
  const steps = closed ? count : count - 1
  let i = 0
  let done = 0
  for (let k = 0; k < count; k++) {
    const want = (total * k) / steps
    while (i < bits - 1 && done + share[i] < want) done += share[i++]
    const t = share[i] > 0 ? Math.max(0, Math.min(1, (want - done) / share[i])) : 0
    const [a, b] = [p[i], p[(i + 1) % n]]
    out.push([a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])])
  }
  return out
}

const square = (a: Vec3, b: Vec3) => (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2
const middle = (p: readonly Vec3[]): Vec3 =>
  [0, 1, 2].map((k) => p.reduce((s, x) => s + x[k], 0) / p.length) as unknown as Vec3

/** Closed sections may begin at any of so many places between two. */
const finer = 8

/** A section divided so that its places lie nearest to those of the one before, both seen from their middles: way round and start are free. */
function linedUp(to: readonly Vec3[], section: Section, byBend: number): Vec3[] {
  const { closed } = section
  const n = to.length
  const step = closed ? finer : 1
  const fine = divided(section, n * step, byBend)
  const [m, c] = [middle(to), middle(fine)]
  const a = to.map((x) => sub(x, m))
  const b = fine.map((x) => sub(x, c))
  const all = n * step
  let best: Vec3[] = []
  let least = Infinity
  for (const back of [false, true])
    for (let s = 0; s < (closed ? all : 1); s++) {
      const at = (i: number) => (closed ? (s + (back ? all - step * i : step * i)) % all : back ? n - 1 - i : i)
      let sum = 0
      for (let i = 0; i < n && sum < least; i++) sum += square(a[i], b[at(i)])
      if (sum < least) {
        least = sum
        best = Array.from({ length: n }, (_, i) => fine[at(i)])
      }
    }
  return best
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
  const lines: Vec3[][] = []
  for (const s of sections)
    lines.push(lines.length ? linedUp(lines[lines.length - 1], s, choice.byBend) : divided(s, count, choice.byBend))
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
