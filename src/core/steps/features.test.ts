/** Exact features against closed forms: prisms and frusta (prismoidal formula, Simpson's rule), Pappus for what is turned, ISO 273 for holes. */
import { describe, expect, it } from '@jest/globals'
import type { Body, ExactBody, OutlineBody, SolidDisplay } from '@/core/bodies/body'
import type { Curve, Place } from '@/core/outline/drawing'
import { drawingPlane } from '@/core/outline/drawing'
import type { Vec3 } from '@/core/math/vec'
import type { StepResult } from '@/core/step/step'
import { reportError } from '@/core/base/step-error'
import { encodeBody } from '@/core/kinds/registry'
import { stepOf } from './registry'
import { box } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'

const outline = (points: Place[], curves: Curve[], at: Vec3 = [0, 0, 0], normal: Vec3 = [0, 0, 1]): OutlineBody => ({
  kind: 'outline',
  plane: drawingPlane(at, normal),
  drawing: { points, curves },
  reference: [],
})
const loop = (points: Place[]): Curve[] =>
  points.map((_, i): Curve => ({ kind: 'line', from: i, to: (i + 1) % points.length }))
const corners: Place[] = [
  [0, 0],
  [20, 0],
  [20, 10],
  [0, 10],
]
const rectangle = (at?: Vec3) => outline(corners, loop(corners), at)
/** The rectangle with a round hole of radius 2 in its middle. */
const plate = outline([...corners, [10, 5]], [...loop(corners), { kind: 'circle', centre: 4, radius: 2 }])
const plateArea = 200 - 4 * Math.PI
const disc = (radius: number, at: Vec3, normal: Vec3 = [0, 0, 1]) =>
  outline([[0, 0]], [{ kind: 'circle', centre: 0, radius }], at, normal)

const volume = (r: StepResult) => r.facts.volume as number
const solid = (r: StepResult, name: string) => r.bodies[name] as ExactBody
const faceNames = (b: ExactBody) => b.parts.faces.map((f) => f.name).sort()
const fails = async (run: Promise<StepResult>) =>
  run.then(
    () => null,
    (e: unknown) => reportError(e),
  )
const block = async () => solid(await runStep('build/block', { name: 'b', size: [30, 20, 10], at: [0, 0, 0] }, {}), 'b')
const upright = [
  [15, 10],
  [15, -10],
  [-15, 10],
  [-15, -10],
].map(([x, y]) => ({ at: [x, y, 5] }))
const top = { at: [0, 0, 10], name: 'b/top' }

/** A box whose sides lean inward by `d` mm a mm: base area, middle and top by the prismoidal formula. */
const leaning = (w: number, h: number, d: number, z: number) =>
  (z / 6) * (w * h + 4 * (w - z * d) * (h - z * d) + (w - 2 * z * d) * (h - 2 * z * d))

