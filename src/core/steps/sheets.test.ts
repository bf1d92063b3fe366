/** Sheets and what they do to solids, against closed forms: areas of prisms and cylinders, the circular segment, Pappus. */
import { describe, expect, it } from '@jest/globals'
import { reportError } from '@/core/base/step-error'
import type { Body, DatumBody, ExactBody, OutlineBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { drawingPlane, type Curve, type Place } from '@/core/outline/drawing'
import type { StepResult } from '@/core/step/step'
import { runStep } from '@/testing/run-step'

const outline = (points: Place[], curves: Curve[], at: Vec3 = [0, 0, 0], normal: Vec3 = [0, 0, 1]): OutlineBody => ({
  kind: 'outline',
  plane: drawingPlane(at, normal, normal[2] ? [1, 0, 0] : normal[1] ? [1, 0, 0] : [0, 1, 0]),
  drawing: { points, curves },
  reference: [],
})
const line = (...points: Place[]) =>
  outline(
    points,
    points.slice(1).map((_, i): Curve => ({ kind: 'line', from: i, to: i + 1 })),
  )
const circle = (radius: number, at: Vec3 = [0, 0, 0], normal: Vec3 = [0, 0, 1]) =>
  outline([[0, 0]], [{ kind: 'circle', centre: 0, radius }], at, normal)
const arc = (radius: number) =>
  outline(
    [
      [radius, 0],
      [-radius, 0],
      [0, 0],
    ],
    [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }],
  )

const one = (r: StepResult, name: string) => r.bodies[name] as ExactBody
const drawn = async (o: OutlineBody, distance = 20) =>
  one(await runStep('build/extrude', { outline: 'o', distance, name: 's' }, { o }), 's')
const fails = (run: Promise<StepResult>) =>
  run.then(
    () => null,
    (e: unknown) => reportError(e),
  )
/** A flat sheet, 40 by 20, upright over the x axis. */
const flat = () => drawn(line([0, 0], [40, 0]))
/** A half tube of radius 10, 20 high. */
const half = () => drawn(arc(10))
/** Five sides of a box of 30 x 20 x 10. */
const tray = async () => {
  const o = line([0, 0], [30, 0], [30, 20], [0, 20])
  const points = o.drawing.points
  const round = outline([...points], [...o.drawing.curves, { kind: 'line', from: 3, to: 0 }])
  const walls = await drawnWalls(round)
  return one(await runStep('build/cap', { body: 's', whole: false, edges: [{ at: [15, 0, 0] }] }, { s: walls }), 's')
}
/** Walls along a closed outline, without a floor: its curves drawn out one by one and sewn. */
async function drawnWalls(o: OutlineBody, distance = 10): Promise<ExactBody> {
  const bodies: Record<string, Body> = {}
  for (const [i, c] of o.drawing.curves.entries())
    bodies[`w${i}`] = await drawn({ ...o, drawing: { points: o.drawing.points, curves: [c] } }, distance)
  return one(await runStep('build/sew', { bodies: Object.keys(bodies), name: 's' }, bodies), 's')
}

describe('Offset of a sheet', () => {
  const offset = (s: ExactBody, by: number) => runStep('build/offset', { body: 's', by }, { s })
  it('lies at the distance, on either side', async () => {
    const a = one(await offset(await half(), 2), 's').facts.area
    const b = one(await offset(await half(), -2), 's').facts.area
    expect([a, b].sort((p, q) => p - q)[0]).toBeCloseTo(Math.PI * 8 * 20, 6)
    expect(Math.max(a, b)).toBeCloseTo(Math.PI * 12 * 20, 6)
  })
  it('of a tray keeps its corners sharp, and is kept beside the first on wish', async () => {
    const s = await tray()
    const r = await runStep('build/offset', { body: 's', by: 1, keep: true, name: 'liner' }, { s })
    expect(Object.keys(r.bodies)).toEqual(['liner'])
    // Outside: floor 32 x 22, walls to the same rim.
    const outside = 32 * 22 + 2 * (32 + 22) * 11
    const inside = 28 * 18 + 2 * (28 + 18) * 9
    expect([outside, inside].some((v) => Math.abs(one(r, 'liner').facts.area - v) < 1e-6)).toBe(true)
  })
  it('that is more than the sheet bends is refused in words', async () => {
    const inward = (await fails(offset(await half(), 12))) ?? (await fails(offset(await half(), -12)))
    if (inward) expect(inward.message).toMatch(/.{10,}/)
    expect((await fails(offset(await half(), 0)))?.code).toBe('nothing')
  })
})

