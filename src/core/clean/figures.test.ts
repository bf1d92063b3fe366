/** What clean solids come to on small parts, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import type { ExactBody } from '@/core/bodies/body'
import { meshVolume } from '@/core/mesh/measures'
import { offShape, type Shape } from '@/core/fit/shape'
import { normalize, type Vec3 } from '@/core/math/vec'
import { digest, outcome, outcomeOf } from '@/testing/digest'
import { box } from '@/testing/shapes'
import { part, type PartName } from '@/testing/parts'
import { runStep } from '@/testing/run-step'
import { directionsOf } from './prism'
import { axesThroughMiddle } from './turned'
import { bodiesOf } from './bodies'
import { conicsOf, evenly, ontoConic, smoothThrough } from './meet'

const ways: [PartName, Record<string, unknown>][] = [
  ['bored plate', { way: 'faces' }],
  ['bored plate', { way: 'extrusion' }],
  ['bored plate, coarse', {}],
  ['bored plate, coarse', { way: 'faces', regular: false }],
  ['rounded block', { way: 'faces' }],
  ['rounded block', { way: 'faces', fillets: 'out' }],
  ['chamfered block', {}],
  ['countersunk disc', {}],
  ['countersunk disc', { way: 'turning', draw: ['line', 'arc', 'spline'] }],
  ['countersunk disc', { way: 'faces', tolerance: 0.02 }],
  ['shelled block', { way: 'faces' }],
  ['turned ring', {}],
  ['ball', { way: 'faces' }],
  ['open box', { way: 'faces' }],
]

describe('clean solids', () => {
  it.each(ways)('%s %j', async (name, set) => {
    const mesh = await part(name)
    const { bodies, facts, said, warnings } = await runStep('convert/clean-solid', { body: 'm', ...set }, { m: mesh })
    const solid = bodies.solid as ExactBody
    expect(solid.facts.valid).toBe(true)
    // Facets lie inside round faces: a few per cent at most, and less where fillets were left out.
    if (solid.facts.closed && !('fillets' in set)) {
      expect(solid.facts.volume / meshVolume(mesh)).toBeGreaterThan(0.97)
      expect(solid.facts.volume / meshVolume(mesh)).toBeLessThan(1.06)
    }
    const { kind, facts: own, parts } = solid
    expect(digest({ facts, said, warnings, kind, own, parts })).toMatchSnapshot()
  })
})

it('ways along which a part could be drawn out or turned, and its bodies', async () => {
  const out: unknown[] = []
  for (const name of ['bored plate', 'countersunk disc', 'two that cross', 'terrain'] as const) {
    const mesh = await part(name)
    out.push([name, directionsOf(mesh), axesThroughMiddle(mesh), bodiesOf(mesh).map((m) => m.triangles.length)])
  }
  expect(digest(out)).toMatchSnapshot()
})

const up: Vec3 = [0, 0, 1]
const askew = normalize([0.2, -0.3, 0.9] as Vec3)
const shapes: Record<string, Shape> = {
  floor: { kind: 'plane', at: [0, 0, 1], axis: up },
  wall: { kind: 'plane', at: [2, 0, 0], axis: [1, 0, 0] },
  slope: { kind: 'plane', at: [0, 1, 0], axis: askew },
  bar: { kind: 'cylinder', at: [0, 0, 0], axis: up, radius: 4 },
  'bar beside': { kind: 'cylinder', at: [5, 0, 0], axis: up, radius: 3 },
  'bar across': { kind: 'cylinder', at: [0, 0, 2], axis: [1, 0, 0], radius: 4 },
  'bar askew': { kind: 'cylinder', at: [0, 0, 0], axis: askew, radius: 2 },
  cone: { kind: 'cone', at: [0, 0, 9], axis: up, halfAngle: 30 },
  'cone across': { kind: 'cone', at: [9, 0, 2], axis: [1, 0, 0], halfAngle: 20 },
  ball: { kind: 'sphere', at: [0, 0, 3], radius: 5 },
  'ball beside': { kind: 'sphere', at: [3, 2, 3], radius: 4 },
  ring: { kind: 'ring', at: [0, 0, 1], axis: up, radius: 6, thickness: 2 },
  'ring above': { kind: 'ring', at: [0, 0, 3], axis: up, radius: 5, thickness: 2 },
  'ring across': { kind: 'ring', at: [2, 0, 1], axis: [1, 0, 0], radius: 6, thickness: 1.5 },
}

describe('curves in which two surfaces meet', () => {
  it.each(Object.keys(shapes))('%s with each of the others', (name) => {
    const met = Object.entries(shapes).map(([other, b]) => {
      const found = conicsOf(shapes[name], b, 1e-6)
      // Every one of them lies on both.
      for (const c of found)
        for (const t of [0.3, 2, 4.4]) {
          const near: Vec3 = [7 * Math.cos(t), 7 * Math.sin(t), t]
          const p = ontoConic(c, near)
          if (c.kind === 'circle') expect(Math.abs(offShape(b, p))).toBeLessThan(1e-5)
        }
      return [other, found]
    })
    expect(digest(met)).toMatchSnapshot()
  })
})

it('smooth curves through rows of places, open and closed, with and without what they lie on', () => {
  const row = (n: number, closed: boolean): Vec3[] =>
    Array.from({ length: n }, (_, i): Vec3 => {
      const t = closed ? (2 * Math.PI * i) / (n - 1) : 0.3 * i
      return [5 * Math.cos(t), 3 * Math.sin(t), 0.4 * Math.sin(2 * t)]
    })
  const all = [2, 3, 4, 9].flatMap((n) =>
    [false, true].flatMap((closed) => {
      const at = row(n, closed)
      return [undefined, at.map((): Vec3[] => [up])].map((normals) =>
        outcome(() => [evenly(at, 4), smoothThrough(at, closed, normals as never)]),
      )
    }),
  )
  expect(digest(all)).toMatchSnapshot()
})

describe('a block with a bent top', () => {
  const bent = box(20, 16, 8, 8)
  for (let v = 0; v < bent.positions.length; v += 3)
    if (bent.positions[v + 2] > 7.9) {
      const [x, y] = [bent.positions[v] - 10, bent.positions[v + 1] - 8]
      bent.positions[v + 2] += 1.5 * Math.exp(-(x * x + 2 * y * y) / 30) + 0.02 * x * y * 0.1
    }
  it.each([{}, { leftovers: 'facets' }, { regular: false, tolerance: 0.05 }, { way: 'faces', tolerance: 0.3 }])(
    '%j',
    async (set) => {
      const r = await outcomeOf(() => runStep('convert/clean-solid', { body: 'm', way: 'faces', ...set }, { m: bent }))
      const { bodies, facts, said, warnings } = r as Awaited<ReturnType<typeof runStep>>
      const solid = bodies.solid as ExactBody
      expect(Math.abs(solid.facts.volume / meshVolume(bent) - 1)).toBeLessThan(0.02)
      expect(digest({ facts, said, warnings, own: solid.facts, parts: solid.parts })).toMatchSnapshot()
    },
  )
})
