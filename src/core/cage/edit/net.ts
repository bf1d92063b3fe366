/** A cage opened up for editing: its half-edges, and what is picked on it by number. */
import { StepError } from '@/core/base/step-error'
import { plural } from '@/core/base/say'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad, prevInQuad, quadNormals } from '@/core/mesh/quad-mesh'
import { cageTopology, type Cage, type CageTopology } from '@/core/subdivision/subdivide'
import type { Target } from './schema'

/** What is picked: points by number, edges by key, faces by number. */
export interface Picked {
  readonly points: readonly number[]
  readonly edges: readonly number[]
  readonly faces: readonly number[]
}
export const nothing: Picked = { points: [], edges: [], faces: [] }

// By the list of faces: where only points have moved it is the same.
const known = new WeakMap<Uint32Array, CageTopology>()
export function topologyOf(cage: Cage): CageTopology {
  let t = known.get(cage.quads)
  if (!t) known.set(cage.quads, (t = cageTopology(cage)))
  return t
}

export const faceCount = (cage: Cage): number => cage.quads.length / 4
export const pointCount = (cage: Cage): number => cage.positions.length / 3
export const pointAt = ({ positions: p }: Cage, v: number): [number, number, number] => [
  p[3 * v],
  p[3 * v + 1],
  p[3 * v + 2],
]
export const keyOfHalf = ({ quads }: Cage, h: number): number => edgeKey(quads[h], quads[nextInQuad(h)])

const mean = (cage: Cage, vs: readonly number[]): [number, number, number] => {
  const out: [number, number, number] = [0, 0, 0]
  for (const v of vs) for (let k = 0; k < 3; k++) out[k] += cage.positions[3 * v + k] / vs.length
  return out
}
export const edgeMiddle = (cage: Cage, key: number): [number, number, number] => mean(cage, endsOfKey(key))
export const faceMiddle = (cage: Cage, f: number): [number, number, number] =>
  mean(cage, [...cage.quads.subarray(4 * f, 4 * f + 4)])

const halves = new WeakMap<Uint32Array, Map<number, number>>()
/** A half-edge of each edge, the one of the lower number, by key. */
export function halfOfEdge(cage: Cage): Map<number, number> {
  let map = halves.get(cage.quads)
  if (!map) {
    map = new Map()
    for (let h = cage.quads.length - 1; h >= 0; h--) map.set(keyOfHalf(cage, h), h)
    halves.set(cage.quads, map)
  }
  return map
}

/** Mean length of the edges, mm. */
export function meanEdge(cage: Cage): number {
  let sum = 0
  for (let h = 0; h < cage.quads.length; h++) {
    const [a, b] = [cage.quads[h], cage.quads[nextInQuad(h)]]
    sum += Math.hypot(...[0, 1, 2].map((k) => cage.positions[3 * a + k] - cage.positions[3 * b + k]))
  }
  return sum / Math.max(1, cage.quads.length)
}

/** Ways to say in how fine a step a place is told, mm: what lies closer is the same place. */
const same = 2e-4

/**
 * The nearest of many places to each of some, once each; those at the very place first, by a table.
 * @throws StepError `no-target` where one lies farther from all than `reach` mm
 */
function nearestOf(
  wanted: readonly (readonly number[])[],
  count: number,
  at: (i: number) => readonly number[],
  reach: number,
  what: string,
): number[] {
  const cell = (x: readonly number[]) => x.map((v) => Math.round(v / (5 * same))).join()
  const table = new Map<string, number[]>()
  for (let i = 0; i < count; i++) {
    const key = cell(at(i))
    const list = table.get(key)
    if (list) list.push(i)
    else table.set(key, [i])
  }
  const out = new Set<number>()
  for (const w of wanted) {
    let best = -1
    let least = Infinity
    const look = (i: number) => {
      const q = at(i)
      const d = (q[0] - w[0]) ** 2 + (q[1] - w[1]) ** 2 + (q[2] - w[2]) ** 2
      if (d < least) [least, best] = [d, i]
    }
    for (const i of table.get(cell(w)) ?? []) look(i)
    if (least > same * same) for (let i = 0; i < count; i++) look(i)
    if (best < 0 || Math.sqrt(least) > reach)
      throw new StepError(
        'no-target',
        `There is no ${what} of the cage near ${w.map((v) => +v.toFixed(3)).join(', ')}.`,
        {
          where: { point: [w[0], w[1], w[2]] },
          tryThis: 'Take this edit out, or make it again on the cage as it is now.',
        },
      )
    out.add(best)
  }
  return [...out]
}

