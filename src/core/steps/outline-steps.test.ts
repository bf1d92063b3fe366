/** Section lines, tracing and datums as recipes use them, against closed forms. */
import { describe, expect, it } from '@jest/globals'
import { isDatum, isOutline, meshBody, type Body, type DatumBody, type OutlineBody } from '@/core/bodies/body'
import { csg } from '@/core/join/csg'
import { makeBlock, makeCylinder } from '@/core/kernels/exact/primitives'
import { decodeBody, encodeBody, factsOf, moveBody } from '@/core/kinds/registry'
import { outlineFigures } from '@/core/kinds/outline'
import { rotation, scaling, translation } from '@/core/math/affine'
import { dot, length, sub, type Vec3 } from '@/core/math/vec'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { toSpace } from '@/core/outline/drawing'
import { bracketShape } from '@/core/scan/shapes'
import { runStep } from '@/testing/run-step'
import { box, cylinder, sheet, shifted, sphere, torus, without } from '@/testing/shapes'

const outline = (bodies: Readonly<Record<string, Body | null>>, name: string): OutlineBody => {
  const b = bodies[name]
  if (!b || !isOutline(b)) throw new Error(`no outline "${name}"`)
  return b
}
const datum = (bodies: Readonly<Record<string, Body | null>>, name: string): DatumBody => {
  const b = bodies[name]
  if (!b || !isDatum(b)) throw new Error(`no datum "${name}"`)
  return b
}
const cut = (bodies: Record<string, TriMesh | Body>, set: Record<string, unknown> = {}) =>
  runStep('convert/section-line', { bodies: Object.keys(bodies).filter((n) => n !== 'p'), name: 'cut', ...set }, bodies)

describe('section line', () => {
  it('length and area by closed form: a sphere, a ring across and along', async () => {
    // At height h a sphere of radius r is a circle of sqrt(r² - h²).
    const s = await cut({ ball: sphere(10, 6) }, { at: [0, 0, 6] })
    expect(s.facts.length).toBeCloseTo(2 * Math.PI * 8, 0)
    expect(Number(s.facts.area) / (Math.PI * 64)).toBeCloseTo(1, 2)
    const ring = torus(30, 8, 720, 360)
    const flat = await cut({ ring }, { at: [0, 0, 1e-4] })
    expect(flat.facts).toMatchObject({ loops: 2, openRuns: 0 })
    expect(Number(flat.facts.area) / (Math.PI * (38 ** 2 - 22 ** 2))).toBeCloseTo(1, 3)
    expect(Number(flat.facts.length) / (2 * Math.PI * 60)).toBeCloseTo(1, 3)
    const upright = await cut({ ring }, { at: [0, 1e-4, 0], normal: [0, 1, 0] })
    expect(Number(upright.facts.area) / (2 * Math.PI * 64)).toBeCloseTo(1, 3)
  })
  it('several bodies at once, a row of planes, one body each that meets something', async () => {
    const r = await cut(
      { a: box(20, 20, 20), b: shifted(box(10, 10, 10), 30, 0, 0) },
      { at: [0, 0, 2.5], count: 4, gap: 5 },
    )
    expect(Object.keys(r.bodies)).toEqual(['cut 1', 'cut 2', 'cut 3', 'cut 4'])
    expect(outlineFigures(outline(r.bodies, 'cut 1')).areas).toEqual([400, 100])
    expect(outlineFigures(outline(r.bodies, 'cut 4')).areas).toEqual([400])
    expect(r.facts.area).toBeCloseTo(4 * 400 + 2 * 100, 3)
    const past = await cut({ a: box(20, 20, 20) }, { at: [0, 0, 15], count: 3, gap: 5 })
    expect(past.warnings!.join()).toMatch(/1 plane met nothing|2 planes met nothing/)
    await expect(cut({ a: box(20, 20, 20) }, { at: [0, 0, 50] })).rejects.toThrow(/misses "a"/)
  })
  it('a plane in a face says so and loses no area; an open body leaves open runs', async () => {
    const flat = await cut({ a: box(20, 20, 20) }, { at: [0, 0, 20] })
    expect(flat.facts.area).toBeCloseTo(400, 3)
    expect(flat.warnings!.join()).toMatch(/lies in a face of "a" \(400 mm²\).*half a millimetre/)
    const open = await cut({ s: without(sphere(10, 4), (x) => x > 5) }, { at: [0, 0, 0.1] })
    expect(open.facts).toMatchObject({ loops: 0, openRuns: 1 })
    expect(open.warnings!.join()).toMatch(/1 run of the section is open/)
  })
  it('by a datum plane; a point is no plane', async () => {
    const p = (await runStep('build/plane', { name: 'p', at: [0, 0, 3] }, {})).bodies.p!
    expect(
      (await cut({ a: box(20, 20, 20), p }, { bodies: ['a'], by: 'datum', plane: 'p', at: [0, 0, 99] })).facts.area,
    ).toBeCloseTo(400, 3)
    await expect(cut({ a: box(20, 20, 20) }, { by: 'datum' })).rejects.toThrow(/No datum plane is chosen/)
    const point = (await runStep('build/point', { name: 'p' }, {})).bodies.p!
    await expect(cut({ a: box(20, 20, 20), p: point }, { bodies: ['a'], by: 'datum', plane: 'p' })).rejects.toThrow(
      /no plane to cut by/,
    )
  })
})