describe('Extrude', () => {
  const extrude = (set: Record<string, unknown>, bodies: Record<string, Body>) =>
    runStep('build/extrude', { outline: 'o', ...set }, bodies)
  it('gives area times height, holes left out, to either side and half to each', async () => {
    const one = await extrude({ distance: 5 }, { o: plate })
    expect(volume(one)).toBeCloseTo(5 * plateArea, 8)
    expect(faceNames(solid(one, 'extrusion'))).toEqual([
      'extrusion/base',
      'extrusion/side 1',
      'extrusion/side 2',
      'extrusion/side 3',
      'extrusion/side 4',
      'extrusion/side 5',
      'extrusion/top',
    ])
    expect(volume(await extrude({ distance: 5, back: 3 }, { o: plate }))).toBeCloseTo(8 * plateArea, 8)
    const down = await extrude({ distance: -5 }, { o: plate })
    expect(volume(down)).toBeCloseTo(5 * plateArea, 8)
    expect(solid(down, 'extrusion').facts.min[2]).toBeCloseTo(-5, 6)
    expect(solid(await extrude({ distance: 5, symmetric: true }, { o: plate }), 'extrusion').facts.min[2]).toBeCloseTo(
      -2.5,
      6,
    )
  })
  it('takes the areas that are picked, each once; crossing curves divide them', async () => {
    expect(
      volume(
        await extrude(
          {
            distance: 5,
            areas: [
              [10, 5, 0],
              [10.5, 5, 0],
            ],
          },
          { o: plate },
        ),
      ),
    ).toBeCloseTo(20 * Math.PI, 8)
    const two = outline(
      [
        [0, 0],
        [5, 0],
      ],
      [
        { kind: 'circle', centre: 0, radius: 4 },
        { kind: 'circle', centre: 1, radius: 4 },
      ],
    )
    // The lens of two circles (Weisstein, "Circle-Circle Intersection").
    const lens = 2 * 16 * Math.acos(5 / 8) - 2.5 * Math.sqrt(64 - 25)
    expect(volume(await extrude({ distance: 2, areas: [[2.5, 0, 0]] }, { o: two }))).toBeCloseTo(2 * lens, 6)
    const all = await extrude({ distance: 2 }, { o: two })
    expect(volume(all)).toBeCloseTo(2 * (32 * Math.PI - lens), 6)
    expect(solid(all, 'extrusion').facts.pieces).toBe(1)
    expect((await fails(extrude({ areas: [[99, 0, 0]] }, { o: two })))!.message).toContain('no closed area')
  })
  it('leans its walls, of holes as of outer walls, on both sides', async () => {
    const d = Math.tan((5 * Math.PI) / 180)
    expect(volume(await extrude({ distance: 5, draft: 5 }, { o: rectangle() }))).toBeCloseTo(leaning(20, 10, d, 5), 8)
    expect(volume(await extrude({ distance: 5, draft: -5 }, { o: rectangle() }))).toBeCloseTo(leaning(20, 10, -d, 5), 8)
    const both = await extrude({ distance: 5, back: 4, draft: 5, draftBack: 5 }, { o: rectangle() })
    expect(volume(both)).toBeCloseTo(leaning(20, 10, d, 5) + leaning(20, 10, d, 4), 8)
    const r = 2 + 5 * d
    const hole = ((Math.PI * 5) / 3) * (4 + 2 * r + r * r)
    expect(volume(await extrude({ distance: 5, draft: 5 }, { o: plate }))).toBeCloseTo(leaning(20, 10, d, 5) - hole, 8)
    // A smooth closed spline: area, less length times lean, plus a turn's worth (Steiner's formula for parallel curves).
    const s = outline(
      [
        [0, 0],
        [10, 0],
        [12, 8],
        [3, 10],
      ],
      [{ kind: 'spline', through: [0, 1, 2, 3], closed: true }],
    )
    const plain = volume(await extrude({ distance: 1 }, { o: s }))
    const wall = solid(await extrude({ distance: 1 }, { o: s }), 'extrusion').parts.faces.find((f) =>
      f.name.includes('side'),
    )!.area
    const t = Math.tan((3 * Math.PI) / 180)
    const leant = volume(await extrude({ distance: 5, draft: 3 }, { o: s }))
    expect(leant / (plain * 5 - (wall * t * 25) / 2 + (Math.PI * t * t * 125) / 3)).toBeCloseTo(1, 3)
    expect((await fails(extrude({ distance: 50, draft: 10 }, { o: rectangle() })))!.code).toBe('draft-failed')
  })
  it('reaches up to a place, a plane aslant, a body; what is never reached is told', async () => {
    expect(volume(await extrude({ to: 'place', upTo: [3, 3, 7] }, { o: plate }))).toBeCloseTo(7 * plateArea, 8)
    // Cut by z = 5 + x: mean height 15.
    const aslant = await extrude({ to: 'place', upTo: [0, 0, 5], square: [-1, 0, 1] }, { o: rectangle() })
    expect(volume(aslant)).toBeCloseTo(3000, 6)
    const b = await block()
    const above = rectangle([-10, -5, -20])
    expect(volume(await extrude({ to: 'body', target: 'b' }, { o: above, b }))).toBeCloseTo(4000, 6)
    const beside = rectangle([5, 5, -20])
    expect((await fails(extrude({ to: 'body', target: 'b' }, { o: beside, b })))!.code).toBe('never-reached')
    expect((await fails(extrude({ distance: 0 }, { o: plate })))!.code).toBe('no-height')
  })
  it('is joined to, cut from or kept in common with solids and meshes', async () => {
    const b = await block()
    const on = { o: rectangle([-10, -5, 5]), b }
    const act = async (result: string, set = {}) =>
      volume(await extrude({ distance: 10, result, with: 'b', ...set }, on))
    expect(await act('join')).toBeCloseTo(6000 + 1000, 6)
    expect(await act('cut')).toBeCloseTo(6000 - 1000, 6)
    expect(await act('common')).toBeCloseTo(1000, 6)
    const mesh = { o: rectangle([5, 5, -1]), b: { kind: 'mesh', mesh: box(30, 20, 10) } as unknown as Body }
    const cut = await extrude({ distance: 12, result: 'cut', with: 'b' }, mesh)
    expect(volume(cut)).toBeCloseTo(4000, 2)
    expect(cut.bodies.b!.kind).toBe('mesh')
    expect((await fails(extrude({ result: 'join' }, on)))!.message).toContain('No body is chosen')
  })
  it('starts off the outline, at a place, at a plane aslant whichever way it goes, and sinks into what it joins', async () => {
    const from = async (set: object) =>
      solid(await extrude({ distance: 5, ...set }, { o: rectangle() }), 'extrusion').facts
    expect(await from({ start: 3 })).toMatchObject({ volume: 1000, min: [0, 0, 3] })
    expect((await from({ from: 'place', startAt: [7, 7, 4] })).min[2]).toBeCloseTo(4, 6)
    // The start is z = x / 2, of mean height 5.
    const aslant = { from: 'place', to: 'place', startAt: [0, 0, 0], startSquare: [-1, 0, 2] }
    expect((await from({ ...aslant, upTo: [0, 0, 20] })).volume).toBeCloseTo(200 * 15, 6)
    expect((await from({ ...aslant, upTo: [0, 0, -20] })).volume).toBeCloseTo(200 * 25, 6)
    expect((await fails(extrude({ from: 'place' }, { o: rectangle() })))!.message).toContain(
      'No place is picked to start at',
    )
    const old = stepOf('build/extrude')!.upgrade!
    expect(old({ startAt: [1, 2, 3] }, 1)).toEqual({ startAt: [1, 2, 3], from: 'place' })
    expect(old({ start: 3 }, 1)).toEqual({ start: 3 })
    const sunk = await extrude(
      { distance: 5, sink: 1, result: 'join', with: 'b' },
      { o: rectangle([-10, -5, 10]), b: await block() },
    )
    expect(volume(sunk)).toBeCloseTo(6000 + 1000, 6)
    expect(sunk.facts.ownVolume).toBeCloseTo(1200, 6)
  })
  it('makes thin walls beside areas and along open curves, corners sharp', async () => {
    const wall = async (set: object, o: OutlineBody) => volume(await extrude({ distance: 5, ...set }, { o }))
    expect(await wall({ wall: 1, wallSide: 'in' }, rectangle())).toBeCloseTo((200 - 18 * 8) * 5, 6)
    expect(await wall({ wall: 1, wallSide: 'out' }, rectangle())).toBeCloseTo((22 * 12 - 200) * 5, 6)
    expect(await wall({ wall: 1 }, rectangle())).toBeCloseTo((21 * 11 - 19 * 9) * 5, 6)
    // Round the bore of the plate as well: a tube of 2 to 3 mm.
    expect(await wall({ wall: 1, wallSide: 'in' }, plate)).toBeCloseTo((200 - 18 * 8 + Math.PI * 5) * 5, 6)
    const bend = outline(
      [
        [0, 0],
        [20, 0],
        [20, 10],
      ],
      [
        { kind: 'line', from: 0, to: 1 },
        { kind: 'line', from: 1, to: 2 },
      ],
    )
    expect(await wall({ wall: 2 }, bend)).toBeCloseTo(300, 6)
    expect((await fails(extrude({ distance: 5, wall: 12, wallSide: 'in' }, { o: rectangle() })))!.code).toBe(
      'too-thick',
    )
  })
  it('makes a sheet of open curves, and says what only reference curves lack', async () => {
    const open = outline(
      [
        [0, 0],
        [10, 0],
        [10, 10],
      ],
      [
        { kind: 'line', from: 0, to: 1 },
        { kind: 'line', from: 2, to: 1 },
      ],
    )
    const sheet = solid(await extrude({ distance: 5 }, { o: open }), 'extrusion')
    expect(sheet.kind).toBe('sheet')
    expect(sheet.facts.area).toBeCloseTo(100, 6)
    const traced: OutlineBody = {
      ...outline([], []),
      reference: [{ places: Float64Array.of(0, 0, 1, 0, 1, 1), closed: true }],
    }
    expect((await fails(extrude({}, { o: traced })))!.message).toContain('only reference curves')
  })
})

