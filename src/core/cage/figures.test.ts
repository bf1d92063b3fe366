/** What edits of cages and their smooth surfaces come to, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { limitSkin } from '@/core/kinds/cage'
import type { Vec3 } from '@/core/math/vec'
import { buildTopology } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { Ground } from '@/core/net/relax-quads'
import type { Cage } from '@/core/subdivision/subdivide'
import { digest, outcome } from '@/testing/digest'
import { part } from '@/testing/parts'
import { quadBlock } from '@/testing/quad-shapes'
import { box, shifted, sphere } from '@/testing/shapes'
import { autoSkin } from './auto-skin'
import { blocksOf } from './blocks'
import { cageOfNet, netOfPairs } from './cage-of-net'
import { leavingWay, limitFrame, limitNormal } from './corners'
import { applyEdits } from './edit/apply'
import { edgeMiddle, faceCount, faceMiddle, halfOfEdge, pointAt, topologyOf } from './edit/net'
import { allOf, edgeLoop, edgeRing, grown, inverted, pickedAs, ringOf, rimOf, shrunk, smoothPatch } from './edit/select'
import type { CageEdit } from './edit/schema'
import { fitCage, throughPlaces } from './fit-cage'
import { layOn } from './lay-on'
import { loftCage } from './loft-cage'
import { cageBlock, cageCylinder, cageSheet, cageSphere } from './shapes'
import { sideBySide } from './side-by-side'
import { smoothBody } from './smooth-body'

const cages: Record<string, Cage> = {
  block: cageBlock([20, 16, 12], [3, 2, 2], false),
  'sharp block': cageBlock([20, 16, 12], [2, 2, 2], true),
  ball: cageSphere(10, 2),
  drum: cageCylinder(8, 14, 8, 2),
  sheet: cageSheet(30, 20, 4, 3),
}
type Place = [number, number, number]
const mutable = (p: ArrayLike<number>): Place => [p[0], p[1], p[2]]
const ground = new Ground(sphere(11, 3))

/** Edits of every sort, told by faces, edges and points of the cage. */
function edits(c: Cage): CageEdit[][] {
  const half = [...halfOfEdge(c).keys()]
  const edge = (k: number): Place => mutable(edgeMiddle(c, half[k % half.length]))
  const face = (k: number): Place => mutable(faceMiddle(c, k % faceCount(c)))
  const point = (k: number): Place => mutable(pointAt(c, k % (c.positions.length / 3)))
  const faces = [face(0)]
  const edges = [edge(3)]
  const points = [point(2), point(5)]
  return [
    [{ do: 'move', faces, by: [1, 2, 3], symmetric: 'x' }],
    [{ do: 'move', points, by: [0.5, 0, 2], reach: 9 }],
    [{ do: 'push', faces, distance: 2.5, symmetric: 'y' }],
    [{ do: 'push', points: [point(1)], distance: -1, reach: 6 }],
    [{ do: 'turn', faces, at: [1, 2, 0], axis: [0, 1, 1], angle: 25 }],
    [{ do: 'scale', edges, at: [0, 0, 0], by: [1.5, 1, 0.5], symmetric: 'z' }],
    [{ do: 'flatten', points: [point(0), point(1), point(4), point(7)] }],
    [{ do: 'flatten', faces, normal: [0.1, 0.2, 1] }],
    [{ do: 'straighten', points: [point(0), point(1), point(2)] }],
    [{ do: 'relax', faces, times: 3 }],
    [{ do: 'snap', faces }],
    [{ do: 're-fit', points }],
    [{ do: 'sharpen', edges, sharpness: 2.5 }, { do: 'subdivide' }],
    [{ do: 'sharpen', points, sharpness: 'always' }, { do: 'subdivide' }],
    [{ do: 'extrude', faces: [face(0), face(1)], distance: 3 }],
    [{ do: 'extrude', edges, by: [0, 0, 4] }],
    [{ do: 'loop', edges, share: 0.3 }],
    [
      { do: 'loop', edges: [edge(0)], share: 0.5 },
      { do: 'slide', edges, share: -0.4 },
    ],
    [
      { do: 'delete', faces: [face(0)] },
      { do: 'fill', edges: [edge(0)] },
    ],
    [
      { do: 'delete', faces: [face(0), face(3)] },
      { do: 'bridge', faces: [face(0), face(3)], rows: 2 },
    ],
    [{ do: 'bridge', faces: [face(0), face(faceCount(c) - 1)], rows: 2 }],
    [{ do: 'merge', points, at: 'middle' }],
    [{ do: 'merge', edges, at: 'first' }],
    [{ do: 'weld', points, within: 8 }],
    [{ do: 'split', edges: [edge(0), edge(1)] }],
    [{ do: 'dissolve', edges }],
    [{ do: 'delete', faces: [face(1)], symmetric: 'x' }],
    [{ do: 'mirror', axis: 'x', keep: '+' }],
    [{ do: 'mirror', axis: 'z', keep: '-' }],
    [{ do: 'thicken', distance: 1.5 }],
    [
      {
        do: 'face',
        at: [
          [0, 0, 30],
          [10, 0, 30],
          [10, 10, 31],
          [0, 10, 30],
        ],
      },
    ],
  ]
}