describe('trace', () => {
  const traced = async (
    body: TriMesh | Body,
    at: Vec3,
    set: Record<string, unknown> = {},
    normal: Vec3 = [0, 0, 1],
  ) => {
    const { bodies } = await cut({ body }, { at, normal })
    return runStep('convert/trace', { outline: 'cut', name: 'drawn', ...set }, { cut: bodies.cut! })
  }
  it("the bracket's section half a millimetre under its face: rounded corners and bores as they were made", async () => {
    const r = await traced(await bracketShape(), [0, 0, 5.5])
    expect(r.facts).toMatchObject({ lines: 4, arcs: 4, circles: 5, splines: 0, closed: true })
    const curves = r.facts.curves as { kind: string; radius: number; centre: number[] }[]
    for (const c of curves.filter((o) => o.kind === 'arc')) expect(c.radius).toBeCloseTo(6, 5)
    // Four bores of 5.08 on a pattern of 46 x 26, and one of 13 in the middle.
    for (const [x, y, radius] of [
      [-23, -13, 2.54],
      [23, -13, 2.54],
      [23, 13, 2.54],
      [-23, 13, 2.54],
      [0, 0, 6.5],
    ]) {
      const c = curves.find((o) => o.kind === 'circle' && Math.hypot(o.centre[0] - x, o.centre[1] - y) < 1e-5)
      expect(c?.radius).toBeCloseTo(radius, 5)
    }
  })
  it('a plate with bores: four lines, circles with centre and radius in space, in any plane', async () => {
    const bores = [
      [10, 10, 1.7],
      [50, 10, 1.7],
      [30, 25, 3.3],
    ].map(([x, y, r], i) => ({ name: `${i}`, mesh: shifted(cylinder(r, 40, 40), x, y, -10) }))
    const plate = (await csg('difference', [{ name: 'p', mesh: box(60, 40, 8) }, ...bores])).mesh
    const flat = await traced(plate, [0, 0, 4])
    expect(flat.facts).toMatchObject({ lines: 4, circles: 3, arcs: 0, splines: 0, closed: true })
    const circles = (flat.facts.curves as { kind: string; radius: number; centre: number[] }[]).filter(
      (c) => c.kind === 'circle',
    )
    for (const [x, y, radius] of [
      [10, 10, 1.7],
      [50, 10, 1.7],
      [30, 25, 3.3],
    ]) {
      const c = circles.find((o) => Math.hypot(o.centre[0] - x, o.centre[1] - y) < 0.01)!
      expect(c.radius).toBeCloseTo(radius, 5)
      expect(c.centre[2]).toBeCloseTo(4, 6)
    }
    // Laid on its side, cut square to y.
    const turned = await moveBody(meshBody(plate), rotation([1, 0, 0], 90))
    const side = await traced(turned, [0, -4, 0], {}, [0, 1, 0])
    const c = (side.facts.curves as { kind: string; centre: number[] }[]).find((o) => o.kind === 'circle')!
    expect(c.centre[1]).toBeCloseTo(-4, 5)
  })
  it('an exact body gives its true radius, and a cylinder across is an ellipse, lengthwise a rectangle', async () => {
    const rod = await makeCylinder(6, 60, [0, 0, 0], [0, 0, 1], 'rod')
    const round = await traced(rod, [0, 0, 20])
    expect((round.facts.curves as { radius: number }[])[0].radius).toBeCloseTo(6, 4)
    const slant: Vec3 = [Math.sin(Math.PI / 6), 0, Math.cos(Math.PI / 6)]
    const e = await traced(rod, [0, 0, 30], {}, slant)
    expect(e.facts).toMatchObject({ ellipses: 1, circles: 0 })
    const { long, short } = (e.facts.curves as { long: number; short: number }[])[0]
    expect(short).toBeCloseTo(6, 2)
    expect(long).toBeCloseTo(6 / Math.cos(Math.PI / 6), 2)
    expect((await traced(rod, [0, 0, 20], {}, [1, 0, 0])).facts).toMatchObject({ lines: 4, arcs: 0 })
  })
  it('kinds switched off, a tolerance of its own, what cannot be drawn', async () => {
    const rod = cylinder(6, 20, 48)
    expect((await traced(rod, [0, 0, 5], { kinds: ['line'], lineTolerance: 0.001 })).facts).toMatchObject({
      lines: 48,
      circles: 0,
    })
    expect((await traced(rod, [0, 0, 5], { kinds: ['spline'] })).facts).toMatchObject({ splines: 1, lines: 0 })
    expect(Number((await traced(rod, [0, 0, 5], { kinds: ['line'], lineTolerance: 0.8 })).facts.lines)).toBeLessThan(20)
    await expect(traced(box(9, 9, 9), [0, 0, 5], { kinds: ['circle'] })).rejects.toThrow(/Of circles alone no curve/)
    await expect(runStep('convert/trace', { outline: 'b' }, { b: box(1, 1, 1) })).rejects.toThrow(
      /works on a outline|works on an outline/,
    )
  })
  it('a traced drawing can be traced again from its own curves', async () => {
    const { bodies } = await traced(cylinder(6, 20, 48), [0, 0, 5])
    const bare: OutlineBody = { ...outline(bodies, 'drawn'), reference: [] }
    const again = await runStep('convert/trace', { outline: 'd', name: 'again' }, { d: bare })
    expect(again.facts).toMatchObject({ circles: 1 })
  })
})

