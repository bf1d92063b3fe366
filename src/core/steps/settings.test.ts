/** What every tool owes to recipes, cards and scripts, whatever it does: settings that are checked by name, and meshes that are left as they came. */
import { afterAll, describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { bodiesIn, fieldsOf, fits } from '@/core/step/fields'
import { parseSettings } from '@/core/recipe/recipe'
import { reportError, StepError } from '@/core/base/step-error'
import { encodeBody } from '@/core/kinds/registry'
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

/** Slow steps made of the parts of others, which are tried on all: these are tried on one fixture. */
const composed = new Set(['convert/auto-skin'])

/** What a step may answer where it cannot do what is asked of a body of a kind that fits. */
const refusals = new Set([
  'not-closed',
  'not-sound',
  'closed',
  'no-cut',
  'no-hole',
  'no-rim',
  'empty-result',
  'empty-region',
  'no-axis',
  'same-rim',
  'square',
  'no-part',
  'mixed-sections',
  'too-tight',
  'sweep-failed',
  'too-large',
  'too-thick',
  'not-enclosed',
  'not-flat',
  'flat',
  'plane-misses',
  'no-inside',
  'crosses-itself',
])

describe.each(Object.keys(fixtures))('every step on a body of the kind: %s', (name) => {
  it.each(
    allSteps.filter((s) => !fieldsOf(s.settings).some((f) => f.info.field === 'file')).map((s) => [s.kind, s] as const),
  )(
    '%s does it, says the same twice and leaves what it was given, or refuses for the right reason',
    async (_kind, step) => {
      const bodies = await fixtures[name]()
      const before = [encodeBody(bodies.one), encodeBody(bodies.two)]
      const needed = bodiesIn(step.settings, plausible(step)).reads
      // The two fixtures with a hole each are for the tools of holes; long work is tried once.
      const tried = !name.includes('tubes') && !name.includes('bore') && (!composed.has(step.kind) || name === 'mesh')
      if (
        step.slow &&
        (!needed.length || !tried || (['net', 'cage'].includes(name) && !step.kind.startsWith('convert/')))
      )
        return
      const set = plausible(step)
      const takes = fieldsOf(step.settings)
        .filter((f) => f.info.field === 'body' || f.info.field === 'bodies')
        .every((f) =>
          ([set[f.key] ?? []].flat() as ('one' | 'two')[]).every((n) => n in bodies && fits(f.info, bodies[n].kind)),
        )
      const run = async (): Promise<string> => {
        try {
          const r = await runStep(step.kind, plausible(step), { ...bodies })
          expect(r.said.length).toBeGreaterThan(0)
          const made = Object.entries(r.bodies).map(([n, b]) => [n, b && Buffer.from(encodeBody(b)).toString('base64')])
          return JSON.stringify([r.said, made])
        } catch (e) {
          const told = reportError(e)
          // What went wrong is told in a sentence, never by a code's own words.
          expect(told.message).toMatch(/^.{10,300}$/s)
          expect(told.message).not.toMatch(/undefined|NaN|\[object|at .*\.ts|TypeError/)
          return `refused: ${told.code}`
        }
      }
      const once = await run()
      if (!takes && needed.length) expect(once).toBe('refused: wrong-kind')
      else {
        // A file format may hold other kinds only.
        const may = step.kind === 'send-out/file' ? [...refusals, 'wrong-kind'] : [...refusals]
        if (once.startsWith('refused: ')) expect(may).toContain(once.slice(9))
        done.add(once.startsWith('refused') ? '' : step.kind)
        if (name === 'mesh' && !step.slow) expect(await run()).toBe(once)
      }
      expect([encodeBody(bodies.one), encodeBody(bodies.two)]).toEqual(before)
    },
  )
})

/** Steps that did what they are for on one of the fixtures. */
const done = new Set<string>()
afterAll(() => {
  const never = allSteps.filter(
    (s) =>
      !done.has(s.kind) &&
      !(s.slow && !bodiesIn(s.settings, plausible(s)).reads.length) &&
      !fieldsOf(s.settings).some((f) => f.info.field === 'file'),
  )
  expect(never.map((s) => s.kind)).toEqual([])
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