describe('Revolve', () => {
  const revolve = (set: Record<string, unknown>, o: OutlineBody) =>
    runStep('build/revolve', { outline: 'o', ...set }, { o })
  it('turns by the theorem of Pappus, whole and in part, either way about', async () => {
    const pappus = 200 * 2 * Math.PI * 20
    expect(volume(await revolve({ at: [-10, 0, 0], axis: [0, 1, 0] }, rectangle()))).toBeCloseTo(pappus, 6)
    const part = await revolve({ at: [-10, 0, 0], axis: [0, 1, 0], angle: 90, back: 30 }, rectangle())
    expect(volume(part)).toBeCloseTo(pappus / 3, 6)
    expect(volume(await revolve({ at: [-10, 0, 0], axis: [0, -1, 0], angle: 90 }, rectangle()))).toBeCloseTo(
      pappus / 4,
      6,
    )
    expect(volume(await revolve({ at: [0, 0, 0], axis: [0, 1, 0] }, rectangle()))).toBeCloseTo(Math.PI * 4000, 6)
    expect(volume(await revolve({ at: [-10, 0, 0], axis: [0, 1, 0] }, plate))).toBeCloseTo(plateArea * 40 * Math.PI, 6)
  })
  it('about a line of the outline; across it and aslant it is refused', async () => {
    const set = { at: { from: 'o', as: 'edge', at: [0, 5, 0] }, axis: { from: 'o', as: 'edge', at: [0, 5, 0] } }
    expect(volume(await revolve(set, rectangle()))).toBeCloseTo(Math.PI * 4000, 6)
    expect((await fails(revolve({ at: [5, 0, 0], axis: [0, 1, 0] }, rectangle())))!.code).toBe('across-axis')
    expect((await fails(revolve({ at: [0, 0, 0], axis: [0, 1, 1] }, rectangle())))!.code).toBe('axis-aslant')
  })
})