describe('sending outlines out', () => {
  it('DXF and SVG by the ending; other kinds and other endings are told', async () => {
    const { bodies } = await cut({ a: cylinder(6, 20, 48) }, { at: [0, 0, 5] })
    const d = (await runStep('convert/trace', { outline: 'cut', name: 'd' }, bodies as Record<string, Body>)).bodies.d!
    for (const [file, version, opening] of [
      ['a.dxf', 'R12', '0\r\nSECTION'],
      ['a.dxf', 'R2000', '0\nSECTION'],
      ['a.svg', 'R2000', '<svg'],
    ] as const) {
      const r = await runStep('send-out/file', { bodies: ['d'], file, version }, { d })
      const text = new TextDecoder().decode(r.files![0].bytes)
      expect(text.replace(/^\s*/, '').startsWith(opening)).toBe(true)
      expect(text).toMatch(/CIRCLE|<path/)
      expect(r.said).toMatch(/1 curve/)
    }
    await expect(runStep('send-out/file', { bodies: ['a'], file: 'a.dxf' }, { a: box(1, 1, 1) })).rejects.toThrow(
      /"a" is a mesh; DXF holds outlines/,
    )
    await expect(runStep('send-out/file', { bodies: ['d'], file: 'd.stl' }, { d })).rejects.toThrow(
      /"d" is a outline|"d" is an outline/,
    )
  })
})