/** Finds what places tell on a cage. @throws StepError `no-target` */
export function resolve(cage: Cage, target: Target): Picked {
  const reach = 0.75 * meanEdge(cage)
  const { positions: p } = cage
  const edges = target.edges?.length ? [...halfOfEdge(cage).keys()] : []
  return {
    points: target.points
      ? nearestOf(target.points, pointCount(cage), (i) => [p[3 * i], p[3 * i + 1], p[3 * i + 2]], reach, 'point')
      : [],
    edges: target.edges
      ? nearestOf(target.edges, edges.length, (i) => edgeMiddle(cage, edges[i]), reach, 'edge').map((i) => edges[i])
      : [],
    faces: target.faces ? nearestOf(target.faces, faceCount(cage), (i) => faceMiddle(cage, i), reach, 'face') : [],
  }
}

const tidy = (x: readonly number[]) => x.map((v) => Number(v.toFixed(4))) as [number, number, number]

/** What is picked, told by places. */
export function targetOf(cage: Cage, { points, edges, faces }: Picked): Target {
  return {
    ...(points.length ? { points: points.map((v) => tidy(pointAt(cage, v))) } : {}),
    ...(edges.length ? { edges: edges.map((e) => tidy(edgeMiddle(cage, e))) } : {}),
    ...(faces.length ? { faces: faces.map((f) => tidy(faceMiddle(cage, f))) } : {}),
  }
}

/** All points of what is picked, in the order of the picks. */
export function pointsOf(cage: Cage, { points, edges, faces }: Picked): number[] {
  return [
    ...new Set([
      ...points,
      ...edges.flatMap(endsOfKey),
      ...faces.flatMap((f) => [...cage.quads.subarray(4 * f, 4 * f + 4)]),
    ]),
  ]
}

/** Edges that are picked, those of picked faces or between picked points where no edge is. */
export function edgesOf(cage: Cage, picked: Picked): number[] {
  if (picked.edges.length) return [...picked.edges]
  const points = new Set(picked.points)
  const faces = new Set(picked.faces)
  const out = new Set<number>()
  for (let h = 0; h < cage.quads.length; h++) {
    const [a, b] = [cage.quads[h], cage.quads[nextInQuad(h)]]
    if (faces.has(h >> 2) || (points.has(a) && points.has(b))) out.add(edgeKey(a, b))
  }
  return [...out]
}

/** Faces that are picked, or whose corners all are picked where no face is. */
export function facesOf(cage: Cage, picked: Picked): number[] {
  if (picked.faces.length) return [...picked.faces]
  const points = new Set(pointsOf(cage, picked))
  const out: number[] = []
  for (let f = 0; f < faceCount(cage); f++)
    if (cage.quads.subarray(4 * f, 4 * f + 4).every((v) => points.has(v))) out.push(f)
  return out
}

/** Unit normal at each point, of its faces by their areas; 0 0 0 at points of no face. */
export function pointNormals(cage: Cage, only?: (face: number) => boolean): Float64Array {
  const out = quadNormals(cage.positions, cage.quads, only)
  for (let o = 0; o < out.length; o += 3) {
    const l = Math.hypot(out[o], out[o + 1], out[o + 2])
    if (l > 0) for (let k = 0; k < 3; k++) out[o + k] /= l
  }
  return out
}

/** A cage as it is put together: lists that grow, compacted at the end. */
export interface Draft {
  positions: number[]
  /** Faces of four corners; null: taken away. */
  faces: ([number, number, number, number] | null)[]
  creases: Map<number, number>
  corners: Map<number, number>
}

export const draftOf = (cage: Cage): Draft => ({
  positions: [...cage.positions],
  faces: Array.from(
    { length: faceCount(cage) },
    (_, f) => [...cage.quads.subarray(4 * f, 4 * f + 4)] as [number, number, number, number],
  ),
  creases: new Map(cage.creases),
  corners: new Map(cage.corners),
})

export function addPoint(d: Draft, x: ArrayLike<number>, o = 0): number {
  d.positions.push(x[o], x[o + 1], x[o + 2])
  return d.positions.length / 3 - 1
}

/**
 * The draft as a cage: points of no face go, and so do creases over no edge.
 * @throws StepError `empty-result` when nothing is left, `not-manifold` where an edge would have more than two faces, or two that run one way
 */
