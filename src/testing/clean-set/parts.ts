/** Forty parts whose faces are known, as makers draw them: plates, flanges, turned parts, housings, castings, mouldings. Lengths in mm. */
import type { ExactBody } from '@/core/bodies/body'
import { Making, type Flat, type Place } from './making'

const about = (n: number, r: number, z: number, from = 0): Place[] =>
  Array.from({ length: n }, (_, i) => {
    const a = from + (2 * Math.PI * i) / n
    return [r * Math.cos(a), r * Math.sin(a), z]
  })
const four = (x: number, y: number, z: number): Place[] => [
  [x, y, z],
  [-x, y, z],
  [x, -y, z],
  [-x, -y, z],
]
const rectangle = (w: number, h: number, r = 0): [number, number, number][] => [
  [-w / 2, -h / 2, r],
  [w / 2, -h / 2, r],
  [w / 2, h / 2, r],
  [-w / 2, h / 2, r],
]
const onCircle = (n: number, r: (i: number) => number, turn: (i: number) => number): Flat[] =>
  Array.from({ length: n }, (_, i) => [r(i) * Math.cos(turn(i)), r(i) * Math.sin(turn(i))])

type Maker = (m: Making) => Promise<string>
const upright = { normal: [0, -1, 0], x: [1, 0, 0] }

