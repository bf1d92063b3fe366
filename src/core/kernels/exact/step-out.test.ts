/** STEP as it leaves: colours, schemas, the exact faces of meshes; read back here, its text looked at by its own grammar (ISO 10303-21). */
import { describe, expect, it } from '@jest/globals'
import { reportError } from '@/core/base/step-error'
import type { MeshBody } from '@/core/bodies/body'
import { exactRests } from '@/core/join/exact-borders'
import { box, sphere } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'
import { makeBlock, makeCylinder } from './primitives'
import { checkStepFile } from './step-check'
import { readStep, writeStep } from './step-file'
import { coloured, stepNotes } from './step-text'
import { trimmedFaces } from './trimmed'

const z = [0, 0, 1] as const
const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes)

describe('STEP with colours', () => {
  const bodies = async () => [
    { name: 'plate ü', body: { ...(await makeBlock([40, 30, 20], [0, 0, 0], z, [1, 0, 0])), colour: '#8a2f63' } },
    { name: 'pin', body: await makeCylinder(5, 10, [100, 0, 0], z) },
    { name: 'bush', body: { ...(await makeCylinder(6, 10, [200, 0, 0], z)), colour: '#8a2f63' } },
  ]
  it.each(['AP214', 'AP242'] as const)('as %s gives names, colours and volumes back', async (schema) => {
    const { bytes } = await writeStep(await bodies(), schema)
    expect(/FILE_SCHEMA[^;]*/.exec(text(bytes))![0]).toMatch(schema === 'AP214' ? /AUTOMOTIVE_DESIGN/ : /AP242/)
    const back = await readStep(bytes)
    expect(back.map((b) => [b.label, b.colour])).toEqual([
      ['plate ü', '#8a2f63'],
      ['pin', undefined],
      ['bush', '#8a2f63'],
    ])
    expect(back[0].facts.volume).toBeCloseTo(24000, 6)
    // One colour is written once, and every number that is spoken of is there.
    expect(text(bytes).match(/COLOUR_RGB/g)).toHaveLength(1)
    const known = new Set([...text(bytes).matchAll(/^#(\d+)\s*=/gm)].map((m) => m[1]))
    const spoken = [
      ...text(bytes)
        .replace(/'[^']*'/g, '')
        .matchAll(/#(\d+)/g),
    ].map((m) => m[1])
    expect(spoken.filter((n) => !known.has(n))).toEqual([])
  })
  it('a text without colours is left as it is, and a colour that is none is left out', async () => {
    const { bytes } = await writeStep([(await bodies())[1]])
    expect(text(bytes)).not.toMatch(/STYLED_ITEM/)
    expect(coloured(text(bytes), [{ name: 'pin', colour: 'no colour' }])).toBe(text(bytes))
    expect(stepNotes(coloured(text(bytes), [{ name: 'pin', colour: '#00ff00' }]))[0].colour).toBe('#00ff00')
  })
  it('a body that does not come back as it was is not sent out: both figures and the face are told', async () => {
    const plate = (height: number) => makeBlock([40, 30, height], [0, 0, 0], z, [1, 0, 0], 'plate')
    const [sent, other] = [
      { name: 'p', body: await plate(20) },
      { name: 'p', body: await plate(20.5) },
    ]
    const { bytes } = await writeStep([sent])
    expect(await checkStepFile(bytes, [sent])).toEqual([])
    const error = await checkStepFile(bytes, [other]).then(
      () => null,
      (e: unknown) => reportError(e),
    )
    expect(error).toMatchObject({ code: 'file-check', where: { body: 'p' } })
    expect(error?.message).toMatch(/its volume is 24000 instead of 24600 mm³/)
    expect(error?.message).toMatch(/the face that differs most is "plate\/\w+" of "p"/)
    const two = await checkStepFile(bytes, [sent, sent]).then(
      () => null,
      (e: unknown) => reportError(e),
    )
    expect(two?.message).toMatch(/it holds 1 solid instead of 2/)
  })
  it('one that is sound and differs by little is sent with a word', async () => {
    const plate = (height: number) => makeBlock([40, 30, height], [0, 0, 0], z, [1, 0, 0], 'plate')
    const { bytes } = await writeStep([{ name: 'p', body: await plate(20) }])
    const [words] = await checkStepFile(bytes, [{ name: 'p', body: await plate(20.002) }])
    expect(words).toMatch(/^The STEP file was read back: its volume is 24000 instead of 24002.4 mm³/)
  })
})

describe('exact faces of a mesh', () => {
  const drilled = async (mesh: ReturnType<typeof box>, at: [number, number, number]) => {
    const r = await runStep(
      'build/hole',
      { body: 'm', at: [at], diameter: 8, through: true, axis: [0, 0, 1] },
      { m: mesh },
    )
    return r.bodies.m as MeshBody
  }
  it('a bore comes back as a cylinder of its true size, though its mesh has facets', async () => {
    const m = await drilled(box(30, 20, 10, 4), [15, 10, 10])
    const rests = exactRests(m)
    expect(rests.map((r) => [r.face.shape, r.borders.length])).toEqual([['cylinder', 2]])
    const made = (await trimmedFaces(rests))!
    // 2 pi r h; the facets have less.
    expect(made.sheet.facts.area).toBeCloseTo(2 * Math.PI * 4 * 10, 6)
    expect(rests[0].area).toBeLessThan(made.sheet.facts.area)
    expect(made.sheet.parts.faces.every((f) => f.radius === 4)).toBe(true)
  })
  it('through a ball, its borders follow the ball', async () => {
    const made = (await trimmedFaces(exactRests(await drilled(sphere(15, 6), [0, 0, 20]))))!
    // Napkin ring: 2 pi r times the height that is left, within the facets of the ball.
    expect(made.sheet.facts.area / (2 * Math.PI * 4 * 2 * Math.sqrt(225 - 16))).toBeCloseTo(1, 2)
    expect(made.sheet.facts.valid).toBe(true)
  })
  it('flat faces come with the holes they have, and go out in a STEP file that says what it holds', async () => {
    const b = await runStep('build/block', { name: 'c', size: [10, 10, 8], at: [15, 10, 6] }, {})
    const joined = await runStep('build/union', { bodies: ['m', 'c'] }, { m: box(30, 20, 10, 4), c: b.bodies.c! })
    const bored = await runStep(
      'build/hole',
      { body: 'm', at: [[15, 10, 14]], diameter: 4, depth: 2 },
      { m: joined.bodies.m! },
    )
    const r = await runStep('send-out/file', { bodies: ['m'], file: 'm.step' }, { m: bored.bodies.m! })
    expect(r.warnings?.[0]).toMatch(/"m" is a mesh: of it the file holds its \d exact faces/)
    const [sheet] = await readStep(r.files![0].bytes)
    expect(sheet.kind).toBe('sheet')
    const plain = await runStep('send-out/file', { bodies: ['m'], file: 'm.step' }, { m: box(3, 3, 3, 1) }).then(
      () => null,
      reportError,
    )
    expect(plain).toMatchObject({ code: 'wrong-kind' })
  })
})
