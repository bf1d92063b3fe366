/** A loop of edges put in across a ring of quads, and a run of edges slid over the skin. */
import { StepError } from '@/core/base/step-error'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import { spokesOf, type Cage } from '@/core/subdivision/subdivide'
import { addPoint, draftOf, keptNumbers, keyOfHalf, need, topologyOf, type Picked } from './net'
import type { EditOf } from './schema'
import { chainsOf, ringOf } from './select'

/** @throws StepError `no-pick` */
export function insertLoop(cage: Cage, picked: Picked, { share }: EditOf<'loop'>): Cage {
  need(picked.edges, 1, 'edge', 'A loop')
  let now = cage
  // Each picked edge by itself; those of one ring are crossed once.
  const done = new Set<number>()
  const places = picked.edges.map((e) => endsOfKey(e))
  for (const [a, b] of places) {
    if (done.has(edgeKey(a, b))) continue
    const { halves } = ringOf(now, edgeKey(a, b))
    for (const h of halves) {
      done.add(keyOfHalf(now, h))
      done.add(keyOfHalf(now, nextInQuad(nextInQuad(h))))
    }
    now = across(now, halves, share)
  }
  return now
}

/** Splits the quads of a ring; points keep their numbers. */
function across(cage: Cage, halves: readonly number[], share: number): Cage {
  const d = draftOf(cage)
  const { positions: p, quads } = cage
  const on = new Map<number, number>()
  const mid = (a: number, b: number): number => {
    const key = edgeKey(a, b)
    let v = on.get(key)
    if (v === undefined) {
      v = addPoint(
        d,
        [0, 1, 2].map((k) => (1 - share) * p[3 * a + k] + share * p[3 * b + k]),
      )
      on.set(key, v)
      const sharp = d.creases.get(key)
      if (sharp) {
        d.creases.delete(key)
        d.creases.set(edgeKey(a, v), sharp)
        d.creases.set(edgeKey(v, b), sharp)
      }
    }
    return v
  }
  // Where a ring crosses itself a quad is crossed both ways.
  const ways = new Map<number, number[]>()
  for (const h of halves) {
    // One half-edge runs from the near side, its opposite comes back: both are split as seen from there.
    mid(quads[h], quads[nextInQuad(h)])
    const o = nextInQuad(nextInQuad(h))
    mid(quads[nextInQuad(o)], quads[o])
    const list = ways.get(h >> 2) ?? []
    if (!list.some((g) => ((g - h) & 1) === 0)) ways.set(h >> 2, [...list, h])
  }
  for (const [f, list] of ways) {
    const h = list[0]
    const c = [0, 1, 2, 3].map((i) => quads[4 * f + ((h + i) & 3)])
    const [m, o] = [on.get(edgeKey(c[0], c[1]))!, on.get(edgeKey(c[2], c[3]))!]
    if (list.length === 1) {
      d.faces[f] = [c[0], m, o, c[3]]
      d.faces.push([m, c[1], c[2], o])
      continue
    }
    const [r, l] = [on.get(edgeKey(c[1], c[2]))!, on.get(edgeKey(c[3], c[0]))!]
    const centre = addPoint(
      d,
      [0, 1, 2].map((k) => [m, o, r, l].reduce((s, v) => s + d.positions[3 * v + k] / 4, 0)),
    )
    d.faces[f] = [c[0], m, centre, l]
    d.faces.push([m, c[1], r, centre], [centre, r, c[2], o], [l, centre, o, c[3]])
  }
  return keptNumbers(d, cage)
}

/**
 * Slides runs of edges toward their left side, for shares below 0 toward the right; a run begins at the end of lower number, as its picks are
 * told. Ends of a run stay on their own edges.
 * @throws StepError `no-pick`, `no-way`
 */
export function slide(cage: Cage, picked: Picked, { share }: EditOf<'slide'>): Cage {
  need(picked.edges, 1, 'edge', 'Sliding')
  const t = topologyOf(cage)
  const { positions: p, quads } = cage
  const out = Float64Array.from(p)
  const chosen = new Set(picked.edges)
  const oriented = orientedRuns(picked.edges)
  let moved = 0
  for (const { points, closed } of oriented) {
    for (let i = 0; i < points.length; i++) {
      const v = points[i]
      const next = i + 1 < points.length ? points[i + 1] : closed ? points[0] : -1
      const before = i > 0 ? points[i - 1] : closed ? points[points.length - 1] : -1
      const spokes = spokesOf(t, v)
      const ends = spokes.map((h) => quads[nextInQuad(h)])
      const last = spokes[spokes.length - 1]
      const open = t.twin[last - (last % 4) + ((last + 3) % 4)] < 0
      if (open) ends.push(quads[last - (last % 4) + ((last + 3) % 4)])
      const n = ends.length
      // Against the clock from the edge ahead lies the left side.
      const ahead = next >= 0 ? ends.indexOf(next) : -1
      const behind = before >= 0 ? ends.indexOf(before) : -1
      const step = (from: number, by: number) => {
        const i = from + by
        if (!open) return ends[(i + n) % n]
        return i >= 0 && i < n ? ends[i] : undefined
      }
      const left = share > 0
      const to = ahead >= 0 ? step(ahead, left ? 1 : -1) : step(behind, left ? -1 : 1)
      if (to === undefined || chosen.has(edgeKey(v, to))) continue
      for (let k = 0; k < 3; k++) out[3 * v + k] += Math.abs(share) * (p[3 * to + k] - p[3 * v + k])
      moved++
    }
  }
  if (!moved)
    throw new StepError('no-way', 'The picked edges have no edges beside them to slide along.', {
      tryThis: 'Pick edges within the skin.',
    })
  return { ...cage, positions: out }
}

/** Runs of picked edges, each from its end of lower number, or round from its lowest to the lower of its neighbours. */
function orientedRuns(edges: readonly number[]) {
  return chainsOf(edges).map(({ points, closed }) => {
    if (!closed) return { points: points[0] <= points[points.length - 1] ? points : [...points].reverse(), closed }
    const i = points.indexOf(Math.min(...points))
    const turned = [...points.slice(i), ...points.slice(0, i)]
    const back = [turned[0], ...turned.slice(1).reverse()]
    return { points: turned[1] <= turned[turned.length - 1] ? turned : back, closed }
  })
}