describe.each(Object.entries(cages))('a cage: %s', (_name, cage) => {
  it.each(edits(cage))('%j and what may follow', (...some) => {
    expect(digest(outcome(() => applyEdits(cage, some, ground)))).toMatchSnapshot()
  })
  it('loops, rings, patches and what is picked', () => {
    const half = [...halfOfEdge(cage).keys()]
    const some = [0, 5, 11].map((k) => half[k % half.length])
    const start = pickedAs(cage, { ...allOf(cage, 'faces'), faces: [0, 2] } as never, 'faces')
    expect(
      digest({
        topology: topologyOf(cage),
        loops: some.map((e) => [edgeLoop(cage, e), edgeRing(cage, e), ringOf(cage, e), outcome(() => rimOf(cage, e))]),
        patches: [20, 50, 100].map((angle) => smoothPatch(cage, 1, angle)),
        picked: (['points', 'edges', 'faces'] as const).map((sort) => [
          grown(cage, start, sort),
          shrunk(cage, grown(cage, start, sort), sort),
          inverted(cage, start, sort),
        ]),
      }),
    ).toMatchSnapshot()
  })
  it('its limit, smooth body and fit to a ball', () => {
    const { body, irregular, worstAngle } = smoothBody(cage)
    const { mesh: skin } = limitSkin(cage)
    const f = limitFrame(cage)
    // A closed cage has a closed limit.
    expect(buildTopology(skin).openEdges > 0).toBe(topologyOf(cage).twin.some((t) => t < 0))
    expect(
      digest({
        body,
        irregular,
        worstAngle,
        volume: meshVolume(skin),
        corners: Array.from(cage.quads, (_, h) => [leavingWay(f, h), limitNormal(f, h)]).flat(2),
        blocks: blocksOf(f),
        fitted: fitCage(cage, ground),
        through: throughPlaces(cage, cage.positions),
      }),
    ).toMatchSnapshot()
  })
})

it('cages of nets and of pairs of triangles, side by side', () => {
  const net = quadBlock([20, 16, 12], [0, 0, 0], 3)
  const m = box(6, 5, 4, 2)
  expect(
    digest([
      [null, 30, 91].map((angle) => cageOfNet(net, angle)),
      netOfPairs(m.positions, m.triangles),
      netOfPairs(m.positions, m.triangles.slice(3)),
      sideBySide([cages.block, cages.sheet]),
    ]),
  ).toMatchSnapshot()
})

it('cages through sections', () => {
  const ring = (z: number, r: number, n: number): Vec3[] =>
    Array.from({ length: n }, (_, i) => {
      const a = (2 * Math.PI * i) / n
      return [r * Math.cos(a) * (1 + 0.2 * Math.cos(3 * a)), r * Math.sin(a), z]
    })
  const sections = [ring(0, 10, 24), ring(8, 7, 31), ring(20, 9, 18)].map((places, i) => ({
    name: `s${i}`,
    places,
    closed: true,
  }))
  const open = sections.map((s) => ({ ...s, closed: false }))
  const choice = { columns: 8, rows: 3, byBend: 0.6, round: false, caps: true, square: null }
  expect(
    digest([
      loftCage(sections, choice),
      loftCage(sections, { ...choice, caps: false, round: true, byBend: 0 }),
      loftCage(open, { ...choice, square: 1.2 }),
    ]),
  ).toMatchSnapshot()
})

it('a sheet laid on a skin, and a skin fitted by itself', async () => {
  const mesh = shifted(sphere(12, 3), 0, 0, 0)
  const laid = layOn(mesh, {
    at: [0, 0, 15],
    normal: [0, 0, 1],
    x: [1, 0, 0],
    width: 12,
    depth: 9,
    columns: 4,
    rows: 3,
  })
  const skin = await autoSkin(await part('ball'), { within: 0.4, first: 24, most: 60, hardAngle: 40 })
  expect(digest([laid, skin])).toMatchSnapshot()
})
