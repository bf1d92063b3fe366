/** Full rounds, walls of their own, held lofts, letters round a wall, copies of features: against closed forms (Pappus, Hermite's cubic). */
import { describe, expect, it } from '@jest/globals'
import { reportError } from '@/core/base/step-error'
import { isMesh, meshBody, type Body, type ExactBody, type MeshBody, type OutlineBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { meshVolume } from '@/core/mesh/measures'
import { drawingPlane, type Curve, type Place } from '@/core/outline/drawing'
import type { StepResult } from '@/core/step/step'
import { mostly } from '@/testing/long'
import { runStep } from '@/testing/run-step'
import { box, shifted } from '@/testing/shapes'

const outline = (
  points: Place[],
  curves: Curve[],
  at: Vec3 = [0, 0, 0],
  normal: Vec3 = [0, 0, 1],
  x?: Vec3,
): OutlineBody => ({
  kind: 'outline',
  plane: drawingPlane(at, normal, x),
  drawing: { points, curves },
  reference: [],
})
const loop = (points: Place[]) =>
  outline(
    points,
    points.map((_, i): Curve => ({ kind: 'line', from: i, to: (i + 1) % points.length })),
  )
const circle = (radius: number, at: Vec3, normal: Vec3 = [0, 0, 1], x?: Vec3) =>
  outline([[0, 0]], [{ kind: 'circle', centre: 0, radius }], at, normal, x)
const one = (r: StepResult, name: string) => r.bodies[name] as ExactBody
const fails = (run: Promise<StepResult>) =>
  run.then(
    () => null,
    (e: unknown) => reportError(e),
  )
const block = async (size: Vec3) =>
  one(await runStep('build/block', { name: 'b', size: [...size], at: [size[0] / 2, size[1] / 2, 0] }, {}), 'b')
const cylinder = async (radius: number, height: number) =>
  one(await runStep('build/cylinder', { name: 'b', radius, height, at: [0, 0, 0], axis: [0, 0, 1] }, {}), 'b')
const highest = (b: ExactBody) => Math.max(...b.parts.faces.map((f) => f.at[2]))
const top = (b: ExactBody) => {
  const f = b.parts.faces.find((p) => p.shape === 'plane' && p.axis?.[2] === 1 && p.at[2] > highest(b) - 1e-6)!
  return { at: [...f.at], name: f.name }
}
/** What a round of half width r takes from the square top of a wall, for each mm of its middle: two corners. */
const corners = (r: number) => (2 - Math.PI / 2) * r * r

describe('Fillet from side to side', () => {
  const round = (b: Body, rims: unknown) => runStep('build/fillet', { body: 'b', how: 'full', rims }, { b })
  it('of a rib is half a cylinder', async () => {
    const b = await block([40, 3, 20])
    const r = await round(b, [top(b)])
    expect(r.facts.volume).toBeCloseTo(40 * (3 * 18.5 + (Math.PI * 1.5 ** 2) / 2), 7)
    expect(r.facts).toMatchObject({ rims: 1, strip: 0 })
    expect(r.facts.width).toBeCloseTo(3, 9)
    expect(one(r, 'b').facts.faceKinds).toMatchObject({ plane: 5, cylinder: 1 })
  })
  it('of a cup is half a ring', async () => {
    const c = await cylinder(20, 30)
    const cup = one(await runStep('build/shell', { body: 'b', open: [top(c)], wall: 2 }, { b: c }), 'b')
    const r = await round(cup, [top(cup)])
    // Pappus, on the half disc that is left and on what stood before.
    const left = (Math.PI / 2) * 2 * Math.PI * 19
    const was = 2 * 1 * 2 * Math.PI * 19
    expect(r.facts.volumeChange).toBeCloseTo(left - was, 6)
    expect(one(r, 'b').facts.faceKinds).toMatchObject({ torus: 1 })
  })
  it('of a box with round or sharp corners follows them', async () => {
    for (const radius of [0, 6]) {
      const b = await block([40, 30, 20])
      const edges = [
        [0, 0],
        [40, 0],
        [0, 30],
        [40, 30],
      ].map(([x, y]) => ({ at: [x, y, 10] }))
      const solid = radius ? one(await runStep('build/fillet', { body: 'b', edges, radius }, { b }), 'b') : b
      const tray = one(await runStep('build/shell', { body: 'b', open: [top(solid)], wall: 2 }, { b: solid }), 'b')
      const r = await round(tray, [top(tray)])
      const middle = radius ? 2 * (28 + 18) + 2 * Math.PI * 5 : 2 * (38 + 28)
      expect(r.facts.volumeChange).toBeCloseTo(-middle * corners(1), 6)
      expect(r.warnings).toEqual([])
    }
  })
  const ngon = (n: number, radii: readonly number[]): Place[] =>
    Array.from({ length: n }, (_, i) => {
      const [r, a] = [radii[i % radii.length], (2 * Math.PI * i) / n]
      return [r * Math.cos(a), r * Math.sin(a)]
    })
  const shortL: Place[] = [
    [0, 0],
    [40, 0],
    [40, 6],
    [34, 6],
    [34, 30],
    [0, 30],
  ]
  const walls: [string, Place[]][] = [
    ['a triangle', ngon(3, [25])],
    ['twelve corners', ngon(12, [20])],
    ['a star', ngon(10, [30, 20])],
    ['an L with edges shorter than twice its wall', shortL],
  ]
  it.each(mostly(walls, ([what]) => !what.includes('a t') && !what.includes('twelve')))(
    'of a shell over %s, its wall inside and outside, is half a cylinder over each edge',
    async (_, points) => {
      const o = loop(points)
      const solid = one(await runStep('build/extrude', { outline: 'o', distance: 20, name: 'b' }, { o }), 'b')
      for (const side of ['in', 'out']) {
        const set = { body: 'b', open: [top(solid)], wall: 2.5, side }
        const tray = one(await runStep('build/shell', set, { b: solid }), 'b')
        const rim = tray.parts.faces.findIndex((f) => f.name === top(tray).name)
        const around = tray.parts.edges.filter((e) => e.faces.includes(rim)).reduce((s, e) => s + e.length, 0)
        const r = await round(tray, [top(tray)])
        // What mitres take from one side they give to the other.
        expect(r.facts.volumeChange).toBeCloseTo((-around * corners(1.25)) / 2, 4)
        expect(r.facts.strip).toBe(0)
        expect(one(r, 'b').facts.faceKinds).toMatchObject({ cylinder: points.length, other: 0 })
      }
    },
  )
  it('where walls lean, two fillets meet but for a strip that is told', async () => {
    const o = {
      ...loop([
        [0, 0],
        [6, 0],
        [4.5, 20],
        [1.5, 20],
      ]),
      plane: drawingPlane([0, 0, 0], [1, 0, 0]),
    }
    const rib = one(await runStep('build/extrude', { outline: 'o', distance: 50, name: 'b' }, { o }), 'b')
    const r = await round(rib, [top(rib)])
    const a = Math.PI / 2 + Math.atan(1.5 / 20)
    const radius = 3 / (2 / Math.tan(a / 2))
    const went = 50 * 2 * radius ** 2 * (1 / Math.tan(a / 2) - (Math.PI - a) / 2)
    expect(-Number(r.facts.volumeChange) / went).toBeCloseTo(1, 3)
    expect(r.facts.strip).toBeGreaterThan(0)
    expect(r.warnings?.[0]).toMatch(/strip of 0\.000/)
  })
  it('what is no rim is refused: a round face, a face without a second side, a wedge', async () => {
    const c = await cylinder(10, 20)
    const wall = c.parts.faces.find((f) => f.shape === 'cylinder')!
    expect((await fails(round(c, [{ at: [...wall.at], name: wall.name }])))?.message).toMatch(/not flat/)
    expect((await fails(round(c, [top(c)])))?.code).toBe('no-rim')
    const o = loop([
      [0, 0],
      [30, 0],
      [30, 4],
      [0, 8],
    ])
    const wedge = one(await runStep('build/extrude', { outline: 'o', distance: 10, name: 'b' }, { o }), 'b')
    expect((await fails(round(wedge, [top(wedge)])))?.message).toMatch(/between .* mm wide/)
  })
})

describe('Edges of what was turned inside', () => {
  it.each(['build/fillet', 'build/chamfer'])('%s: a shell whose wall stands outside, mirrored too', async (kind) => {
    const b = await block([40, 30, 20])
    const tray = one(await runStep('build/shell', { body: 'b', open: [top(b)], wall: 2, side: 'out' }, { b }), 'b')
    const mirrored = one(await runStep('set-down/mirror', { body: 'b', across: 'x' }, { b: tray }), 'b')
    const [lost, size] = kind === 'build/fillet' ? [1 - Math.PI / 4, { radius: 1 }] : [0.5, { distance: 1 }]
    for (const body of [tray, mirrored])
      for (const [y, length] of [
        [-2, 44],
        [0, 40],
      ]) {
        const edges = [{ at: [body.facts.min[0] + 22, y, 20] }]
        const r = await runStep(kind, { body: 'b', edges, ...size }, { b: body })
        expect(r.facts.volumeChange).toBeCloseTo(-lost * length, 6)
      }
  })
})

describe('Shell with walls of their own', () => {
  it('thicker at some faces, thinner at others, also outside and closed', async () => {
    const b = await block([40, 30, 20])
    const base = [{ at: [20, 15, 0], name: 'b/base' }]
    const run = (set: Record<string, unknown>) => runStep('build/shell', { body: 'b', wall: 2, ...set }, { b })
    const open = [top(b)]
    expect((await run({ open, faces2: base, wall2: 5 })).facts.volume).toBeCloseTo(24000 - 36 * 26 * 15, 6)
    expect((await run({ open, faces2: base, wall2: 1 })).facts.volume).toBeCloseTo(24000 - 36 * 26 * 19, 6)
    expect((await run({ faces2: base, wall2: 4 })).facts.volume).toBeCloseTo(24000 - 36 * 26 * 14, 6)
    expect((await run({ open, side: 'out', faces2: base, wall2: 3 })).facts.volume).toBeCloseTo(44 * 34 * 23 - 24000, 6)
  })
  it('a round wall cannot have another one yet: said so', async () => {
    const c = await cylinder(20, 30)
    const wall = c.parts.faces.find((f) => f.shape === 'cylinder')!
    const set = { body: 'b', open: [top(c)], wall: 2, faces2: [{ at: [...wall.at], name: wall.name }], wall2: 3 }
    expect((await fails(runStep('build/shell', set, { b: c })))?.code).toBe('not-flat')
  })
})

describe('Loft held square to its ends', () => {
  const loft = (bodies: Record<string, Body>, set: Record<string, unknown> = {}) =>
    runStep('build/loft', { outlines: Object.keys(bodies), name: 'l', ...set }, bodies)
  const cone = { a: circle(10, [0, 0, 0]), b: circle(20, [0, 0, 40]) }
  it("between two circles is a turned Hermite cubic: Simpson's rule on its square", async () => {
    const r = (t: number) => 10 + 10 * (3 * t * t - 2 * t ** 3)
    const n = 400
    let sum = 0
    for (let i = 0; i <= n; i++) sum += (i === 0 || i === n ? 1 : i % 2 ? 4 : 2) * r(i / n) ** 2
    const done = await loft(cone, { startSquare: true, endSquare: true })
    expect(Number(done.facts.volume) / ((Math.PI * 40 * sum) / (3 * n))).toBeCloseTo(1, 8)
    expect(one(done, 'l').facts.valid).toBe(true)
  })
  it('stands square there to the last digit, the more firmly the longer; its other end stays free', async () => {
    const leans = (b: ExactBody, z: number) => {
      const d = b.display
      let most = 0
      for (let i = 0; i < d.positions.length / 3; i++) {
        const up = Math.abs(d.normals[3 * i + 2])
        if (Math.abs(d.positions[3 * i + 2] - z) < 1e-6 && up < 0.99) most = Math.max(most, up)
      }
      return most
    }
    const sections = {
      a: loop([
        [-9, -9],
        [9, -9],
        [9, 9],
        [-9, 9],
      ]),
      m: circle(12, [4, 0, 25]),
      b: circle(8, [0, 0, 50]),
    }
    const done = one(await loft(sections, { startSquare: true }), 'l')
    expect(leans(done, 0)).toBeLessThan(1e-6)
    expect(leans(done, 50)).toBeGreaterThan(0.01)
    const firm = await loft(cone, { startSquare: true, startWeight: 200 })
    const soft = await loft(cone, { startSquare: true, startWeight: 50 })
    expect(Number(firm.facts.volume)).toBeLessThan(Number(soft.facts.volume))
  })
  it('sections that cross are refused with the place: the body would run through itself', async () => {
    const square = (at: Vec3, normal: Vec3) => {
      const o = loop([
        [-10, -10],
        [10, -10],
        [10, 10],
        [-10, 10],
      ])
      return { ...o, plane: drawingPlane(at, normal) }
    }
    for (const straight of [true, false]) {
      const r = await fails(
        loft({ a: square([0, 0, 0], [0, 0, 1]), b: square([0, 0, 4], [0, 0.8, 0.6]) }, { straight }),
      )
      expect(r?.code).toBe('crosses-itself')
      expect(r?.where?.point).toHaveLength(3)
    }
    expect(await fails(loft({ a: square([0, 0, 0], [0, 0, 1]), b: square([0, 0, 14], [0, 0.8, 0.6]) }))).toBeNull()
  })
  it('only smooth lofts of two sections or more', async () => {
    expect((await fails(loft(cone, { startSquare: true, straight: true })))?.code).toBe('not-smooth')
  })
  it('one that runs round passes smoothly through every section: eight circles come to a ring within 0.2 %', async () => {
    const around = Object.fromEntries(
      Array.from({ length: 8 }, (_, i) => {
        const a = (i * Math.PI) / 4
        return [`c${i}`, circle(8, [30 * Math.cos(a), 30 * Math.sin(a), 0], [-Math.sin(a), Math.cos(a), 0], [0, 0, 1])]
      }),
    )
    const r = await loft(around, { closed: true })
    expect(Math.abs(Number(r.facts.volume) / (2 * Math.PI ** 2 * 30 * 64) - 1)).toBeLessThan(0.002)
    expect(one(r, 'l').kind).toBe('solid')
  })
})

describe('Lettering round a wall', () => {
  const letters = (b: Body, set: Record<string, unknown>) =>
    runStep('build/lettering', { text: 'OAR', size: 5, with: 'b', wrapped: true, ...set }, { b })
  const flatArea = async () =>
    Number((await runStep('build/lettering', { text: 'OAR', size: 5, height: 1, name: 'n' }, {})).facts.volume)
  /** Volume of an area on the wall between two radii: it widens with the radius. */
  const between = (area: number, wall: number, low: number, high: number) =>
    ((area / wall) * (high ** 2 - low ** 2)) / 2
  it('has the area on the wall that it has flat, cut in and raised', async () => {
    const b = await cylinder(20, 30)
    const area = await flatArea()
    const at = [20, 0, 15]
    const cut = await letters(b, { at, result: 'cut', height: 1 })
    expect(Number(cut.facts.volumeChange ?? Number(cut.facts.volume) - b.facts.volume)).toBeCloseTo(
      -between(area, 20, 19, 20),
      2,
    )
    expect(cut.facts.radius).toBeCloseTo(20, 9)
    const raised = await letters(b, { at, result: 'join', height: 0.5 })
    expect(Number(raised.facts.volume) - b.facts.volume).toBeCloseTo(between(area, 20, 20, 20.5), 2)
    expect(one(raised, 'b').facts.pieces).toBe(1)
  })
  it('goes round a wall of a mesh, and inside a bore', async () => {
    const c = one(
      await runStep('build/cylinder', { name: 'c', radius: 16, height: 40, at: [0, 0, -5], axis: [0, 0, 1] }, {}),
      'c',
    )
    const tube = one(
      await runStep('build/difference', { from: 'b', take: ['c'] }, { b: await cylinder(20, 30), c }),
      'b',
    )
    const area = await flatArea()
    const inside = await letters(tube, { at: [-16, 0, 15], result: 'cut', height: 1 })
    expect(Number(inside.facts.volume) - tube.facts.volume).toBeCloseTo(-between(area, 16, 16, 17), 2)
    const { cylinder: facets } = await import('@/testing/shapes')
    const m = meshBody(facets(20, 30, 96))
    const r = await letters(m, { at: [20, 0, 15], result: 'cut', height: 1 })
    const went = meshVolume(m.mesh) - meshVolume((r.bodies.b as MeshBody).mesh)
    expect(isMesh(r.bodies.b!)).toBe(true)
    expect(went / between(area, 20, 19, 20)).toBeCloseTo(1, 1)
  })
  it('too deep, too long, on no round wall, round no body: a sentence each', async () => {
    const b = await cylinder(5, 30)
    expect((await fails(letters(b, { at: [5, 0, 15], result: 'cut', height: 6 })))?.code).toBe('too-deep')
    expect((await fails(letters(b, { at: [5, 0, 15], result: 'join', text: 'ALDER REACH ROWING' })))?.code).toBe(
      'too-long',
    )
    const flat = await block([40, 30, 20])
    expect((await fails(letters(flat, { at: [20, 15, 20], result: 'join' })))?.code).toBe('no-axis')
    expect((await fails(runStep('build/lettering', { wrapped: true }, {})))?.code).toBe('no-pick')
  })
})

describe('Copies of a feature', () => {
  const withHole = async () =>
    one(
      await runStep(
        'build/hole',
        { body: 'b', at: [[10, 10, 10]], diameter: 4, through: true },
        { b: await block([60, 20, 10]) },
      ),
      'b',
    )
  const bore = { at: [12, 10, 5] }
  it('of a hole, in rows', async () => {
    const b = await withHole()
    const set = { body: 'b', what: 'feature', faces: [bore], count: 4, gap: 12 }
    const r = await runStep('build/copies', set, { b })
    expect(r.facts.volume).toBeCloseTo(60 * 20 * 10 - 4 * Math.PI * 4 * 10, 6)
    expect(r.facts.copies).toBe(4)
    expect(r.warnings).toEqual([])
  })
  it('of a boss, in a circle; copies over the border are told', async () => {
    const plate = await cylinder(30, 5)
    const pin = one(
      await runStep('build/cylinder', { name: 'p', radius: 3, height: 8, at: [20, 0, 5], axis: [0, 0, 1] }, {}),
      'p',
    )
    const b = one(await runStep('build/union', { bodies: ['b', 'p'] }, { b: plate, p: pin }), 'b')
    const faces = [{ at: [23, 0, 9] }, { at: [20, 0, 13] }]
    const r = await runStep('build/copies', { body: 'b', what: 'feature', faces, how: 'circle', count: 5 }, { b })
    expect(r.facts.volume).toBeCloseTo(Math.PI * (900 * 5 + 5 * 9 * 8), 5)
    const over = await runStep(
      'build/copies',
      { body: 'b', what: 'feature', faces: [bore], count: 6, gap: 12 },
      { b: await withHole() },
    )
    expect(over.warnings?.[0]).toMatch(/reach over/)
  })
})

describe('Extrude up to a mesh', () => {
  it('ends at its skin, and is refused where the outline misses it', async () => {
    const o = {
      ...loop([
        [5, 5],
        [15, 5],
        [15, 15],
        [5, 15],
      ]),
      plane: drawingPlane([0, 0, -10], [0, 0, 1], [1, 0, 0]),
    }
    const m = meshBody(shifted(box(20, 20, 20, 2), 0, 0, 4))
    const r = await runStep('build/extrude', { outline: 'o', to: 'body', target: 'm', name: 'e' }, { o, m })
    const made = r.bodies.e as MeshBody
    expect(meshVolume(made.mesh)).toBeCloseTo(10 * 10 * 14, 3)
    expect(made.tags?.source.length).toBe(made.mesh.triangles.length / 3)
    const beside = { ...o, plane: drawingPlane([12, 0, -10], [0, 0, 1], [1, 0, 0]) }
    const set = { outline: 'o', to: 'body', target: 'm', name: 'e' }
    expect((await fails(runStep('build/extrude', set, { o: beside, m })))?.code).toBe('never-reached')
  })
})

describe('Sweep', () => {
  it('along a path that comes back through itself is refused', async () => {
    const path = outline(
      [
        [0, 0],
        [40, 0],
        [40, 20],
        [20, 20],
        [20, -20],
      ],
      [0, 1, 2, 3].map((i): Curve => ({ kind: 'line', from: i, to: i + 1 })),
    )
    const section = circle(3, [0, 0, 0], [1, 0, 0])
    const set = { outline: 's', path: 'p', name: 'w' }
    expect((await fails(runStep('build/sweep', set, { s: section, p: path })))?.code).toBe('crosses-itself')
    // Smooth all the way, but coming back beside its first leg nearer than the section is wide.
    const back = (gap: number) =>
      outline(
        [
          [0, 0],
          [40, 0],
          [40, 20],
          [20, 20],
          [20, gap],
          [32, gap],
          [40, 10],
          [20, (20 + gap) / 2],
        ],
        [
          { kind: 'line', from: 0, to: 1 },
          { kind: 'arc', from: 1, to: 2, centre: 6, ccw: true },
          { kind: 'line', from: 2, to: 3 },
          { kind: 'arc', from: 3, to: 4, centre: 7, ccw: true },
          { kind: 'line', from: 4, to: 5 },
        ],
      )
    const near = await fails(runStep('build/sweep', set, { s: section, p: back(4) }))
    expect(near?.code).toBe('crosses-itself')
    expect(near?.where?.point).toHaveLength(3)
    expect(await fails(runStep('build/sweep', set, { s: section, p: back(7) }))).toBeNull()
  })
})

describe('Line up', () => {
  it('exact faces are taken as they are: axes made one to the last digit', async () => {
    const b = one(
      await runStep('build/cylinder', { name: 'b', radius: 4, height: 30, at: [3, 7, 1], axis: [0.1, 0.2, 1] }, {}),
      'b',
    )
    const to = await cylinder(10, 12)
    const wall = b.parts.faces.find((f) => f.shape === 'cylinder')!
    const set = {
      body: 'b',
      to: 'c',
      how: 'concentric',
      touch: { as: 'axis', at: [...wall.at] },
      touchTo: { as: 'axis', at: [10, 0, 6] },
    }
    const r = await runStep('set-down/line-up', set, { b, c: to })
    const moved = one(r, 'b').parts.faces.find((f) => f.shape === 'cylinder')!
    expect(Math.abs(moved.axis![2])).toBeCloseTo(1, 10)
    expect(Math.hypot(moved.centre![0], moved.centre![1])).toBeLessThan(1e-8)
    expect(r.facts).toMatchObject({ rms: 0, diameters: [8, 20] })
  })
})
