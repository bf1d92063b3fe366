/** What steps of subdivision and limits come to on small cages, kept as figures: any change to the rules shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { edgeKey } from '@/core/mesh/edge-key'
import { digest, outcome } from '@/testing/digest'
import { quadBlock } from '@/testing/quad-shapes'
import {
  applyRows,
  cageTopology,
  composed,
  limitPlaces,
  limitQuads,
  limitRows,
  limitTangent,
  spokesOf,
  subdivide,
  subdivisionRows,
  vertexRules,
  type Cage,
} from './subdivide'

const net = quadBlock([6, 5, 4], [0, 0, 0], 2)
const cage = (creases: [number, number, number][] = [], corners: [number, number][] = [], quads = net.quads): Cage => ({
  positions: Float64Array.from(net.positions),
  quads,
  creases: new Map(creases.map(([a, b, s]) => [edgeKey(a, b), s])),
  corners: new Map(corners),
})
const q = net.quads
const edges = (s: number): [number, number, number][] => [0, 1, 2, 5, 9].map((h) => [q[4 * h], q[4 * h + 1], s])
const cages: Record<string, Cage> = {
  plain: cage(),
  'creases for ever': cage(edges(Infinity)),
  'creases of one and a half': cage(edges(1.5), [[q[0], 0.4]]),
  'creases of a third': cage(edges(1 / 3), [[q[8], Infinity]]),
  open: cage(edges(0.7), [], q.slice(12)),
}
describe.each(Object.keys(cages))('%s', (name) => {
  it('rules, one step, the limit', () => {
    const c = cages[name]
    const t = cageTopology(c)
    const rows = subdivisionRows(c)
    const limit = limitRows(c)
    // Weights of each new point make one.
    for (const { start, weight } of [rows, limit])
      for (let i = 0; i + 1 < start.length; i++) {
        let sum = 0
        for (let k = start[i]; k < start[i + 1]; k++) sum += weight[k]
        expect(sum).toBeCloseTo(1, 12)
      }
    expect(
      digest({
        t,
        rules: vertexRules(c, t),
        rows,
        limit,
        once: subdivide(c),
        places: limitPlaces(c),
        quads: limitQuads(c, 2),
        spokes: [0, 3, 7].map((v) => spokesOf(t, v)),
        ways: [0, 3, 7].map((v) => outcome(() => limitTangent(c.positions, c.quads, spokesOf(t, v), 0))),
        twice: applyRows(composed(subdivisionRows(subdivide(c)), rows), c.positions),
      }),
    ).toMatchSnapshot()
  })
})
