/** Volume, area and centre of solids with spline walls and spline borders, against closed forms and the outline's own measures. */
import { describe, expect, it } from '@jest/globals'
import type { Body, ExactBody, OutlineBody } from '@/core/bodies/body'
import { rotation, translation, compose } from '@/core/math/affine'
import { meshVolume } from '@/core/mesh/measures'
import type { Vec3 } from '@/core/math/vec'
import { drawingPlane, type Curve, type Place } from '@/core/outline/drawing'
import { areaUnder, lengthOfCurve } from '@/core/outline/measure'
import { runStep } from '@/testing/run-step'
import { transformSolid } from './transform'
import { facetSolid } from './triangles'

const { PI } = Math
const outline = (points: Place[], curves: Curve[], at: Vec3 = [0, 0, 0], normal: Vec3 = [0, 0, 1]): OutlineBody => ({
  kind: 'outline',
  plane: drawingPlane(at, normal),
  drawing: { points, curves },
  reference: [],
})
/** A closed spline through places round the origin. */
const round = (count: number, radius: (a: number) => number): OutlineBody => {
  const points = Array.from({ length: count }, (_, i): Place => {
    const a = (2 * PI * i) / count
    return [radius(a) * Math.cos(a), radius(a) * Math.sin(a)]
  })
  return outline(points, [{ kind: 'spline', through: points.map((_, i) => i), closed: true }])
}
const rippled = round(48, (a) => 50 + 2 * Math.cos(9 * a))
const made = async (kind: string, settings: Record<string, unknown>, bodies: Record<string, Body>, name: string) =>
  (await runStep(kind, settings, bodies)).bodies[name] as ExactBody
const prism = (o: OutlineBody, distance: number) =>
  made('build/extrude', { outline: 'o', distance }, { o }, 'extrusion')
/** Share by which a figure differs from what it must be. */
const off = (is: number, must: number) => Math.abs(is / must - 1)

describe('prisms', () => {
  it('with a spline wall of many places have area times height, and the wall length times height', async () => {
    const { drawing } = rippled
    const area = Math.abs(areaUnder(drawing, drawing.curves[0]))
    const length = lengthOfCurve(drawing, drawing.curves[0])
    const p = await prism(rippled, 25)
    expect(off(p.facts.volume, 25 * area)).toBeLessThan(1e-8)
    expect(off(p.facts.area, 2 * area + 25 * length)).toBeLessThan(1e-6)
    expect(p.facts.centre![2]).toBeCloseTo(12.5, 7)
    expect(Math.hypot(p.facts.centre![0], p.facts.centre![1])).toBeLessThan(1e-5)
  })
  it('on an ellipse have pi times both half axes times height', async () => {
    const ellipse = outline([[3, 1]], [{ kind: 'ellipse', centre: 0, long: 20, short: 3, turn: 30 }])
    const p = await prism(ellipse, 7)
    expect(off(p.facts.volume, PI * 60 * 7)).toBeLessThan(1e-9)
    ;[3, 1, 3.5].forEach((v, k) => expect(p.facts.centre![k]).toBeCloseTo(v, 7))
  })
  it('on a parabola’s segment have two thirds of its width times its height (Archimedes)', async () => {
    // y = 8 - x^2 / 2 between -4 and 4, as a cubic with control points.
    const parabola = outline(
      [
        [4, 0],
        [4 / 3, 32 / 3],
        [-4 / 3, 32 / 3],
        [-4, 0],
      ],
      [
        { kind: 'spline', control: [0, 1, 2, 3], knots: [0, 0, 0, 0, 1, 1, 1, 1] },
        { kind: 'line', from: 3, to: 0 },
      ],
    )
    const p = await prism(parabola, 5)
    expect(off(p.facts.volume, (2 / 3) * 8 * 8 * 5)).toBeLessThan(1e-9)
    // Its centre of area lies two fifths of the height over the base.
    expect(p.facts.centre![1]).toBeCloseTo(8 * 0.4, 7)
  })
})