export function finished(d: Draft, what: string): Cage {
  const faces = d.faces.filter((f) => f !== null)
  if (!faces.length)
    throw new StepError('empty-result', `${what} would leave nothing of the cage.`, { tryThis: 'Pick less.' })
  const number = new Map<number, number>()
  const positions: number[] = []
  const quads = new Uint32Array(4 * faces.length)
  const seen = new Set<string>()
  faces.forEach((f, i) => {
    for (let c = 0; c < 4; c++) {
      let v = number.get(f[c])
      if (v === undefined) {
        number.set(f[c], (v = positions.length / 3))
        positions.push(d.positions[3 * f[c]], d.positions[3 * f[c] + 1], d.positions[3 * f[c] + 2])
      }
      quads[4 * i + c] = v
      const half = `${f[c]}>${f[(c + 1) % 4]}`
      if (seen.has(half))
        throw new StepError(
          'not-manifold',
          `${what} would leave an edge with more than two faces, or two that face opposite ways.`,
          {
            where: { point: [d.positions[3 * f[c]], d.positions[3 * f[c] + 1], d.positions[3 * f[c] + 2]] },
            tryThis: 'Pick fewer parts, or others.',
          },
        )
      seen.add(half)
    }
  })
  const apart = fansApart(quads, positions)
  const creases = new Map<number, number>()
  for (const [key, s] of d.creases) {
    const [a, b] = endsOfKey(key)
    if (s > 0 && (seen.has(`${a}>${b}`) || seen.has(`${b}>${a}`)))
      for (const [u, w] of apart(number.get(a)!, number.get(b)!)) creases.set(edgeKey(u, w), s)
  }
  const corners = new Map<number, number>()
  for (const [v, s] of d.corners) if (s > 0 && number.has(v)) corners.set(number.get(v)!, s)
  return { positions: Float64Array.from(positions), quads, creases, corners }
}

/**
 * Gives each fan of faces that meets others at a point only a point of its own.
 * @returns the edges that an edge between two points has become
 */
function fansApart(quads: Uint32Array, positions: number[]): (a: number, b: number) => [number, number][] {
  const { twin } = cageTopology({ positions: Float64Array.from(positions), quads })
  const fans = new Int32Array(quads.length).fill(-1)
  const first = new Map<number, number>()
  const copies = new Map<number, number[]>()
  const before = quads.slice()
  for (let h = 0; h < quads.length; h++) {
    if (fans[h] >= 0) continue
    const v = before[h]
    const fan: number[] = []
    const stack = [h]
    while (stack.length) {
      const g = stack.pop()!
      if (fans[g] >= 0) continue
      fans[g] = h
      fan.push(g)
      const left = twin[prevInQuad(g)]
      const right = twin[g]
      if (left >= 0) stack.push(left)
      if (right >= 0) stack.push(nextInQuad(right))
    }
    if (!first.has(v)) {
      first.set(v, h)
      continue
    }
    const own = positions.length / 3
    positions.push(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2])
    for (const g of fan) quads[g] = own
    copies.set(v, [...(copies.get(v) ?? []), own])
  }
  if (!copies.size) return (a, b) => [[a, b]]
  const edges = new Set<number>()
  for (let h = 0; h < quads.length; h++) edges.add(edgeKey(quads[h], quads[nextInQuad(h)]))
  const all = (v: number) => [v, ...(copies.get(v) ?? [])]
  return (a, b) =>
    all(a).flatMap((u) => all(b).flatMap((w): [number, number][] => (edges.has(edgeKey(u, w)) ? [[u, w]] : [])))
}

/** @throws StepError `no-pick` */
export function need(list: readonly number[], least: number, what: string, sorry: string): void {
  if (list.length < least)
    throw new StepError(
      'no-pick',
      `${sorry} needs ${least === 1 ? `a picked ${what}` : `${plural(least, what)} or more`}.`,
      {
        tryThis: 'Pick on the cage first.',
      },
    )
}

/** The draft with the numbers of the cage's points as they were. */
export function keptNumbers(d: ReturnType<typeof draftOf>, cage: Cage): Cage {
  // Every point is in use: the order of first use would number them anew.
  const quads = Uint32Array.from(d.faces.flatMap((f) => f ?? []))
  return { ...cage, positions: Float64Array.from(d.positions), quads, creases: d.creases, corners: d.corners }
}
