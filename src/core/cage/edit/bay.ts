/**
 * A loop that ends: put in along the faces between two edges of one ring, there and back, so that it closes within the last face at each end
 * and all faces stay quads. Points of three and five edges at both ends take it up.
 */
import { StepError } from '@/core/base/step-error'
import { edgeKey } from '@/core/mesh/edge-key'
import type { Cage } from '@/core/subdivision/subdivide'
import { addPoint, draftOf, keptNumbers, keyOfHalf, type Picked } from './net'
import type { EditOf } from './schema'
import { opposite, ringOf } from './select'

type Quad = [number, number, number, number]

/** Half-edges by which the faces between two edges are entered, one after the other: the shorter way where the ring is closed. */
function runBetween(cage: Cage, [from, to]: readonly number[]): number[] {
  const { halves, closed } = ringOf(cage, from)
  const enters = halves.map((h) => keyOfHalf(cage, h))
  const exits = halves.map((h) => keyOfHalf(cage, opposite(h)))
  const [i, j] = [enters.indexOf(from), exits.indexOf(to)]
  const [a, b] = [exits.indexOf(from), enters.indexOf(to)]
  const n = halves.length
  const runs: number[][] = []
  const stretch = (first: number, last: number) => {
    if (first < 0 || last < 0 || (last < first && !closed)) return
    const many = ((last - first + n) % n) + 1
    runs.push(Array.from({ length: many }, (_, k) => halves[(first + k) % n]))
  }
  stretch(i, j)
  stretch(b, a)
  const run = runs.sort((x, y) => x.length - y.length).at(0)
  if (!run)
    throw new StepError('no-way', 'The two picked edges are not crossed by one ring of faces.', {
      tryThis: 'Pick two edges that lie opposite to each other along a row of faces.',
    })
  if (new Set(run.map((h) => h >> 2)).size < run.length)
    throw new StepError('no-way', 'The ring of faces crosses itself between the two picked edges.', {
      tryThis: 'Pick two edges that lie nearer to each other.',
    })
  return run
}

/** Shares along the edges that are crossed of the two lines, there and back. */
function lines(share: number): [number, number] {
  const half = Math.min(share, 1 - share) / 3
  return [share - half, share + half]
}

/** @throws StepError `two-edges`, `no-way` */
export function insertBay(cage: Cage, picked: Picked, { share }: Pick<EditOf<'loop'>, 'share'>): Cage {
  if (picked.edges.length !== 2)
    throw new StepError('two-edges', 'A loop that ends runs between two edges: pick just two.', {
      tryThis: 'Pick the edge where it begins and the one where it ends.',
    })
  const run = runBetween(cage, picked.edges)
  const d = draftOf(cage)
  const { positions: p, quads } = cage
  const [s, t] = lines(share)
  /** Corners of a face as its row is gone along: near left, near right, far right, far left. */
  const corners = (h: number) => [0, 1, 2, 3].map((i) => quads[(h & ~3) + ((h + i) & 3)])
  const within = (h: number, across: number, along: number) => {
    const [a, b, c, e] = corners(h)
    return addPoint(
      d,
      [0, 1, 2].map((k) => {
        const near = (1 - across) * p[3 * a + k] + across * p[3 * b + k]
        const far = (1 - across) * p[3 * e + k] + across * p[3 * c + k]
        return (1 - along) * near + along * far
      }),
    )
  }
  /** Two points on the edge by which a face is entered; what is sharp there stays so in three pieces. */
  const cut = (h: number): [number, number] => {
    const [a, b] = corners(h)
    const [l, r] = [within(h, s, 0), within(h, t, 0)]
    const sharp = d.creases.get(edgeKey(a, b))
    if (sharp) {
      d.creases.delete(edgeKey(a, b))
      for (const [x, y] of [
        [a, l],
        [l, r],
        [r, b],
      ])
        d.creases.set(edgeKey(x, y), sharp)
    }
    return [l, r]
  }
  const crossed = run.map((h, i) => (i ? cut(h) : null))
  for (const [i, h] of run.entries()) {
    const [a, b, c, e] = corners(h)
    const [near, far] = [crossed[i], crossed[i + 1] ?? null]
    const faces: Quad[] = []
    if (near && far) faces.push([a, near[0], far[0], e], [near[0], near[1], far[1], far[0]], [near[1], b, c, far[1]])
    else if (far) {
      const [l, r] = [within(h, s, 0.5), within(h, t, 0.5)]
      faces.push([a, b, r, l], [b, c, far[1], r], [a, l, far[0], e], [l, r, far[1], far[0]])
    } else if (near) {
      const [l, r] = [within(h, s, 0.5), within(h, t, 0.5)]
      faces.push([a, near[0], l, e], [near[0], near[1], r, l], [near[1], b, c, r], [l, r, c, e])
    } else {
      const [u, v, w, x] = [within(h, s, 1 / 3), within(h, t, 1 / 3), within(h, t, 2 / 3), within(h, s, 2 / 3)]
      faces.push([a, b, v, u], [b, c, w, v], [c, e, x, w], [e, a, u, x], [u, v, w, x])
    }
    d.faces[h >> 2] = faces[0]
    d.faces.push(...faces.slice(1))
  }
  return keptNumbers(d, cage)
}
