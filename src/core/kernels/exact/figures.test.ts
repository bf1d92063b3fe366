/** What the exact kernel comes to on small bodies, kept as figures: any change to how it is driven shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import type { ExactBody } from '@/core/bodies/body'
import { rotation, translation } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { allSteps } from '@/core/steps/registry'
import { digest, outcomeOf } from '@/testing/digest'
import { fixtures, ways } from '@/testing/plausible'
import { itUsually } from '@/testing/long'
import { runStep } from '@/testing/run-step'
import { combineSolids, solidDistance } from './boolean'
import { capOpenings } from './cap'
import { cutInTwo, splitBy, thickenSheet } from './divide'
import { extendSheet } from './extend-sheet'
import { deleteFaces, offsetFaces } from './faces'
import { chamferEdges, filletEdges } from './fillet'
import { fullRound } from './full-round'
import { holeProfile } from './hole-cutter'
import { settleNames, stemOf } from './names'
import { makeBlock, makeCone, makeCylinder, makeRing, makeSphere } from './primitives'
import { sewBodies } from './sew'
import { offsetSheet } from './sheets'
import { draftFaces, shellBody } from './shell'
import { readStep, writeStep } from './step-file'
import { coloured, stepEntities, stepNotes, stepString, toStepString } from './step-text'
import { transformSolid } from './transform'
import { facetSolid } from './triangles'
import { trimSheet } from './trim-sheet'

const bodies: Record<string, () => Promise<ExactBody>> = {
  block: () => makeBlock([20, 14, 10], [1, 2, 3], [0, 0, 1], [1, 0, 0], 'block'),
  pin: () => makeCylinder(4, 30, [9, 8, -5], [0.1, 0, 1], 'pin'),
  cone: () => makeCone(8, 3, 12, [10, 9, 6], [0, 0, 1], 'cone'),
  ball: () => makeSphere(7, [18, 12, 10], 'ball'),
  ring: () => makeRing(9, 2.5, [10, 9, 13], [0, 0, 1], 'ring'),
}
const names = Object.keys(bodies)
const pairs = names.flatMap((a, i) => names.slice(i + 1).map((b) => [a, b] as const))

for (const [a, b] of pairs)
  itUsually(a === 'block' || b === 'cone')(`booleans of ${a} and ${b}`, async () => {
    const [one, two] = [await bodies[a](), await bodies[b]()]
    const all = await Promise.all(
      (['union', 'intersection', 'difference'] as const).map((k) => outcomeOf(() => combineSolids(k, [one, two]))),
    )
    // What both have, and what either has, is what they have.
    const volume = (x: unknown) => (x as ExactBody).facts?.volume
    if (all.every((x) => typeof x === 'object'))
      expect(volume(all[0]) + volume(all[1])).toBeCloseTo(one.facts.volume + two.facts.volume, 2)
    expect(digest({ all, apart: await outcomeOf(() => solidDistance(one, two)) })).toMatchSnapshot()
  })

describe.each(names)('the %s', (name) => {
  it('moved, cut, rounded, hollowed, offset, faceted', async () => {
    const body = await bodies[name]()
    const all = body.facts.faces
    const axis: Vec3 = [0.2, 0.3, 0.9]
    const calls: (() => Promise<unknown>)[] = [
      () => transformSolid(body, rotation(axis, 0.7)),
      () => transformSolid(body, translation([1e3, -2e3, 5])),
      () => cutInTwo(body, [10, 9, 8], [0.3, 0.1, 1]),
      () => filletEdges(body, [{ edges: [0], size: 1 }]),
      () => chamferEdges(body, [{ edges: [0], size: 0.8 }]),
      // Balls and rings have no face that could be left open.
      ...(all > 1 ? [() => shellBody(body, [all - 1], 1, false)] : []),
      () => shellBody(body, [], 0.5, true),
      () => offsetFaces(body, [0], 0.7),
      () => offsetFaces(body, [0, all - 1], -0.4),
      () => deleteFaces(body, [all - 1]),
      () => draftFaces(body, [0], 3, { at: [10, 9, 3], normal: [0, 0, 1] }),
      () => fullRound(body, 0),
      () => capOpenings(body, null, 'flat'),
      () => facetSolid(body, 0.1),
      () => facetSolid(body, 2),
    ]
    const made = []
    for (const call of calls) made.push(await outcomeOf(call))
    expect(digest(made)).toMatchSnapshot()
  })
  it('as a file, and back', async () => {
    const body = { ...(await bodies[name]()), colour: '#b06c54' }
    const { bytes: file } = await writeStep([{ name, body } as never], 'AP242')
    const back = await readStep(file)
    const text = new TextDecoder().decode(file)
    expect(
      digest({
        back: await outcomeOf(() => Promise.resolve(back)),
        notes: stepNotes(text),
        entities: stepEntities(text).size,
        coloured: coloured(text, [{ name, colour: '#123456' }]).length,
      }),
    ).toMatchSnapshot()
  })
})

it('sheets: thickened, offset, extended, trimmed, sewn, split by', async () => {
  const { one: flat, two } = (await fixtures.sheet()) as { one: ExactBody; two: ExactBody }
  const { one: tube, two: across } = (await fixtures['sheet, a tube and a plane across it']()) as never as {
    one: ExactBody
    two: ExactBody
  }
  const block = await bodies.block()
  const calls: (() => Promise<unknown>)[] = [
    () => thickenSheet(flat, 1.5),
    () => thickenSheet(tube, -1),
    () => offsetSheet(flat, 2),
    () => offsetSheet(tube, -1.5),
    () => extendSheet(flat, [{ edge: 0, by: 3 }]),
    () => extendSheet(tube, [{ edge: 0, by: 2, any: true }]),
    () => trimSheet(tube, [across], [[20, 10, 2]], 'across'),
    () => sewBodies([flat, two], 1e-4),
    () => splitBy(block, two, 'two'),
    () => capOpenings(tube, null, 'flat'),
    () => capOpenings(tube, [0], 'either'),
  ]
  const made = []
  for (const call of calls) made.push(await outcomeOf(call))
  expect(digest(made)).toMatchSnapshot()
})

/** Every way of the steps that this kernel does, on bodies that they are for. */
const done = allSteps.filter((s) => s.kind.startsWith('build/') && !s.slow)
const on = ['solid', 'outline', 'outline, and a path', 'sheet']
for (const name of on) {
  for (const step of done)
    itUsually(name.startsWith('outline'))(`steps that build, on ${name} ${step.kind}`, async () => {
      const { kind } = step
      const made = []
      for (const set of ways(step)) {
        const r = await outcomeOf(async () => {
          const { said, facts, warnings, bodies: out } = await runStep(kind, set, { ...(await fixtures[name]()) })
          return { said, facts, warnings, out }
        })
        // What it is not for it refuses: that is told elsewhere.
        if (typeof r !== 'string') made.push(r)
      }
      expect(digest(made)).toMatchSnapshot()
    })
}

