/** What every tool owes to recipes, cards and scripts, whatever it does: settings that are checked by name, and meshes that are left as they came. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { bodiesIn, fieldsOf } from '@/core/step/fields'
import { parseSettings } from '@/core/recipe/recipe'
import { reportError, StepError } from '@/core/base/step-error'
import type { Body } from '@/core/bodies/body'
import { encodeBody } from '@/core/kinds/registry'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { runStep } from '@/testing/run-step'
import { box, shifted, without } from '@/testing/shapes'
import { allSteps } from './registry'

const mesh = box(20, 20, 20, 3)
const open = without(box(20, 20, 20, 4), (_x, _y, z) => z > 19.9)
const other = shifted(box(8, 8, 40, 2), 6, 6, -10)

/** Settings a maker might give, for each field by its kind. */
function plausible(kind: string): Record<string, unknown> {
  const step = allSteps.find((s) => s.kind === kind)!
  const out: Record<string, unknown> = {}
  for (const { key, info, optional, fallback } of fieldsOf(step.settings)) {
    if (fallback !== undefined && !['points', 'region'].includes(info.field)) continue
    if (info.field === 'body') out[key] = out.body === undefined ? 'one' : 'two'
    else if (info.field === 'bodies') out[key] = key === 'take' ? ['two'] : ['one', 'two']
    else if (info.field === 'new-body' && !optional) out[key] = 'new'
    else if (info.field === 'region') out[key] = [{ pick: 'grow', mode: 'add', at: [10, 10, 0], angle: 20 }]
    else if (info.field === 'touch') out[key] = { as: 'point', at: [20, 10, 10] }
    else if (info.field === 'point') out[key] = [10, 0, 20]
    else if (info.field === 'out-file') out[key] = 'x.stl'
    else if (info.field === 'file') out[key] = 'x.stl'
    else if (!optional && info.field === 'text') out[key] = 'x'
  }
  return out
}

describe.each(allSteps.map((s) => [s.kind, s] as const))('%s', (kind, step) => {
  const fields = fieldsOf(step.settings)
  it('refuses an unknown key and every field of a wrong type, by name', () => {
    expect(() => parseSettings({ id: 's', kind, set: { ...plausible(kind), colour: 1 } })).toThrow(
      /unknown key "colour"/,
    )
    for (const { key } of fields) {
      for (const wrong of [Symbol('no'), () => 1])
        expect(() => parseSettings({ id: 's', kind, set: { ...plausible(kind), [key]: wrong } })).toThrow(StepError)
      try {
        parseSettings({ id: 's', kind, set: { ...plausible(kind), [key]: { not: 'this' } } })
        throw new Error(`${key} took an object`)
      } catch (e) {
        expect(e).toBeInstanceOf(StepError)
        expect((e as StepError).message).toContain(key)
      }
    }
  })
  it('numbers beyond their bounds, and no numbers at all, are refused', () => {
    for (const { key, info } of fields) {
      if (info.max === undefined || info.min === undefined) continue
      for (const v of [NaN, Infinity, info.max * 2 + 1, info.min - 1])
        expect(() => parseSettings({ id: 's', kind, set: { ...plausible(kind), [key]: v } })).toThrow(StepError)
    }
  })
  it('a choice has a label for each value, and conditions name fields that are', () => {
    const keys = new Set(fields.map((f) => f.key))
    for (const { info } of fields) {
      if (info.field === 'choice')
        expect(Object.values(info.labels ?? {}).every((l) => l.length > 0 && l.length < 40)).toBe(true)
      if (info.when) expect(keys.has(info.when.field)).toBe(true)
      if (info.on) expect(keys.has(info.on)).toBe(true)
    }
    const { reads } = bodiesIn(step.settings, plausible(kind))
    for (const r of reads) expect(['one', 'two']).toContain(r)
  })
  it('does not touch the bodies it is given, and says the same twice', async () => {
    if (kind.startsWith('bring-in/') || kind === 'mend/reskin' || kind === 'mend/refine') return
    const give = (): Record<string, TriMesh> => ({
      one: { positions: mesh.positions.slice(), triangles: mesh.triangles.slice() },
      two: { positions: other.positions.slice(), triangles: other.triangles.slice() },
    })
    const once = give(),
      again = give()
    const run = async (bodies: Record<string, TriMesh>) => {
      try {
        const r = await runStep(kind, plausible(kind), bodies)
        return JSON.stringify([
          r.said,
          Object.entries(r.bodies).map(([n, b]) => [
            n,
            b === null ? null : Buffer.from(encodeBody(b as Body)).toString('base64'),
          ]),
        ])
      } catch (e) {
        const told = reportError(e)
        // What went wrong is told in a sentence, never by a code's own words.
        expect(told.message).toMatch(/^.{10,300}$/s)
        expect(told.message).not.toMatch(/undefined|NaN|\[object|at .*\.ts|TypeError/)
        return told.message
      }
    }
    expect(await run(once)).toBe(await run(again))
    expect(once.one.positions).toEqual(mesh.positions)
    expect(once.one.triangles).toEqual(mesh.triangles)
    expect(once.two.positions).toEqual(other.positions)
  })
})

describe('a recipe by chance', () => {
  it('is taken or refused in a sentence', () => {
    const value = fc.oneof(
      fc.string(),
      fc.double(),
      fc.boolean(),
      fc.constant(null),
      fc.array(fc.double(), { maxLength: 4 }),
      fc.dictionary(fc.string(), fc.double(), { maxKeys: 2 }),
    )
    fc.assert(
      fc.property(fc.constantFrom(...allSteps), fc.array(value, { minLength: 12, maxLength: 12 }), (step, values) => {
        const set = Object.fromEntries(fieldsOf(step.settings).map((f, i) => [f.key, values[i % values.length]]))
        try {
          parseSettings({ id: 's', kind: step.kind, set })
        } catch (e) {
          expect(e).toBeInstanceOf(StepError)
          expect((e as StepError).message).toMatch(/^Step "s" \(/)
        }
      }),
      { numRuns: 1500, seed: 7 },
    )
  })
  it('an open body where a closed one is needed is told, not spoilt', async () => {
    for (const [kind, set] of [
      ['build/offset', {}],
      ['build/hollow', {}],
      ['build/union', { bodies: ['one', 'two'] }],
      ['build/difference', { from: 'one', take: ['two'] }],
    ] as const) {
      await expect(
        runStep(kind, kind.startsWith('build/o') || kind.startsWith('build/h') ? { body: 'one', ...set } : set, {
          one: open,
          two: other,
        }),
      ).rejects.toThrow(/open|closed/)
    }
  })
})