describe('Extend', () => {
  const extend = (s: ExactBody, set: Record<string, unknown>) => runStep('build/extend', { body: 's', ...set }, { s })
  it('draws a flat sheet out square to its edges, each by its own length, mitred where they meet', async () => {
    const s = await flat()
    const up = await extend(s, { edges: [{ at: [20, 0, 20] }], by: 5 })
    expect(one(up, 's').facts.area).toBeCloseTo(40 * 25, 8)
    const both = await extend(s, { edges: [{ at: [20, 0, 20] }], by: 5, edges2: [{ at: [40, 0, 10] }], by2: 3 })
    expect(one(both, 's').facts).toMatchObject({ faces: 1, size: [43, 0, 25] })
    expect(both.facts).toMatchObject({ edges: 2 })
    expect(both.facts.area).toBeCloseTo(43 * 25, 8)
    expect((await extend(s, { edges: 'all', by: 2 })).facts.area).toBeCloseTo(44 * 24, 8)
  })
  it('draws a round one out along its axis and round it, on the same cylinder', async () => {
    const s = await half()
    const up = one(await extend(s, { edges: [{ at: [0, 10, 20] }], by: 5 }), 's')
    expect(up.facts.area).toBeCloseTo(Math.PI * 10 * 25, 6)
    expect(up.facts.faceKinds.cylinder).toBe(1)
    const round = one(await extend(s, { edges: [{ at: [10, 0, 10] }], by: 5 }), 's')
    expect(round.facts.area / (20 * (Math.PI * 10 + 5))).toBeCloseTo(1, 3)
  })
  it('keeps what is sewn to it, and refuses an edge between two faces', async () => {
    const s = await drawnWalls(line([0, 0], [30, 0], [30, 20]))
    const r = await extend(s, { edges: [{ at: [15, 0, 10] }], by: 4 })
    expect(r.facts.faces).toBe(2)
    expect(r.facts.area).toBeCloseTo(30 * 14 + 20 * 10, 6)
    expect((await fails(extend(s, { edges: [{ at: [30, 0, 5] }], by: 4 })))?.code).toBe('not-free')
  })
})

describe('Trim sheet', () => {
  const trim = (bodies: Record<string, Body>, set: Record<string, unknown>) =>
    runStep('build/trim-sheet', { body: 's', ...set }, bodies)
  const plane: DatumBody = { kind: 'datum', datum: 'plane', at: [10, 0, 0], direction: [1, 0, 0], drawn: 5 }
  it('by a plane keeps the larger part, or the one picked', async () => {
    const s = await flat()
    expect((await trim({ s, p: plane }, { by: ['p'] })).facts).toMatchObject({ parts: 2, kept: 1, area: 600 })
    expect((await trim({ s, p: plane }, { by: ['p'], keep: [[2, 0, 5]] })).facts.area).toBeCloseTo(200, 8)
  })
  it('by an outline cuts its shape out, or keeps only it', async () => {
    const s = await flat()
    const o = circle(6, [20, 0, 10], [0, -1, 0])
    const around = await trim({ s, o }, { by: ['o'], keep: [[1, 0, 1]] })
    expect(around.facts.area).toBeCloseTo(800 - 36 * Math.PI, 6)
    expect((await trim({ s, o }, { by: ['o'], keep: [[20, 0, 10]] })).facts.area).toBeCloseTo(36 * Math.PI, 6)
  })
  it('by a solid, by several at once, and two by each other', async () => {
    const s = await flat()
    const c = one(await runStep('build/cylinder', { name: 'c', radius: 5, height: 30, at: [20, 0, -5] }, {}), 'c')
    expect(
      (
        await trim(
          { s, c },
          {
            by: ['c'],
            keep: [
              [0, 0, 0],
              [40, 0, 0],
            ],
          },
        )
      ).facts.area,
    ).toBeCloseTo(30 * 20, 6)
    const across = await drawn(
      outline(
        [
          [20, -10],
          [20, 30],
        ],
        [{ kind: 'line', from: 0, to: 1 }],
      ),
    )
    const r = await trim({ s, across }, { by: ['across'], both: true, keep: [[1, 0, 1]], keepOther: [[20, 29, 1]] })
    expect(one(r, 's').facts.area).toBeCloseTo(20 * 20, 6)
    expect(one(r, 'across').facts.area).toBeCloseTo(30 * 20, 6)
    const more = await trim({ s, c, p: plane }, { by: ['c', 'p'], keep: [[12, 0, 1]] })
    expect(more.facts.area).toBeCloseTo(5 * 20, 6)
  })
  it('says so where nothing is cut, and that an axis does not trim', async () => {
    const s = await flat()
    const far: DatumBody = { ...plane, at: [90, 0, 0] }
    expect((await fails(trim({ s, p: far }, { by: ['p'] })))?.code).toBe('no-cut')
    expect((await fails(trim({ s, p: { ...plane, datum: 'axis' } as DatumBody }, { by: ['p'] })))?.message).toMatch(
      /axis/,
    )
    const c = one(await runStep('build/cylinder', { name: 'c', radius: 5, height: 3, at: [90, 0, -5] }, {}), 'c')
    expect((await fails(trim({ s, c }, { by: ['c'] })))?.message).toMatch(/does not reach/)
  })
})

