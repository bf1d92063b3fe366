/** What every result is asked, whichever step made it. */
import { describe, expect, it } from '@jest/globals'
import { z } from 'zod'
import { reportError } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { meshBody, netBody, type Body, type ExactBody } from '@/core/bodies/body'
import { translation } from '@/core/math/affine'
import { moveBody } from '@/core/kinds/registry'
import { makeBlock } from '@/core/kernels/exact/primitives'
import { box } from '@/testing/shapes'
import { bodyRef } from './fields'
import { defineStep, runOn } from './step'

const trial = (make: (b: Body) => Body | null, more = {}) =>
  defineStep({
    kind: 'mend/trial',
    version: 1,
    order: 1,
    title: 'Trial',
    past: 'Tried',
    summary: '',
    settings: z.object({ body: bodyRef('any') }),
    run: ({ settings, body }) =>
      Promise.resolve({
        bodies: { [settings.body]: make(body(settings.body)) },
        facts: {},
        said: '',
        warnings: ['its own'],
      }),
    ...more,
  })
const run = (make: (b: Body) => Body | null, given: Body, more = {}) =>
  runOn(trial(make, more), { body: 'b' }, () => given, {
    work: quiet,
    names: new Set(['b']),
    file: () => Promise.reject(new Error('no file')),
  })
const refusal = (make: (b: Body) => Body, given: Body) =>
  run(make, given).then(
    () => null,
    (e: unknown) => reportError(e),
  )
const mesh = () => meshBody(box(30, 20, 10))

describe('a result', () => {
  it('that is right is left as it is, as is one that nothing was done to', async () => {
    expect((await run(() => mesh(), mesh())).warnings).toEqual(['its own'])
    expect((await run((b) => b, await moveBody(mesh(), translation([1e6, 0, 0])))).warnings).toEqual(['its own'])
    expect((await run(() => null, mesh())).warnings).toEqual(['its own'])
  })
  it('without triangles, or with corners that are no numbers, is refused by name', async () => {
    const empty = meshBody({ positions: new Float32Array(0), triangles: new Uint32Array(0) })
    expect(await refusal(() => empty, mesh())).toMatchObject({ code: 'empty-result', where: { body: 'b' } })
    const bad = box(30, 20, 10)
    bad.positions[4] = NaN
    expect(await refusal(() => meshBody(bad), mesh())).toMatchObject({ code: 'not-numbers' })
    // Those that copy with such bodies may give them on.
    expect((await run(() => meshBody(bad), mesh(), { takesBadNumbers: true })).warnings).toEqual(['its own'])
  })
  it('whose volume its facets do not bear out, or whose size is another, says so', async () => {
    const block = await makeBlock([30, 20, 10], [0, 0, 0], [0, 0, 1], [1, 0, 0])
    const told = (facts: Partial<ExactBody['facts']>) => (): Body =>
      ({ ...block, facts: { ...block.facts, ...facts } }) as Body
    expect((await run(told({}), block)).warnings).toEqual(['its own'])
    expect((await run(told({ volume: 6600 }), block)).warnings![1]).toMatch(
      /^"b" does not add up: by exact sums its volume is 6600 mm³, by its facets 6000 mm³/,
    )
    expect((await run(told({ size: [30, 20, 16.2] }), block)).warnings![1]).toMatch(
      /measures 30 × 20 × 16\.2 mm, and its facets reach up to 6\.2/,
    )
  })
  it('of quads that are folded says how many', async () => {
    const net = netBody({
      positions: Float32Array.of(0, 0, 0, 4, 1, 0, 1, 1, 0, 1, 4, 0),
      quads: Uint32Array.of(0, 1, 2, 3),
    })
    expect((await run(() => net, mesh())).warnings![1]).toBe('"b" has 1 quad folded over.')
  })
  it('far from the origin says how coarse it is there', async () => {
    const far = await moveBody(mesh(), translation([0, 3e5, 0]))
    expect((await run(() => far, mesh())).warnings![1]).toMatch(
      /^"b" lies so far from the origin.*0\.0313 mm coarse: Centre it/,
    )
  })
})