describe('Loft and Sweep', () => {
  it('a straight loft of two circles is a frustum, of a square and a point a pyramid', async () => {
    const set = { outlines: ['a', 'b'], straight: true }
    const frustum = await runStep('build/loft', set, { a: disc(5, [0, 0, 0]), b: disc(2, [0, 0, 10]) })
    expect(volume(frustum)).toBeCloseTo(((Math.PI * 10) / 3) * 39, 8)
    const square = outline(
      [
        [-5, -5],
        [5, -5],
        [5, 5],
        [-5, 5],
      ],
      loop(corners),
    )
    expect(
      volume(await runStep('build/loft', { outlines: ['a'], tip: [0, 0, 9], straight: true }, { a: square })),
    ).toBeCloseTo(300, 8)
    const mixed = await fails(runStep('build/loft', set, { a: plate, b: square }))
    expect(mixed!.code).toBe('mixed-sections')
    expect((await fails(runStep('build/loft', { outlines: ['a'] }, { a: square })))!.code).toBe('one-section')
  })
  it('a pipe elbow follows Pappus; a mitred corner keeps its length; a bend too tight is told', async () => {
    const elbow = outline(
      [
        [10, 0],
        [0, 10],
        [0, 0],
      ],
      [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }],
    )
    const set = { outline: 'o', path: 'p' }
    const pipe = await runStep('build/sweep', set, { o: disc(2, [10, 0, 0], [0, 1, 0]), p: elbow })
    expect(volume(pipe)).toBeCloseTo(4 * Math.PI * 5 * Math.PI, 5)
    const corner = outline(
      [
        [0, 0],
        [20, 0],
        [20, 20],
      ],
      [
        { kind: 'line', from: 0, to: 1 },
        { kind: 'line', from: 1, to: 2 },
      ],
    )
    expect(volume(await runStep('build/sweep', set, { o: disc(1, [0, 0, 0], [1, 0, 0]), p: corner }))).toBeCloseTo(
      40 * Math.PI,
      4,
    )
    const tight = outline(
      [
        [1, 0],
        [0, 1],
        [0, 0],
      ],
      [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }],
    )
    expect((await fails(runStep('build/sweep', set, { o: disc(2, [1, 0, 0], [0, 1, 0]), p: tight })))!.code).toBe(
      'too-tight',
    )
  })
})

describe('Loft and Sweep in their other ways', () => {
  it('a smooth loft of equal circles is a cylinder; a section carried round or upright keeps its volume', async () => {
    const three = { a: disc(5, [0, 0, 0]), b: disc(5, [0, 0, 10]), c: disc(5, [0, 0, 20]) }
    const loft = await runStep('build/loft', { outlines: ['a', 'b', 'c'] }, three)
    expect(volume(loft)).toBeCloseTo(500 * Math.PI, 4)
    const o = disc(2, [10, 0, 0], [0, 1, 0])
    const round = await runStep('build/sweep', { outline: 'o', path: 'p' }, { o, p: disc(10, [0, 0, 0]) })
    expect(volume(round)).toBeCloseTo(80 * Math.PI ** 2, 4)
    const bend = outline(
      [
        [10, 0],
        [0, 10],
        [0, 0],
      ],
      [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }],
    )
    const upright = await runStep('build/sweep', { outline: 'o', path: 'p', keeps: 'upright' }, { o, p: bend })
    expect(volume(upright)).toBeCloseTo(20 * Math.PI ** 2, 4)
  })
})