it('names of faces and texts of files', () => {
  const faces = [
    { name: 'a/top', shape: 'plane', at: [0, 0, 1] as Vec3 },
    { name: 'a/top', shape: 'plane', at: [0, 0, 2] as Vec3 },
    { name: '', shape: 'cylinder', at: [1, 0, 0] as Vec3 },
    { name: '', shape: 'cylinder', at: [0, 1, 0] as Vec3 },
    { name: 'b/side', shape: 'cone', at: [5, 5, 5] as Vec3 },
  ]
  const words = ["it''s 5 \\X2\\00E9\\X0\\", 'plain', 'é ü 漢', "a'b\\c"]
  expect(
    digest({
      names: settleNames(faces, 'body'),
      stems: ['a/top #2', 'a/top', 'x #12 #3'].map(stemOf),
      words: words.map((w) => [toStepString(w), stepString(toStepString(w)), stepString(w)]),
      holes: [
        { head: { sort: 'none' } } as const,
        { head: { sort: 'counterbore', diameter: 9, depth: 4 } } as const,
        { head: { sort: 'countersink', diameter: 10, angle: 90 } } as const,
        { head: { sort: 'none' }, tip: 118 } as const,
      ].map((h) => holeProfile({ diameter: 5, depth: 12, above: 1, ...h })),
    }),
  ).toMatchSnapshot()
})

describe('letters on a round wall', () => {
  it.each([
    { radius: 10, size: 4, height: 0.5, sink: 0.1 },
    { radius: 10, size: 4, height: 0.5, sink: 2 },
    { radius: 3, size: 30, height: 0.2, sink: 0.1 },
  ])('%j', async ({ radius, ...size }) => {
    const b = await makeCylinder(radius, 20, [0, 0, 0], [0, 0, 1], 'b')
    const set = { text: 'Al', at: [radius, 0, 10], normal: [1, 0, 0], wrapped: true, wall: 'b', ...size }
    const made = await outcomeOf(() => runStep('build/lettering', set, { b }))
    expect(digest(made)).toMatchSnapshot()
  })
})