describe('Cap openings', () => {
  const cap = (s: ExactBody, set: Record<string, unknown> = {}) => runStep('build/cap', { body: 's', ...set }, { s })
  it('closes flat openings to a solid, or only the one picked', async () => {
    const s = await tray()
    expect(s.facts.area).toBeCloseTo(600 + 2 * 50 * 10, 8)
    const r = await cap(s)
    expect(r.facts).toMatchObject({ closed: true, flat: 1, patched: 0, openings: 0 })
    expect(r.facts.volume).toBeCloseTo(6000, 8)
    expect((await fails(cap(one(r, 's'))))?.code).toBe('wrong-kind')
  })
  it('patches a hole in a dome so that it runs on: the dome is whole again', async () => {
    const quarter = outline(
      [
        [20, 0],
        [0, 20],
        [0, 0],
      ],
      [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }],
    )
    const o = { ...quarter, plane: { at: [0, 0, 0] as Vec3, normal: [0, -1, 0] as Vec3, x: [1, 0, 0] as Vec3 } }
    const dome = one(
      await runStep('build/revolve', { outline: 'o', at: [0, 0, 0], axis: [0, 0, 1], name: 's' }, { o }),
      's',
    )
    expect(dome.facts.area).toBeCloseTo(2 * Math.PI * 400, 6)
    const c = one(await runStep('build/block', { name: 'c', size: [30, 8, 8], at: [-15, 0, 6] }, {}), 'c')
    const cut = await runStep('build/trim-sheet', { body: 's', by: ['c'], keep: [[20, 0, 0]] }, { s: dome, c })
    const open = one(cut, 's')
    expect(open.facts.area).toBeLessThan(2 * Math.PI * 400 - 60)
    const rim = open.parts.edges.find((e) => e.faces.length === 1 && e.at[2] > 1 && e.at[0] < -15)!
    const r = await cap(open, { whole: false, edges: [{ at: [...rim.at] }], fill: 'tangent' })
    expect(r.facts).toMatchObject({ closed: false, patched: 1, openings: 1 })
    expect(Number(r.facts.area) / (2 * Math.PI * 400)).toBeCloseTo(1, 4)
    expect(r.facts.turn).toBeLessThan(0.1)
  })
  it('a rim that is not flat takes no flat cap, and walls that do not agree no patch', async () => {
    const s = await half()
    expect((await fails(cap(s, { fill: 'flat' })))?.code).toBe('not-flat')
    const tube = await drawnWalls(
      outline(
        [
          [0, 0],
          [30, 0],
          [30, 20],
          [0, 20],
        ],
        [0, 1, 2, 3].map((i): Curve => ({ kind: 'line', from: i, to: (i + 1) % 4 })),
      ),
    )
    expect((await fails(cap(tube, { fill: 'tangent' })))?.code).toBe('patch-failed')
    expect((await cap(tube)).facts).toMatchObject({ closed: true, flat: 2 })
  })
})

describe('Replace face', () => {
  const block = async () =>
    one(await runStep('build/block', { name: 'b', size: [40, 30, 20], at: [20, 15, 0] }, {}), 'b')
  /** A crown of radius R over the block's whole width, its top `rise` over the base. */
  const crown = (rise: number, r: number) => {
    const half = 25
    const drop = r - Math.sqrt(r * r - half * half)
    return drawn(
      {
        ...outline(
          [
            [-5, rise - drop],
            [45, rise - drop],
            [20, rise - r],
          ],
          [{ kind: 'arc', from: 1, to: 0, centre: 2, ccw: true }],
        ),
        plane: { at: [0, 40, 0], normal: [0, -1, 0], x: [1, 0, 0] },
      },
      60,
    )
  }
  /** Area under a circle of radius r whose top is at `rise`, over a width of 40. */
  const under = (rise: number, r: number) => {
    const f = (x: number) => (x * Math.sqrt(r * r - x * x) + r * r * Math.asin(x / r)) / 2
    return f(20) - f(-20) + 40 * (rise - r)
  }
  it.each([
    ['draws the body out', 30],
    ['cuts it back', 15],
    ['does both', 22],
  ])('%s', async (_what, rise) => {
    const b = await block()
    const face = b.parts.faces.find((f) => f.axis?.[2] === 1)!
    const set = { body: 'b', face: { at: [...face.at], name: face.name }, by: 's' }
    const r = await runStep('build/replace-face', set, { b, s: await crown(rise, 50) })
    expect(r.facts.volume).toBeCloseTo(30 * under(rise, 50), 5)
    // The new end has the old one's name, so that what referred to it still does.
    expect(one(r, 'b').parts.faces.find((f) => f.shape === 'cylinder')?.name).toBe(face.name)
    expect(r.bodies.s).toBeNull()
  })
  it('a sheet that is too small is refused', async () => {
    const b = await block()
    const s = await drawn(
      { ...line([0, 0], [10, 0]), plane: { at: [10, 25, 30], normal: [0, -1, 0], x: [1, 0, 0] } },
      5,
    )
    const face = b.parts.faces.find((f) => f.axis?.[2] === 1)!
    expect(
      (await fails(runStep('build/replace-face', { body: 'b', face: { at: [...face.at] }, by: 's' }, { b, s })))?.code,
    ).toBe('no-cut')
  })
})