describe('Pipe', () => {
  it('a tube round a bend has the volume that Pappus tells; without a wall it is refused', async () => {
    const bend = outline(
      [
        [10, 0],
        [0, 10],
        [0, 0],
      ],
      [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }],
    )
    const tube = await runStep('build/pipe', { path: 'p', radius: 3, inner: 2 }, { p: bend })
    expect(volume(tube) / (5 * Math.PI * 5 * Math.PI)).toBeCloseTo(1, 6)
    expect((await fails(runStep('build/pipe', { path: 'p', radius: 3, inner: 3 }, { p: bend })))!.code).toBe('no-wall')
  })
})

describe('Fillet, Chamfer, Shell and Draft', () => {
  const corner = 1 - Math.PI / 4
  it('rounds edges, corners and all with the exact volume; names tell what they round', async () => {
    const four = await runStep('build/fillet', { body: 'b', radius: 3, edges: upright }, { b: await block() })
    expect(volume(four)).toBeCloseTo(6000 - 4 * 9 * corner * 10, 8)
    const all = await runStep('build/fillet', { body: 'b', radius: 2, edges: 'all' }, { b: await block() })
    // Steiner's formula for the inner box of 26 x 16 x 6 grown by 2.
    const inner = 26 * 16 * 6 + 4 * (26 * 16 + 26 * 6 + 16 * 6) + 4 * Math.PI * 48 + (32 / 3) * Math.PI
    expect(volume(all)).toBeCloseTo(inner, 8)
    expect(all.facts.edges).toBe(12)
    expect(solid(all, 'b').facts.faceKinds).toMatchObject({ plane: 6, cylinder: 12, sphere: 8 })
    expect(faceNames(solid(all, 'b'))).toContain('fillet(b/front | b/top)')
    const two = { body: 'b', radius: 3, edges: [upright[0]], edges2: [upright[3]], radius2: 5 }
    expect(volume(await runStep('build/fillet', two, { b: await block() }))).toBeCloseTo(6000 - 34 * corner * 10, 8)
  })
  it('offers the largest that works', async () => {
    const b = await block()
    const large = await fails(runStep('build/chamfer', { body: 'b', distance: 25, edges: [upright[0]] }, { b }))
    expect(large).toMatchObject({ code: 'too-large', offer: { set: 'distance' } })
    const to = large!.offer!.to
    expect(to).toBeGreaterThan(19)
    expect(to).toBeLessThanOrEqual(20)
    const works = await runStep('build/chamfer', { body: 'b', distance: to, edges: [upright[0]] }, { b })
    expect(volume(works)).toBeCloseTo(6000 - 5 * to * to, 5)
    const thick = await fails(runStep('build/shell', { body: 'b', wall: 11, open: [top] }, { b }))
    expect(thick!.offer!.to).toBeGreaterThan(9)
    expect((await fails(runStep('build/fillet', { body: 'b', radius: 1 }, { b })))!.code).toBe('no-part')
  })
  it('cuts edges off by one distance, by two, by an angle', async () => {
    const cut = async (set: object) =>
      6000 - volume(await runStep('build/chamfer', { body: 'b', edges: [upright[0]], ...set }, { b: await block() }))
    expect(await cut({ distance: 2 })).toBeCloseTo(20, 8)
    expect(await cut({ distance: 2, by: 'two', second: 3 })).toBeCloseTo(30, 8)
    expect(await cut({ distance: 2, by: 'angle', angle: 30 })).toBeCloseTo(20 * Math.tan(Math.PI / 6), 8)
  })
  it('hollows to a wall, open and closed, inside and outside', async () => {
    const shell = async (set: object) =>
      volume(await runStep('build/shell', { body: 'b', wall: 2, ...set }, { b: await block() }))
    expect(await shell({ open: [top] })).toBeCloseTo(6000 - 26 * 16 * 8, 6)
    expect(await shell({ open: [top], side: 'out' })).toBeCloseTo(34 * 24 * 12 - 6000, 6)
    expect(await shell({})).toBeCloseTo(6000 - 26 * 16 * 6, 6)
  })
  it('leans faces about the neutral plane', async () => {
    const faces = ['left', 'right', 'front', 'back'].map((n) => ({ at: [0, 0, 5], name: `b/${n}` }))
    const r = await runStep('build/draft', { body: 'b', faces, angle: 3 }, { b: await block() })
    expect(volume(r)).toBeCloseTo(leaning(30, 20, Math.tan((3 * Math.PI) / 180), 10), 8)
    expect(faceNames(solid(r, 'b'))).toEqual(['b/back', 'b/base', 'b/front', 'b/left', 'b/right', 'b/top'])
  })
})