describe('outlines and datums are bodies', () => {
  it('packed and back to the same bytes; moved, turned and scaled evenly, never stretched', async () => {
    const { bodies } = await cut({ a: box(20, 10, 5) }, { at: [0, 0, 2] })
    const drawn = (await runStep('convert/trace', { outline: 'cut', name: 'd' }, bodies as Record<string, Body>)).bodies
      .d!
    expect(encodeBody(decodeBody(encodeBody(drawn)))).toEqual(encodeBody(drawn))
    expect(factsOf(drawn)).toMatchObject({
      kind: 'outline',
      sound: true,
      size: [20, 10, 0],
      figures: { area: 200, curves: 4 },
    })
    // A damaged one is told, not drawn with holes in it.
    const d = outline({ d: drawn }, 'd')
    const hurt = encodeBody({
      ...d,
      drawing: { points: d.drawing.points.slice(0, 2), curves: d.drawing.curves },
    } as Body)
    expect(() => decodeBody(hurt)).toThrow(/names a point that is not there/)
    const moved = await moveBody(drawn, translation([1, 2, 3]))
    expect(factsOf(moved).min).toEqual([1, 2, 5])
    const large = (await moveBody(drawn, scaling(3))) as OutlineBody
    expect(outlineFigures(large).areas[0]).toBeCloseTo(1800, 9)
    expect(Math.max(...large.drawing.points.map((p) => Math.abs(toSpace(large.plane, p)[0])))).toBeCloseTo(60, 9)
    await expect(moveBody(drawn, scaling(1, 2, 1))).rejects.toThrow(/stretched unevenly/)
    // Nothing that needs a skin takes it.
    await expect(runStep('build/union', { bodies: ['a', 'd'] }, { a: box(1, 1, 1), d: drawn })).rejects.toThrow(
      /"d" is a outline|"d" is an outline/,
    )
  })
  it('planes: three points, a face, an area averaged, midway, turned, moved along', async () => {
    const plane = async (set: Record<string, unknown>, bodies: Record<string, TriMesh | Body> = {}) => {
      const r = await runStep('build/plane', { name: 'p', ...set }, bodies)
      return { ...datum(r.bodies, 'p'), facts: r.facts }
    }
    expect(await plane({ by: 'points', at: [0, 0, 5], second: [1, 0, 5], third: [0, 1, 5], offset: 2 })).toMatchObject({
      at: [0, 0, 7],
      direction: [0, 0, 1],
    })
    await expect(plane({ by: 'points', at: [0, 0, 0], second: [1, 1, 1], third: [2, 2, 2] })).rejects.toThrow(
      /on one line/,
    )
    const cube = box(20, 20, 20, 4)
    const face = await plane({ by: 'face', body: 'c', face: { as: 'plane', at: [20, 10, 10] } }, { c: cube })
    expect(face.direction[0]).toBeCloseTo(1, 12)
    // A wavy sheet averages to its middle: rms of a sine of height 0.3 is 0.3 / sqrt 2.
    const wavy = sheet(20, 80, (x) => 0.3 * Math.sin((2 * Math.PI * x) / 5))
    const mean = await plane({ by: 'region', body: 's', region: [{ pick: 'all' }] }, { s: wavy })
    expect(Math.abs(mean.direction[2])).toBeGreaterThan(0.999)
    expect(Number(mean.facts.rms)).toBeCloseTo(0.3 / Math.SQRT2, 1)
    expect(Number(mean.facts.max)).toBeCloseTo(0.3, 1)
    const half = await plane(
      { by: 'midway', body: 'c', face: { as: 'plane', at: [0, 10, 10] }, otherFace: { as: 'plane', at: [20, 10, 10] } },
      { c: cube },
    )
    expect(half.at[0]).toBeCloseTo(10, 6)
    expect(Math.abs(half.direction[0])).toBeCloseTo(1, 6)
    // Between faces at a right angle it halves the angle and runs through their edge.
    const mitre = await plane(
      {
        by: 'midway',
        body: 'c',
        face: { as: 'plane', at: [20, 10, 10] },
        otherFace: { as: 'plane', at: [10, 20, 10] },
      },
      { c: cube },
    )
    expect(Math.abs(dot(sub([20, 20, 3], mitre.at), mitre.direction))).toBeLessThan(1e-6)
    const turned = await plane({ by: 'turned', at: [0, 0, 0], normal: [0, 0, 1], axis: [1, 0, 0], angle: 30 })
    expect(turned.direction[1]).toBeCloseTo(-0.5, 9)
    await expect(plane({ by: 'face' })).rejects.toThrow(/No body is picked/)
  })
  it('axes and points: of a bore, where faces meet, through a face', async () => {
    const bored = (
      await csg('difference', [
        { name: 'a', mesh: box(20, 20, 20) },
        { name: 'b', mesh: shifted(cylinder(3, 60, 48), 8, 12, -20) },
      ])
    ).mesh
    const wall = { as: 'axis', at: [11, 12, 10] }
    const r = await runStep('build/axis', { name: 'x', by: 'wall', body: 'b', wall }, { b: bored })
    expect(Number(r.facts.diameter)).toBeCloseTo(6, 1)
    expect(Math.hypot(datum(r.bodies, 'x').at[0] - 8, datum(r.bodies, 'x').at[1] - 12)).toBeLessThan(0.01)
    const edge = await runStep(
      'build/axis',
      {
        name: 'x',
        by: 'planes',
        body: 'b',
        face: { as: 'plane', at: [20, 15, 10] },
        otherFace: { as: 'plane', at: [15, 20, 10] },
      },
      { b: bored },
    )
    expect(Math.abs(datum(edge.bodies, 'x').direction[2])).toBeCloseTo(1, 9)
    expect(datum(edge.bodies, 'x').at[0]).toBeCloseTo(20, 6)
    const top = await runStep(
      'build/point',
      { name: 'o', by: 'through', body: 'b', wall, face: { as: 'plane', at: [2, 2, 20] } },
      { b: bored },
    )
    expect(length(sub(datum(top.bodies, 'o').at, [8, 12, 20]))).toBeLessThan(0.01)
    await expect(runStep('build/axis', { name: 'x', by: 'points', at: [1, 1, 1], to: [1, 1, 1] }, {})).rejects.toThrow(
      /are one/,
    )
    // A datum serves where a face or wall is asked for.
    const again = await runStep('build/axis', { name: 'y', by: 'wall', body: 'x', wall }, { x: r.bodies.x! })
    expect(datum(again.bodies, 'y').at).toEqual(datum(r.bodies, 'x').at)
  })
  it('a datum follows a move, and its normal a mirror', async () => {
    const p = (await runStep('build/plane', { name: 'p', at: [0, 0, 5], normal: [0, 0.6, 0.8] }, {})).bodies.p!
    const turned = (await moveBody(p, rotation([1, 0, 0], 90))) as DatumBody
    expect(turned.at[1]).toBeCloseTo(-5, 9)
    expect(turned.direction[1]).toBeCloseTo(-0.8, 9)
    expect(decodeBody(encodeBody(p))).toEqual(p)
    const block = await makeBlock([1, 1, 1], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'b')
    await expect(runStep('build/union', { bodies: ['b', 'p'] }, { b: block, p })).rejects.toThrow(/"p" is a datum/)
  })
})

