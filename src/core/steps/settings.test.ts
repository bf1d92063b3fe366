/** What every tool owes to recipes, cards and scripts, whatever it does: settings that are checked by name, and meshes that are left as they came. */
import { afterAll, describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import type { Body } from '@/core/bodies/body'
import { bodiesIn, fieldsOf, fits } from '@/core/step/fields'
import { parseSettings } from '@/core/recipe/recipe'
import { reportError, StepError } from '@/core/base/step-error'
import { encodeBody } from '@/core/kinds/registry'
import type { AnyStep } from '@/core/step/step'
import { longRun, mostly } from '@/testing/long'
import { digest } from '@/testing/digest'
import { runStep } from '@/testing/run-step'
import { fixtures, plausible } from '@/testing/plausible'
import { allSteps, stepOf } from './registry'

describe.each(allSteps.map((s) => [s.kind, s] as const))('%s', (kind, step) => {
  const fields = fieldsOf(step.settings)
  it('refuses an unknown key and every field of a wrong type, by name', () => {
    expect(() => parseSettings({ id: 's', kind, set: { ...plausible(step), colour: 1 } })).toThrow(
      /unknown key "colour"/,
    )
    for (const { key } of fields) {
      for (const wrong of [Symbol('no'), () => 1])
        expect(() => parseSettings({ id: 's', kind, set: { ...plausible(step), [key]: wrong } })).toThrow(StepError)
      try {
        parseSettings({ id: 's', kind, set: { ...plausible(step), [key]: { not: 'this' } } })
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
        expect(() => parseSettings({ id: 's', kind, set: { ...plausible(step), [key]: v } })).toThrow(StepError)
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
    const { reads } = bodiesIn(step.settings, plausible(step))
    for (const r of reads) expect(['one', 'two']).toContain(r)
  })
})

/**
 * What each step answers on a body of each kind: nothing where it does what it is for, otherwise the code of its refusal. A kind of body that a
 * step does not take is not listed: that is always refused as `wrong-kind`. Made by `GLUE_BENCH_LONG=1 GLUE_BENCH_WRITE=1` and read by a person.
 */
const answersAt = path.join('src/core/steps', 'answers.json')
const answers = JSON.parse(readFileSync(answersAt, 'utf8')) as Record<string, Record<string, string>>
const written: typeof answers = {}

/** Steps on bodies and without; those that read a file have none here. */
const tried = allSteps.filter((s) => !fieldsOf(s.settings).some((f) => f.info.field === 'file'))

/** Whether a step takes all bodies of a fixture that its settings name. */
function takesAll(step: AnyStep, set: Record<string, unknown>, bodies: Record<'one' | 'two', Body>): boolean {
  return fieldsOf(step.settings)
    .filter((f) => f.info.field === 'body' || f.info.field === 'bodies')
    .every((f) =>
      ([set[f.key] ?? []].flat() as ('one' | 'two')[]).every((n) => n in bodies && fits(f.info, bodies[n].kind)),
    )
}

/**
 * Long work is not tried on every body: not on those for the tools of holes, nor on nets where it is no conversion; once where it is made of
 * other steps or reads no body.
 */
const spared = (step: AnyStep, name: string): boolean =>
  step.slow === true &&
  (name.includes('tubes') ||
    name.includes('bore') ||
    ((step.kind === 'convert/auto-skin' || !bodiesIn(step.settings, plausible(step)).reads.length) &&
      name !== 'mesh') ||
    (['net', 'cage'].includes(name) && !step.kind.startsWith('convert/')))

/** In each run a step is tried on the first body that it does its work on; on all of them in the long run. */
const first = new Map(
  tried.map(
    (s) => [s.kind, Object.keys(fixtures).find((name) => answers[name]?.[s.kind] === '' && !spared(s, name))] as const,
  ),
)

const tests = Object.keys(fixtures).map((name) => ({
  name,
  here: mostly(tried, (s) => first.get(s.kind) === name).filter((s) => !spared(s, name)),
}))
describe.each(tests.filter((t) => t.here.length))('every step on a body of the kind: $name', ({ name, here }) => {
  it.each(here.map((s) => [s.kind, s] as const))(
    '%s does it, says the same twice (slow ones in the long run) and leaves what it was given, or refuses for the right reason',
    async (kind, step) => {
      const bodies = await fixtures[name]()
      const before = [encodeBody(bodies.one), encodeBody(bodies.two)]
      const set = plausible(step)
      let kept = ''
      const run = async (): Promise<{ code: string; made: string }> => {
        try {
          const r = await runStep(kind, plausible(step), { ...bodies })
          expect(r.said.length).toBeGreaterThan(0)
          if (first.get(kind) === name)
            kept = digest({ facts: r.facts, said: r.said, bodies: r.bodies, warnings: r.warnings })
          const made = Object.entries(r.bodies).map(([n, b]) => [n, b && Buffer.from(encodeBody(b)).toString('base64')])
          return { code: '', made: JSON.stringify([r.said, made]) }
        } catch (e) {
          const told = reportError(e)
          // What went wrong is told in a sentence, never by a code's own words.
          expect(told.message).toMatch(/^.{10,300}$/s)
          expect(told.message).not.toMatch(/undefined|NaN|\[object|at .*\.ts|TypeError/)
          return { code: told.code, made: '' }
        }
      }
      const once = await run()
      if (kept) expect(kept).toMatchSnapshot()
      if (bodiesIn(step.settings, set).reads.length && !takesAll(step, set, bodies))
        expect(once.code).toBe('wrong-kind')
      else {
        ;(written[name] ??= {})[kind] = once.code
        if (!writes) expect(once.code).toBe(answers[name][kind])
        if (!writes && (!step.slow || (longRun && name === first.get(kind)))) expect(await run()).toEqual(once)
      }
      expect([encodeBody(bodies.one), encodeBody(bodies.two)]).toEqual(before)
    },
  )
})

it('every step does what it is for on one of these bodies', () => {
  expect([...first].filter(([, name]) => name === undefined).map(([kind]) => kind)).toEqual([])
})
const writes = process.env.GLUE_BENCH_WRITE === '1'
afterAll(() => {
  if (writes) writeFileSync(answersAt, `${JSON.stringify(written, null, 1)}\n`)
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
})

describe('an open body where a closed one is needed', () => {
  it('is told, not spoilt', async () => {
    const bodies = await fixtures['mesh, open at the top']()
    for (const kind of ['build/offset', 'build/hollow', 'build/union', 'build/difference'])
      await expect(runStep(kind, plausible(stepOf(kind)!), { ...bodies })).rejects.toThrow(/open|closed/)
  })
})