describe('Hole', () => {
  const drill = async (set: object) =>
    6000 - volume(await runStep('build/hole', { body: 'b', at: [[0, 0, 10]], ...set }, { b: await block() }))
  it('plain, blind, with a drill point, counterbored and countersunk', async () => {
    expect(
      await drill({
        diameter: 4,
        at: [
          [0, 0, 10],
          [8, 4, 10],
        ],
      }),
    ).toBeCloseTo(80 * Math.PI, 6)
    // ISO 273: M3 medium 3.4 mm.
    expect(await drill({ standard: 'M3 medium' })).toBeCloseTo(Math.PI * 1.7 ** 2 * 10, 6)
    expect(await drill({ diameter: 4, through: false, depth: 6 })).toBeCloseTo(24 * Math.PI, 6)
    // A depth alone means a blind hole; what meets nothing is told.
    expect(await drill({ diameter: 4, depth: 6 })).toBeCloseTo(24 * Math.PI, 6)
    expect(await drill({ diameter: 4, depth: 6, through: true })).toBeCloseTo(40 * Math.PI, 6)
    // An axis told out of the body means the same hole.
    expect(await drill({ diameter: 4, axis: [0, 0, 1] })).toBeCloseTo(40 * Math.PI, 6)
    const up = { body: 'b', at: [[40, 0, 10]], diameter: 4 }
    expect((await fails(runStep('build/hole', up, { b: await block() })))!.code).toBe('no-cut')
    const tip = ((Math.PI * 4) / 3) * (2 / Math.tan((59 * Math.PI) / 180))
    expect(await drill({ diameter: 4, through: false, depth: 6, tip: 118 })).toBeCloseTo(24 * Math.PI + tip, 6)
    const bore = { diameter: 4, head: 'counterbore', headDiameter: 8, headDepth: 3 }
    expect(await drill(bore)).toBeCloseTo(Math.PI * (16 * 3 + 4 * 7), 6)
    const sink = { diameter: 4, head: 'countersink', headDiameter: 8, headAngle: 90 }
    expect(await drill(sink)).toBeCloseTo(Math.PI * ((2 / 3) * (16 + 8 + 4) + 4 * 8), 6)
  })
  it('at the circles of an outline, into a mesh; what is missing is told', async () => {
    const circles = outline(
      [
        [5, 5],
        [15, 5],
        [9, 9],
      ],
      [
        { kind: 'circle', centre: 0, radius: 1 },
        { kind: 'circle', centre: 1, radius: 1 },
      ],
      [0, 0, 10],
    )
    const mesh = { b: { kind: 'mesh', mesh: box(30, 20, 10) } as unknown as Body, c: circles }
    const r = await runStep('build/hole', { body: 'b', outline: 'c', diameter: 2, chord: 0.0005 }, mesh)
    expect(r.facts.holes).toBe(3)
    expect(6000 - volume(r)).toBeCloseTo(30 * Math.PI, 1)
    expect((await fails(runStep('build/hole', { body: 'b', diameter: 2 }, mesh)))!.code).toBe('no-pick')
    expect((await fails(runStep('build/hole', { body: 'b', at: [[5, 5, 10]] }, mesh)))!.code).toBe('no-diameter')
    expect((await fails(runStep('build/hole', { body: 'b', at: [[5, 5, 10]], standard: 'M99' }, mesh)))!.code).toBe(
      'bad-standard',
    )
    expect(
      (await fails(
        runStep('build/hole', { body: 'b', at: [[5, 5, 10]], diameter: 5, head: 'counterbore', headDiameter: 4 }, mesh),
      ))!.code,
    ).toBe('bad-head')
  })
})