describe('turned, cut and filleted', () => {
  it('half a parabola turned about its axis is half the cylinder round it', async () => {
    // y = x^2 / 2 from 0 to 4: a bowl of height 8 and radius 4.
    const bowl = outline(
      [
        [0, 0],
        [4 / 3, 0],
        [8 / 3, 8 / 3],
        [4, 8],
        [0, 8],
      ],
      [
        { kind: 'spline', control: [0, 1, 2, 3], knots: [0, 0, 0, 0, 1, 1, 1, 1] },
        { kind: 'line', from: 3, to: 4 },
        { kind: 'line', from: 4, to: 0 },
      ],
    )
    const turned = await made('build/revolve', { outline: 'o', axis: [0, 1, 0] }, { o: bowl }, 'turning')
    expect(off(turned.facts.volume, (PI * 16 * 8) / 2)).toBeLessThan(1e-8)
  })
  it('two bores of one radius that cross have Steinmetz’s volume in common; of two radii, what facets close in on', async () => {
    const rod = (name: string, radius: number, axis: Vec3) =>
      made('build/cylinder', { name, radius, height: 40, at: axis.map((v) => -20 * v), axis }, {}, name)
    const [c, d, e] = [await rod('c', 5, [1, 0, 0]), await rod('d', 5, [0, 1, 0]), await rod('d', 3, [0, 1, 0])]
    const even = await made('build/intersection', { bodies: ['c', 'd'] }, { c, d }, 'c')
    expect(off(even.facts.volume, (16 * 125) / 3)).toBeLessThan(1e-8)
    const uneven = await made('build/intersection', { bodies: ['c', 'd'] }, { c, d: e }, 'c')
    // 8 times the integral of sqrt((25 - x^2) (9 - x^2)) over 0..3, by Simpson's rule in x = 3 sin t.
    const n = 2000
    const f = (t: number) => 3 * Math.cos(t) * Math.sqrt(25 - (3 * Math.sin(t)) ** 2) * 3 * Math.cos(t)
    let sum = 0
    for (let i = 0; i <= n; i++) sum += (i === 0 || i === n ? 1 : i % 2 ? 4 : 2) * f((PI / 2) * (i / n))
    expect(off(uneven.facts.volume, (8 * sum * (PI / 2 / n)) / 3)).toBeLessThan(1e-6)
  })
  it('a fillet of a rippled rim takes what its facets say', async () => {
    const p = await prism(rippled, 25)
    const rim = p.parts.edges.find((e) => e.name.includes('top'))!
    const b = await made(
      'build/fillet',
      { body: 'b', edges: [{ at: rim.at, name: rim.name }], radius: 2 },
      { b: p },
      'b',
    )
    // Convex by far more than it is hollow: about the rim's length times (1 - pi / 4) r².
    const cut = p.facts.volume - b.facts.volume
    const length = lengthOfCurve(rippled.drawing, rippled.drawing.curves[0])
    expect(off(cut, (1 - PI / 4) * 4 * length)).toBeLessThan(0.03)
    const chords = await Promise.all([0.02, 0.005].map(async (chord) => meshVolume((await facetSolid(b, chord)).mesh)))
    // Facets close in on it with their chord.
    expect(off(chords[1], b.facts.volume)).toBeLessThan(3e-4)
    expect(off(chords[1], b.facts.volume)).toBeLessThan(off(chords[0], b.facts.volume))
  })
})

describe('moved', () => {
  it('a body far from the origin, turned, has the same figures', async () => {
    const p = await prism(rippled, 25)
    const far = await transformSolid(p, compose(translation([4000, -2500, 900]), rotation([1, 2, 3], 40)))
    expect(off(far.facts.volume, p.facts.volume)).toBeLessThan(1e-8)
    expect(off(far.facts.area, p.facts.area)).toBeLessThan(1e-8)
    expect(Math.hypot(...[0, 1, 2].map((k) => far.facts.centre![k] - [4000, -2500, 900][k]))).toBeCloseTo(12.5, 5)
  })
})