describe('outline', () => {
  const plate = (change: Record<string, unknown> = {}) => ({
    points: [
      [0, 0],
      [30, 1],
      [31, 20],
      [-1, 19],
      [10, 10],
    ],
    curves: [
      { kind: 'line', from: 0, to: 1 },
      { kind: 'line', from: 1, to: 2 },
      { kind: 'line', from: 2, to: 3 },
      { kind: 'line', from: 3, to: 0 },
      { kind: 'circle', centre: 4, radius: 3 },
    ],
    constraints: [
      { kind: 'fixed', points: [0] },
      { kind: 'horizontal', curves: [0] },
      { kind: 'horizontal', curves: [2] },
      { kind: 'vertical', curves: [1] },
      { kind: 'vertical', curves: [3] },
    ],
    dimensions: [
      { kind: 'length', curves: [0], value: 40, name: 'width' },
      { kind: 'length', curves: [1], value: 20 },
      { kind: 'diameter', curves: [4], value: 8 },
    ],
    ...change,
  })
  const run = (drawing: unknown, set: Record<string, unknown> = {}, bodies: Record<string, Body> = {}) =>
    runStep('build/outline', { name: 'o', drawing, ...set }, bodies)

  it('holds what it says, on any plane, and tells areas, freedom and curves in space', async () => {
    const r = await run(plate(), { at: [5, 0, 7], normal: [0, -1, 0], x: [1, 0, 0] })
    expect(r.facts).toMatchObject({ free: 2, loops: 2, openRuns: 0, dimensions: { width: 40 } })
    expect((r.facts.areas as number[])[0]).toBeCloseTo(800 - 16 * Math.PI, 9)
    const [line] = r.facts.curves as { kind: string; from: number[]; to: number[] }[]
    expect(line).toMatchObject({ kind: 'line', from: [5, 0, 7], to: [45, 0, 7] })
    const again = decodeBody(encodeBody(outline(r.bodies, 'o')))
    expect(isOutline(again) && outlineFigures(again).areas[0]).toBeCloseTo(800 - 16 * Math.PI, 9)
  })
  it('names what contradicts, what is said twice, and where it is open or crosses itself', async () => {
    const twice = await run(plate({ dimensions: [...plate().dimensions, { kind: 'length', curves: [2], value: 40 }] }))
    expect(twice.warnings!.join()).toMatch(/length of line 3 \(40 mm\) says again what holds already/)
    await expect(
      run(plate({ dimensions: [...plate().dimensions, { kind: 'length', curves: [2], value: 41 }] })),
    ).rejects.toThrow(/cannot hold length of line 3 \(41 mm\) beside dimension "width" \(40 mm\)/)
    await expect(run(plate({ dimensions: [{ kind: 'length', curves: [0], value: -3 }] }))).rejects.toThrow(/no size/)
    await expect(run(plate({ curves: [{ kind: 'line', from: 0, to: 9 }] }))).rejects.toThrow(
      /names 9 that is not there/,
    )
    await expect(run({ points: [], curves: [] })).rejects.toThrow(/Nothing is drawn yet/)
    const cross = await run({
      points: [
        [0, 0],
        [10, 10],
        [10, 0],
        [0, 10],
      ],
      curves: [
        { kind: 'line', from: 0, to: 1 },
        { kind: 'line', from: 2, to: 3 },
      ],
    })
    expect(cross.warnings!.join(' ')).toMatch(/1 crossing: at 5, 5, 0\. 4 open ends/)
    expect(cross.facts).toMatchObject({ free: 8, areas: [] })
  })
  it('lies on a datum plane, or on an outline whose reference comes along', async () => {
    const p = await runStep('build/plane', { name: 'p', at: [0, 0, 9], normal: [0, 0, 1] }, {})
    const on = await run(plate(), { on: 'p' }, { p: p.bodies.p! })
    expect(outline(on.bodies, 'o').plane.at).toEqual([0, 0, 9])
    const s = await cut({ a: box(20, 20, 20) }, { at: [0, 0, 5] })
    const behind = await run(plate(), { on: 'cut' }, { cut: s.bodies.cut! })
    expect(outline(behind.bodies, 'o').reference).toHaveLength(1)
    // Curves of other outlines lie behind it, laid on its plane.
    const along = await run(plate(), { behind: ['cut'] }, { cut: s.bodies.cut! })
    const [row] = outline(along.bodies, 'o').reference
    expect(row.closed).toBe(true)
    expect(Math.max(...row.places)).toBeCloseTo(20, 6)
    const point = await runStep('build/point', { name: 'q', at: [0, 0, 0] }, {})
    await expect(run(plate(), { on: 'q' }, { q: point.bodies.q! })).rejects.toThrow(/tells no plane/)
  })
  it('leaves construction lines out of what it encloses, and out of files', async () => {
    const d = plate()
    const r = await run({ ...d, curves: d.curves.map((c, i) => (i === 4 ? { ...c, construction: true } : c)) })
    expect((r.facts.areas as number[])[0]).toBeCloseTo(800, 9)
    const out = await runStep('send-out/file', { bodies: ['o'], file: 'o.dxf' }, { o: r.bodies.o! })
    expect(new TextDecoder().decode(out.files![0].bytes)).not.toContain('CIRCLE')
  })
})