const makers: Record<string, Maker> = {
  // Plates.
  'plate with four bores': async (m) => m.hole(await m.block([80, 50, 8], [0, 0, 0]), four(30, 15, 8), 6.6),
  'plate with slots': async (m) => {
    const plate = await m.plate({ corners: rectangle(90, 40, 8) }, 6)
    const slot = (x: number) =>
      m.plate({ corners: rectangle(8, 24, 4).map(([u, v, r]) => [u + x, v, r]) }, 20, { start: -5 })
    return m.cut(plate, await slot(-28), await slot(28))
  },
  'plate with counterbores': async (m) =>
    m.hole(await m.block([70, 44, 14], [0, 0, 0]), four(26, 13, 14), 5.5, {
      head: 'counterbore',
      headDiameter: 10,
      headDepth: 5.4,
    }),
  'plate with countersinks': async (m) =>
    m.hole(await m.block([64, 30, 6], [0, 0, 0]), four(24, 8, 6), 4.5, { head: 'countersink', headDiameter: 9 }),
  'stepped block': async (m) => {
    const b = await m.block([60, 40, 20], [0, 0, 0])
    const pocket = await m.block([30, 24, 20], [-8, 0, 12])
    return m.cut(b, pocket, await m.block([20, 60, 20], [30, 0, 14]))
  },
  'vee block': async (m) =>
    m.plate(
      {
        corners: [
          [-25, 0],
          [25, 0],
          [25, 30],
          [14, 30],
          [1, 17],
          [1, 12],
          [-1, 12],
          [-1, 17],
          [-14, 30],
          [-25, 30],
        ],
      },
      50,
      { symmetric: true },
      upright,
    ),
  'dovetail slide': async (m) => {
    const slide = await m.plate(
      {
        corners: [
          [-30, 0],
          [30, 0],
          [30, 18],
          [16, 18],
          [22, 9],
          [-22, 9],
          [-16, 18],
          [-30, 18],
        ],
      },
      70,
      { symmetric: true },
      upright,
    )
    return m.hole(
      slide,
      [
        [0, 20, 9],
        [0, -20, 9],
      ],
      5,
    )
  },
  'rounded block': async (m) => m.round(await m.block([44, 30, 18], [0, 0, 0]), 3),
  // Flanges.
  'round flange': async (m) => {
    const f = await m.bar(40, 9, [0, 0, 0])
    await m.hole(f, about(6, 30, 9), 6.6)
    return m.hole(f, [[0, 0, 9]], 24)
  },
  'hubbed flange': async (m) => {
    const f = await m.join(await m.bar(38, 8, [0, 0, 0]), await m.bar(18, 26, [0, 0, 0]))
    await m.round(f, 4, [18, 0, 8])
    await m.hole(f, [[0, 0, 26]], 20)
    return m.hole(f, about(4, 29, 8, 0.3), 7)
  },
  'oval flange': async (m) => {
    const f = await m.plate(
      {
        corners: rectangle(90, 36, 18),
        circles: [
          [0, 0, 12],
          [-32, 0, 4.5],
          [32, 0, 4.5],
        ],
      },
      10,
    )
    return m.on(f, 'chamfer', { edges: [{ at: [0, 12, 10] }], distance: 1.5 })
  },
  'flange with a raised face': async (m) => {
    const f = await m.turning([
      [16, 0],
      [48, 0],
      [48, 12],
      [30, 12],
      [30, 14],
      [16, 14],
    ])
    return m.hole(f, about(8, 39, 12, 0.2), 6)
  },
  // Turned parts.
  'stepped shaft': (m) =>
    m.turning([
      [0, 0],
      [9, 0],
      [10, 1],
      [10, 20],
      [14, 20],
      [14, 34],
      [11, 34],
      [11, 55],
      [7, 55],
      [7, 69],
      [6, 70],
      [0, 70],
    ]),
  'shaft with rounds': (m) =>
    m.turning([
      [0, 0],
      [10, 0],
      [10, 22, 2],
      [18, 22],
      [18, 30],
      [12, 30, 2.5],
      [12, 52],
      [0, 52],
    ]),
  pulley: (m) =>
    m.turning([
      [5, 0],
      [30, 0],
      [30, 3],
      [22, 7],
      [22, 11],
      [30, 15],
      [30, 18],
      [5, 18],
    ]),
  knob: (m) =>
    m.turning([
      [4, 0],
      [9, 0],
      [9, 10, 3],
      [20, 10, 3],
      [20, 26, 4],
      [0, 26],
      [0, 14],
      [4, 14],
    ]),
  'tapered bush': (m) =>
    m.turning([
      [6, 0],
      [14, 0],
      [14, 5],
      [12.5, 5],
      [9.5, 40],
      [6, 40],
    ]),
  nozzle: (m) =>
    m.turning([
      [2, 30],
      [5, 12],
      [8, 12],
      [8, 0],
      [14, 0],
      [14, 14],
      [12, 14],
      [4, 30],
    ]),
  'ball stud': async (m) => {
    const ball = await m.make('sphere', { radius: 9, at: [0, 0, 30] })
    return m.join(
      ball,
      await m.turning([
        [0, 0],
        [11, 0],
        [11, 5],
        [5, 5],
        [5, 30],
        [0, 30],
      ]),
    )
  },
  'grooved stud': (m) => {
    const teeth = Array.from({ length: 9 }, (_, i): Flat[] => [
      [8, 12 + 4 * i],
      [6, 14 + 4 * i],
    ]).flat()
    return m.turning([[0, 0], [12, 0], [12, 10], [8, 10], ...teeth, [8, 50], [7, 51], [0, 51]])
  },
  'dome cap': async (m) =>
    m
      .turning([
        [0, 0],
        [20, 0],
        [20, 10, 0],
        [20, 12],
        [0, 12],
      ])
      .then(async (c) => m.join(c, await m.make('sphere', { radius: 18, at: [0, 0, 6] }))),
  ring: (m) => m.make('ring', { radius: 22, thickness: 6, at: [0, 0, 0] }),
  // Housings.
  'shelled box': async (m) =>
    m.on(await m.block([60, 44, 26], [0, 0, 0]), 'shell', { open: [{ at: [0, 0, 26] }], wall: 3 }),
  'box with bosses': async (m) => {
    const box = await m.on(await m.block([70, 50, 24], [0, 0, 0]), 'shell', { open: [{ at: [0, 0, 24] }], wall: 2.5 })
    for (const [x, y] of four(24, 14, 0)) await m.join(box, await m.bar(5, 18, [x, y, 1]))
    return m.hole(box, four(24, 14, 19), 3.3, { depth: 12 })
  },
  'rounded housing': async (m) => {
    const body = await m.plate({ corners: rectangle(80, 56, 12) }, 30)
    await m.on(body, 'shell', { open: [{ at: [0, 0, 30] }], wall: 3 })
    return m.hole(
      body,
      [
        [0, 0, 3],
        [20, 0, 3],
      ],
      8,
    )
  },
  'bearing block': async (m) => {
    const b = await m.plate(
      {
        corners: [
          [-40, 0],
          [40, 0],
          [40, 12],
          [24, 12],
          [24, 40, 24],
          [-24, 40, 24],
          [-24, 12],
          [-40, 12],
        ],
        circles: [[0, 22, 13]],
      },
      24,
      { symmetric: true },
      upright,
    )
    return m.hole(
      b,
      [
        [-32, 0, 12],
        [32, 0, 12],
      ],
      9,
    )
  },
  'motor mount': async (m) => {
    const m1 = await m.block([60, 60, 8], [0, 0, 0])
    await m.join(m1, await m.block([60, 8, 50], [0, 26, 0]))
    await m.round(m1, 5, [0, 22, 8])
    await m.hole(m1, [[0, -6, 8]], 22)
    await m.hole(
      m1,
      about(4, 18, 8, Math.PI / 4).map(([x, y, z]): Place => [x, y - 6, z]),
      4.5,
    )
    return m.hole(
      m1,
      [
        [-20, 22, 35],
        [20, 22, 35],
      ],
      5.5,
      { axis: [0, 1, 0] },
    )
  },
  // Brackets and castings.
  'angle bracket': async (m) => {
    const a = await m.plate(
      {
        corners: [
          [0, 0],
          [50, 0],
          [50, 6],
          [6, 6, 5],
          [6, 40],
          [0, 40],
        ],
      },
      36,
      { symmetric: true },
      upright,
    )
    await m.hole(
      a,
      [
        [34, 9, 6],
        [34, -9, 6],
      ],
      5.5,
    )
    return m.hole(a, [[6, 0, 27]], 8, { axis: [-1, 0, 0] })
  },
  'ribbed angle': async (m) => {
    const a = await m.plate(
      {
        corners: [
          [0, 0],
          [50, 0],
          [50, 5],
          [5, 5],
          [5, 45],
          [0, 45],
        ],
      },
      50,
      { symmetric: true },
      upright,
    )
    for (const y of [-16, 16]) {
      const rib = await m.plate(
        {
          corners: [
            [4, 4],
            [42, 4],
            [42, 6],
            [6, 38],
            [4, 38],
          ],
        },
        5,
        { symmetric: true },
        { ...upright, at: [0, y, 0] },
      )
      await m.join(a, rib)
    }
    return m.hole(a, [[30, 0, 5]], 10)
  },
  'ribbed casting': async (m) => {
    const a = await m.join(await m.block([90, 60, 8], [0, 0, 0]), await m.bar(16, 34, [0, 0, 0]))
    for (const turn of [0, 1, 2, 3]) {
      const [c, s] = [Math.round(Math.cos((turn * Math.PI) / 2)), Math.round(Math.sin((turn * Math.PI) / 2))]
      const long = turn % 2 ? 28 : 40
      const rib = await m.plate(
        {
          corners: [
            [10, 4],
            [long, 4],
            [long, 9],
            [15, 28],
            [10, 28],
          ],
        },
        6,
        { symmetric: true },
        { normal: [s, -c, 0], x: [c, s, 0] },
      )
      await m.join(a, rib)
    }
    await m.hole(a, [[0, 0, 34]], 18)
    return m.hole(a, four(37, 22, 8), 7)
  },
  'heat sink': async (m) => {
    const base = await m.block([50, 40, 5], [0, 0, 0])
    for (let i = 0; i < 8; i++) await m.join(base, await m.block([2, 40, 20], [-21 + 6 * i, 0, 4]))
    return base
  },
  clevis: async (m) => {
    const c = await m.plate(
      {
        corners: [
          [0, -14],
          [30, -14],
          [44, -14, 14],
          [44, 14, 14],
          [30, 14],
          [0, 14],
        ],
      },
      30,
      { symmetric: true },
      upright,
    )
    await m.cut(c, await m.block([40, 12, 60], [34, 0, -30]))
    await m.hole(c, [[30, 15, 0]], 10, { axis: [0, -1, 0] })
    return m.hole(c, [[0, 0, 0]], 8, { axis: [1, 0, 0], depth: 10 })
  },
  'split collar': async (m) => {
    const c = await m.bar(20, 12, [0, 0, 0])
    await m.hole(c, [[0, 0, 12]], 22)
    await m.cut(c, await m.block([20, 2.5, 30], [16, 0, -5]))
    return m.hole(c, [[15.5, 20, 6]], 4.5, { axis: [0, -1, 0] })
  },
  'hexagon nut': async (m) => {
    const hexagon = await m.plate(
      {
        corners: onCircle(
          6,
          () => 15,
          (i) => (i * Math.PI) / 3,
        ),
      },
      11,
    )
    await m.hole(hexagon, [[0, 0, 11]], 13.8)
    return m.on(hexagon, 'chamfer', { edges: [{ at: [6.9, 0, 11] }, { at: [6.9, 0, 0] }], distance: 1 })
  },
  gear: async (m) => {
    const teeth = 18
    const profile = onCircle(
      4 * teeth,
      (i) => (i % 4 < 2 ? 20 : 24),
      (i) => {
        const at = [0, 0.46, 0.59, 0.87][i % 4]
        return (2 * Math.PI * (Math.floor(i / 4) + at)) / teeth
      },
    )
    return m.plate({ corners: profile, circles: [[0, 0, 6]] }, 12)
  },
  sprocket: async (m) => {
    const s = await m.bar(30, 7, [0, 0, 0])
    for (const at of about(12, 30, -2)) await m.cut(s, await m.bar(4.5, 12, at))
    return m.hole(s, [[0, 0, 7]], 12)
  },
  // Mouldings with draft and rounds.
  'drafted box': async (m) => {
    const b = await m.plate({ corners: rectangle(60, 40, 6) }, 24, { draft: 3 })
    return m.hole(
      b,
      [
        [-12, 0, 24],
        [12, 0, 24],
      ],
      7,
      { depth: 12 },
    )
  },
  'drafted cup': async (m) =>
    m.on(await m.plate({ circles: [[0, 0, 24]] }, 34, { draft: 4 }), 'shell', {
      open: [{ at: [0, 0, 34] }],
      wall: 2.5,
    }),
  'moulded cap': async (m) => {
    const b = await m.plate({ corners: rectangle(56, 38, 9) }, 16)
    await m.round(b, 4, [0, -19, 16], [0, 19, 16])
    return m.on(b, 'shell', { open: [{ at: [0, 0, 0] }], wall: 2 })
  },
  'pipe bend': async (m) => {
    const bend = async (r: number) => {
      const outline = await m.make('outline', {
        drawing: { points: [[40, 0]], curves: [{ kind: 'circle', centre: 0, radius: r }] },
        at: [0, 0, 0],
        normal: [0, -1, 0],
        x: [1, 0, 0],
      })
      return m.make('revolve', { outline, at: [0, 0, 0], axis: [0, 0, 1], angle: 90 })
    }
    const outer = await m.join(await bend(12), await m.bar(12, 20, [40, 0, 0], [0, -1, 0]))
    return m.cut(outer, await bend(9), await m.bar(9, 20, [40, 0, 0], [0, -1, 0]))
  },
}

export const partNames: readonly string[] = Object.keys(makers)

/** One part as an exact body. */
export async function makePart(name: string): Promise<ExactBody> {
  const m = new Making()
  return m.result(await makers[name](m))
}
