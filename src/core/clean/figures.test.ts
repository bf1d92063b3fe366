/** What clean solids come to on small parts, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import type { ExactBody } from '@/core/bodies/body'
import { meshVolume } from '@/core/mesh/measures'
import { recognise } from '@/core/fit/recognise'
import { digest } from '@/testing/digest'
import { part, type PartName } from '@/testing/parts'
import { runStep } from '@/testing/run-step'
import { directionsOf } from './prism'
import { axesThroughMiddle } from './turned'
import { bodiesOf } from './bodies'
import { conicsOf } from './meet'

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

it('curves in which two surfaces meet', async () => {
  const kinds = await Promise.all(
    (['bored plate', 'countersunk disc', 'turned ring'] as const).map(async (n) =>
      recognise(await part(n)).regions.flatMap((r) => (r.shape ? [r.shape] : [])),
    ),
  )
  const all = kinds.flat()
  const met = all.flatMap((a, i) => all.slice(i + 1).map((b) => [a.kind, b.kind, conicsOf(a, b, 1e-3)]))
  expect(digest(met)).toMatchSnapshot()
})