describe('silhouette and rim', () => {
  const seen = (bodies: Record<string, TriMesh | Body>, set: Record<string, unknown> = {}) =>
    runStep('convert/silhouette', { bodies: Object.keys(bodies), name: 's', ...set }, bodies)
  it('outer lines by closed form: a ring from above, a cube over its corner, an open cap, two bodies as one', async () => {
    const ring = await seen({ ring: torus(30, 8, 360, 180) })
    expect(ring.facts.loops).toBe(2)
    expect(Number(ring.facts.area) / (Math.PI * (38 ** 2 - 22 ** 2))).toBeCloseTo(1, 3)
    const cube = await seen({ cube: box(10, 10, 10) }, { normal: [1, 1, 1] })
    expect(cube.facts.area).toBeCloseTo(100 * Math.sqrt(3), 4)
    const cap = await seen({ cap: without(sphere(10, 5), (x) => x > 5) })
    expect(Number(cap.facts.area)).toBeGreaterThan(240)
    const two = await seen({ a: box(10, 10, 10), b: shifted(box(10, 10, 10), 5, 0, 20) })
    expect(two.facts).toMatchObject({ loops: 1 })
    expect(two.facts.area).toBeCloseTo(150, 4)
  })
  it("a cube's edges over its corner: nine seen, three hidden", async () => {
    const cube = await seen({ cube: box(10, 10, 10) }, { normal: [1, 1, 1], lines: 'edges' })
    const edge = 10 * Math.sqrt(2 / 3)
    expect(cube.facts.length).toBeCloseTo(9 * edge, 3)
    expect(outlineFigures(outline(cube.bodies, 'hidden edges')).length).toBeCloseTo(3 * edge, 3)
  })
  it('the rim of a face lies in its plane; a whole skin has none', async () => {
    const top = { region: [{ pick: 'grow', mode: 'add', at: [5, 5, 10], angle: 20 }] }
    const r = await runStep('convert/rim', { body: 'a', name: 'r', ...top }, { a: box(10, 10, 10, 4) })
    expect(r.facts).toMatchObject({ loops: 1, openRuns: 0 })
    expect(r.facts.area).toBeCloseTo(100, 4)
    expect(outline(r.bodies, 'r').plane.at[2]).toBeCloseTo(10, 6)
    await expect(
      runStep('convert/rim', { body: 'a', region: [{ pick: 'all' }] }, { a: box(10, 10, 10) }),
    ).rejects.toThrow(/whole skin/)
  })
  it('planes square to a curve and tangent to a round wall', async () => {
    const drawing = {
      points: [
        [0, 0],
        [10, 10],
        [0, 10],
      ],
      curves: [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }],
    }
    const o = await runStep('build/outline', { name: 'o', drawing }, {})
    const p = await runStep('build/plane', { name: 'p', by: 'square', curve: 'o', at: [7, 3, 0] }, { o: o.bodies.o! })
    const half = Math.SQRT1_2
    expect(datum(p.bodies, 'p').direction[0]).toBeCloseTo(half, 5)
    expect(datum(p.bodies, 'p').at[0]).toBeCloseTo(10 * half, 9)
    const wall = { as: 'axis', at: [3.99, 0, 10] }
    const t = await runStep('build/plane', { name: 't', by: 'tangent', body: 'c', wall }, { c: cylinder(4, 20, 96, 4) })
    expect(datum(t.bodies, 't').direction[0]).toBeCloseTo(1, 4)
    expect(datum(t.bodies, 't').at[0]).toBeCloseTo(4, 2)
  })
})