describe('Shapes, copies, sheets and letters', () => {
  it('cone, frustum, sphere and ring', async () => {
    expect(volume(await runStep('build/cone', { name: 'c', radius: 5, height: 10 }, {}))).toBeCloseTo(
      (Math.PI * 250) / 3,
      8,
    )
    const frustum = { name: 'c', radius: 5, top: 2, height: 10, axis: [1, 1, 0] }
    expect(volume(await runStep('build/cone', frustum, {}))).toBeCloseTo(((Math.PI * 10) / 3) * 39, 8)
    expect(volume(await runStep('build/sphere', { name: 's', radius: 5 }, {}))).toBeCloseTo((500 / 3) * Math.PI, 8)
    expect(volume(await runStep('build/ring', { name: 'r', radius: 10, thickness: 3 }, {}))).toBeCloseTo(
      180 * Math.PI ** 2,
      8,
    )
    expect((await fails(runStep('build/ring', { name: 'r', radius: 3, thickness: 3 }, {})))!.offer!.set).toBe(
      'thickness',
    )
  })
  it('mirrored and copied, by themselves, as one, and cut from a body', async () => {
    const b = await block()
    const beside = await runStep('build/mirror', { body: 'b', at: [20, 0, 0] }, { b })
    expect(solid(beside, 'mirrored').facts.min[0]).toBeCloseTo(25, 6)
    const joined = await runStep('build/mirror', { body: 'b', at: [15, 0, 0], join: true }, { b })
    expect(volume(joined)).toBeCloseTo(12000, 6)
    expect(joined.warnings).toEqual([])
    expect(volume(await runStep('build/copies', { body: 'b', count: 3, gap: 20, result: 'one' }, { b }))).toBeCloseTo(
      14000,
      6,
    )
    const apart = await runStep('build/copies', { body: 'b', count: 2, rows: 2, gap: 40, rowGap: 30 }, { b })
    expect(Object.keys(apart.bodies)).toEqual(['b 2', 'b 3', 'b 4'])
    expect((await fails(runStep('build/copies', { body: 'b', count: 500, rows: 500 }, { b })))!.code).toBe('too-many')
    const c = solid(await runStep('build/cylinder', { name: 'c', radius: 2, height: 30, at: [6, 0, -5] }, {}), 'c')
    const holes = { body: 'c', how: 'circle', count: 4, result: 'cut', with: 'b' }
    expect(volume(await runStep('build/copies', holes, { b, c }))).toBeCloseTo(6000 - 160 * Math.PI, 6)
  })
  it('sheets are sewn, and what stays open is counted', async () => {
    const half = (points: Place[]) =>
      runStep(
        'build/extrude',
        { outline: 'o', distance: 10 },
        {
          o: outline(points, [
            { kind: 'line', from: 0, to: 1 },
            { kind: 'line', from: 1, to: 2 },
          ]),
        },
      )
    const a = solid(
        await half([
          [0, 0],
          [10, 0],
          [10, 10],
        ]),
        'extrusion',
      ),
      c = solid(
        await half([
          [0, 0],
          [0, 10],
          [10, 10],
        ]),
        'extrusion',
      )
    const tube = await runStep('build/sew', { bodies: ['a', 'c'] }, { a, c })
    expect(tube.facts).toMatchObject({ closed: false, openEdges: 8, faces: 4 })
    expect(tube.bodies.a).toBeNull()
  })
  it('letters have the area of their outlines, and cut right through a mesh', async () => {
    const o = await runStep('build/lettering', { text: 'OAR', size: 6, height: 2 }, {})
    const twice = await runStep('build/lettering', { text: 'OAR', size: 12, height: 2 }, {})
    expect(volume(twice) / volume(o)).toBeCloseTo(4, 6)
    const flat: SolidDisplay = solid(o, 'lettering').display
    expect(flat.triangles.length).toBeGreaterThan(0)
    const mesh = { b: { kind: 'mesh', mesh: box(60, 20, 4) } as unknown as Body }
    const set = { text: 'OAR', size: 6, height: 5, at: [30, 10, 4], result: 'cut', with: 'b' }
    const cut = await runStep('build/lettering', set, mesh)
    expect(4800 - volume(cut)).toBeCloseTo(2 * volume(o), 0)
    expect((await fails(runStep('build/lettering', { text: ' ' }, {})))!.code).toBe('empty')
  })
  it('a solid is cut by a plane, and split by a sheet; a sheet gets a wall', async () => {
    const b = await block()
    const cut = await runStep(
      'build/cut-by-plane',
      { body: 'b', at: [5, 0, 0], normal: [1, 0, 0], keep: 'both' },
      { b },
    )
    expect([cut.facts.sideA, cut.facts.sideB].map((v) => Math.round(v as number))).toEqual([2000, 4000])
    expect(faceNames(solid(cut, 'b'))).toContain('cut')
    const miss = await fails(runStep('build/cut-by-plane', { body: 'b', at: [50, 0, 0], normal: [1, 0, 0] }, { b }))
    expect(miss!.code).toBe('no-cut')
    // A bent sheet through the block.
    const bend = outline(
      [
        [-20, 0],
        [0, 2],
        [20, 0],
      ],
      [
        { kind: 'line', from: 0, to: 1 },
        { kind: 'line', from: 1, to: 2 },
      ],
      [0, 0, -5],
    )
    const sheet = solid(await runStep('build/extrude', { outline: 'o', distance: 20 }, { o: bend }), 'extrusion')
    const split = await runStep('build/split-by', { body: 'b', by: 's' }, { b, s: sheet })
    expect(split.facts.pieces).toBe(2)
    // Behind the bend: 20 mm deep less the mean height of the bend over the block's width, 2 - 15/20 · 2/2.
    expect(split.facts.volumes).toEqual([
      expect.closeTo(10 * 30 * (10 + 1.25), 5),
      expect.closeTo(10 * 30 * (10 - 1.25), 5),
    ])
    const small = solid(await runStep('build/extrude', { outline: 'o', distance: 5 }, { o: bend }), 'extrusion')
    expect((await fails(runStep('build/split-by', { body: 'b', by: 's' }, { b, s: small })))!.code).toBe('no-cut')
    const flat = outline(
      [
        [0, 0],
        [10, 0],
      ],
      [{ kind: 'line', from: 0, to: 1 }],
    )
    const strip = solid(await runStep('build/extrude', { outline: 'o', distance: 5 }, { o: flat }), 'extrusion')
    for (const side of ['outward', 'inward', 'both'])
      expect(volume(await runStep('build/thicken', { body: 's', by: 2, side }, { s: strip }))).toBeCloseTo(100, 6)
  })
  it('a hole, a pocket and a boss are taken out again; flat faces move in and out', async () => {
    const b = await block()
    const bored = solid(
      await runStep(
        'build/hole',
        { body: 'b', at: [[0, 0, 10]], diameter: 6, head: 'counterbore', headDiameter: 9, headDepth: 3 },
        { b },
      ),
      'b',
    )
    const walls = bored.parts.faces
      .filter((f) => f.name.startsWith('hole/'))
      .map((f) => ({ at: [...f.at], name: f.name }))
    expect(walls).toHaveLength(3)
    const healed = await runStep('build/delete-face', { body: 'b', faces: walls }, { b: bored })
    expect(volume(healed)).toBeCloseTo(6000, 6)
    expect(faceNames(solid(healed, 'b'))).toEqual(['b/back', 'b/base', 'b/front', 'b/left', 'b/right', 'b/top'])
    const boss = solid(
      await runStep(
        'build/extrude',
        { outline: 'o', distance: 8, result: 'join', with: 'b', name: 'boss' },
        { b, o: disc(4, [0, 0, 8]) },
      ),
      'b',
    )
    const stands = boss.parts.faces
      .filter((f) => f.name.startsWith('boss/'))
      .map((f) => ({ at: [...f.at], name: f.name }))
    expect(volume(await runStep('build/delete-face', { body: 'b', faces: stands }, { b: boss }))).toBeCloseTo(6000, 6)
    expect((await fails(runStep('build/delete-face', { body: 'b', faces: [top] }, { b })))!.code).toBe('not-enclosed')
    expect(volume(await runStep('build/offset-face', { body: 'b', faces: [top], by: 2 }, { b }))).toBeCloseTo(7200, 6)
    const lower = await runStep('build/offset-face', { body: 'b', faces: [top], by: -2 }, { b })
    expect(volume(lower)).toBeCloseTo(4800, 6)
    expect(faceNames(solid(lower, 'b'))).toEqual(['b/back', 'b/base', 'b/front', 'b/left', 'b/right', 'b/top'])
    const round = await fails(runStep('build/offset-face', { body: 'b', faces: [walls[0]], by: 1 }, { b: bored }))
    expect(round!.code).toBe('not-flat')
  })
})

describe('the same again', () => {
  it('gives the same bytes, though builders write into the shapes they are given', async () => {
    const plain = solid(await runStep('build/extrude', { outline: 'o', distance: 5 }, { o: plate }), 'extrusion')
    const again = async () =>
      [
        await runStep('build/hole', { body: 'p', at: [[4, 4, 5]], axis: [0, 0, -1], diameter: 2 }, { p: plain }),
        await runStep('build/offset-face', { body: 'p', faces: [{ at: [2, 2, 5] }], by: 1 }, { p: plain }),
        await runStep('build/fillet', { body: 'p', edges: [{ at: [0, 0, 2] }], radius: 1 }, { p: plain }),
      ].map((r) => Buffer.from(encodeBody(r.bodies.p!)).toString('base64'))
    expect(await again()).toEqual(await again())
  })
})
