/** What steps may ask of their settings and of the bench: names, fields, and bodies that do not fit. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { z } from 'zod'
import { quiet } from '@/core/base/work'
import { isMesh, meshBody, type Body } from '@/core/bodies/body'
import { makeBlock } from '@/core/kernels/exact/primitives'
import { box } from '@/testing/shapes'
import { fewRuns } from '@/testing/small-bodies'
import {
  angleDeg,
  bodiesIn,
  bodyRef,
  bodyRefs,
  choice,
  count,
  direction,
  fieldsOf,
  fileRef,
  fits,
  lengthMm,
  newBody,
  percent,
  point,
  points,
  toggle,
} from './fields'
import { benchOf, bodyName, freeName, namer, runOn, stageOf, stages, stageTitles } from './step'

const mesh = meshBody(box(2, 3, 4))
const block = await makeBlock([2, 3, 4], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'b')
const bodies: Record<string, Body> = { m: mesh, s: block }
const find = (name: string) => bodies[name]

describe('names', () => {
  it('given one after the other are all different, none taken, and say what was wished', () => {
    const wished = fc.array(fc.constantFrom('part', 'part 2', ' part ', '', '__proto__', 'a\u0000b'), { maxLength: 30 })
    fc.assert(
      fc.property(wished, fc.array(fc.constantFrom('part', 'part 2', 'body'), { maxLength: 3 }), (list, there) => {
        const taken = new Set(there)
        const give = namer(taken)
        const given = list.map((w) => give(w))
        expect(new Set([...given, ...taken]).size).toBe(given.length + taken.size)
        given.forEach((name, i) => {
          expect(name.startsWith(bodyName(list[i]))).toBe(true)
          expect(name === '__proto__').toBe(false)
          expect([...name].every((c) => c > '\u001f')).toBe(true)
        })
      }),
      fewRuns(100),
    )
  })
  it('that are taken are refused by name', () => {
    expect(freeName(new Set(['a']), 'b')).toBe('b')
    expect(() => freeName(new Set(['a']), 'a')).toThrow(expect.objectContaining({ code: 'name-taken' }))
    expect(bodyName('x'.repeat(200))).toHaveLength(80)
  })
  it('of steps begin with one of the eight stages, each with its title', () => {
    expect(stages).toHaveLength(8)
    for (const s of stages) {
      expect(stageOf(`${s}/thing`)).toBe(s)
      expect(stageTitles[s].toLowerCase().replace(' ', '-')).toBe(s)
    }
  })
})

describe('fields', () => {
  const settings = z.object({
    from: bodyRef('mesh', 'From'),
    with: bodyRefs({ can: 'surface' }, 'With', { least: 0 }).default([]),
    way: choice('Way', ['cut', 'new'], { cut: 'cut', new: 'new body' }).default('cut'),
    name: newBody('Name', { when: { field: 'way', is: ['new'] } }).default('made'),
    size: lengthMm('Size', { min: 1, max: 10 }).default(2),
    lean: angleDeg('Lean').optional(),
    share: percent('Share').default(50),
    many: count('Many', { max: 9 }).default(3),
    on: toggle('On').default(true),
    at: point('At').default([0, 0, 0]),
    along: direction('Along').default([0, 0, 1]),
    places: points('Places').optional(),
    file: fileRef().optional(),
  })
  it('are told in order, with what they are when left out', () => {
    const fields = fieldsOf(settings)
    expect(fields.map((f) => f.key)).toEqual(Object.keys(settings.shape))
    expect(fields.find((f) => f.key === 'from')).toMatchObject({
      optional: false,
      info: { field: 'body', changes: true },
    })
    expect(fields.find((f) => f.key === 'size')).toMatchObject({
      optional: true,
      fallback: 2,
      info: { unit: 'mm', min: 1 },
    })
    expect(fieldsOf(settings)).toBe(fields)
    expect(() => fieldsOf(z.object({ bare: z.number() }))).toThrow('field helper')
  })
  it('take what lies within their bounds and nothing else', () => {
    const ok = (more: object) => settings.safeParse({ from: 'm', ...more }).success
    for (const good of [
      { size: 1 },
      { size: 10 },
      { lean: -360 },
      { share: 0 },
      { many: 9 },
      { at: [1, 2, 3] },
      { on: false },
    ])
      expect([good, ok(good)]).toEqual([good, true])
    for (const bad of [
      { size: 0.99 },
      { size: 10.01 },
      { size: Infinity },
      { size: NaN },
      { lean: 361 },
      { share: 101 },
      { share: -1 },
      { many: 2.5 },
      { many: 10 },
      { at: [1, 2] },
      { along: [0, 0, 0] },
      { way: 'other' },
      { from: '' },
      { from: '__proto__' },
      { from: 'a\u0007' },
      { on: 1 },
    ])
      expect([bad, ok(bad)]).toEqual([bad, false])
  })
  it('tell which bodies are read, changed and made; what is hidden changes and makes nothing', () => {
    const set = { from: 'm', with: ['s'], name: 'made' }
    expect(bodiesIn(settings, set)).toEqual({ reads: ['m', 's'], changes: ['m', 's'], makes: [], files: [] })
    expect(bodiesIn(settings, { ...set, way: 'new' }).makes).toEqual(['made'])
    expect(bodiesIn(settings, { ...set, file: 'a.stl' }).files).toEqual(['a.stl'])
    // A place taken from a body is read as well, in lists too.
    const taken = { ...set, at: { from: 'd' }, places: [[0, 0, 0], { from: 'e' }] }
    expect(bodiesIn(settings, taken).reads).toEqual(['m', 's', 'd', 'e'])
    expect(bodiesIn(settings, taken).changes).toEqual(['m', 's'])
  })
  it('fit bodies by kind or by what they can do', () => {
    const info = (key: string) => fieldsOf(settings).find((f) => f.key === key)!.info
    expect(['mesh', 'solid', 'datum'].map((k) => fits(info('from'), k))).toEqual([true, false, false])
    expect(['mesh', 'solid', 'datum'].map((k) => fits(info('with'), k))).toEqual([true, true, false])
    expect(fits({}, 'datum')).toBe(true)
  })
})

describe('the bench as a step sees it', () => {
  const settings = z.object({ from: bodyRef('mesh', 'From'), on: bodyRef({ can: 'exact' }, 'On').optional() })
  it('gives bodies that fit and refuses others in words', async () => {
    const bench = benchOf({ settings }, { from: 'm', on: 's' }, find)
    expect(bench.mesh('m')).toBe(mesh)
    expect(bench.exact('s')).toBe(block)
    expect((await bench.surface('m', 0.1)).mesh).toEqual(mesh.mesh)
    expect(() => bench.mesh('s')).toThrow(expect.objectContaining({ code: 'wrong-kind' }))
    const wrong = benchOf({ settings }, { from: 's', on: 'm' }, find)
    expect(() => wrong.body('s')).toThrow(/works on a mesh/)
    expect(() => wrong.body('m')).toThrow(/has no exact faces/)
  })
  it('refuses coordinates that are no numbers, unless the step is made for them', () => {
    const bad = meshBody({
      positions: Float32Array.from(mesh.mesh.positions, (v, i) => (i === 5 ? NaN : v)),
      triangles: mesh.mesh.triangles,
    })
    const ask = (takesBadNumbers?: true) => benchOf({ settings, takesBadNumbers }, { from: 'x' }, () => bad).body('x')
    expect(() => ask()).toThrow(expect.objectContaining({ code: 'not-numbers' }))
    expect(isMesh(ask(true))).toBe(true)
  })
  it('puts places and directions that are taken from bodies in as numbers, and tells them', async () => {
    const step = {
      settings: z.object({ at: point('At').default([0, 0, 0]), along: direction('Along').default([0, 0, 1]) }),
      run: ({ settings: s }: { settings: { at: number[]; along: number[] } }) =>
        Promise.resolve({ bodies: {}, facts: { at: s.at, along: s.along }, said: '' }),
    }
    const top = { from: 's', as: 'face', at: [1, 1, 4] }
    const rest = { work: quiet, names: new Set<string>(), file: () => Promise.reject(new Error('none')) }
    const r = await runOn(step as never, { at: top, along: top }, find, rest)
    expect(r.facts).toEqual({ at: [1, 1, 4], along: [0, 0, 1], taken: { at: [1, 1, 4], along: [0, 0, 1] } })
    const corner = { from: 's', as: 'corner', at: [0.1, 0.2, 0.1] }
    expect((await runOn(step as never, { at: corner, along: [1, 0, 0] }, find, rest)).facts.at).toEqual([0, 0, 0])
    await expect(runOn(step as never, { at: [0, 0, 0], along: corner }, find, rest)).rejects.toMatchObject({
      code: 'no-direction',
    })
    expect((await runOn(step as never, { at: [1, 2, 3], along: [0, 1, 0] }, find, rest)).facts).toEqual({
      at: [1, 2, 3],
      along: [0, 1, 0],
    })
  })
})
