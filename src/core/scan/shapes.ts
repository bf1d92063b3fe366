/** Shapes to practise on: parts of the Alder Reach Rowing Club workshop, made by formula and closed booleans. */
import { csg } from '@/core/join/csg'
import { cutterMesh } from '@/core/holes/edit-hole'
import type { Vec3 } from '@/core/math/vec'
import type { TriMesh } from '@/core/mesh/tri-mesh'

export const practiceShapes = ['grip', 'bracket', 'heel-button', 'tiller-head', 'drain-bung'] as const
export type PracticeShape = (typeof practiceShapes)[number]
export const practiceShapeLabels: Record<PracticeShape, string> = {
  grip: 'Carved oar grip',
  bracket: 'Gate bracket',
  'heel-button': 'Heel button',
  'tiller-head': 'Tiller head',
  'drain-bung': 'Drain bung',
}

/** A closed skin swept along x: `radius(s, a)` at share s of the length and angle a; ends drawn together to a point on the axis. */
function swept(
  length: number,
  rings: number,
  sides: number,
  radius: (s: number, a: number) => [number, number],
): TriMesh {
  const positions: number[] = []
  const triangles: number[] = []
  for (let i = 0; i < rings; i++) {
    const s = i / (rings - 1)
    for (let j = 0; j < sides; j++) {
      const a = (2 * Math.PI * j) / sides
      const [r, x] = radius(s, a)
      positions.push(x * length - length / 2, r * Math.cos(a), r * Math.sin(a))
    }
  }
  for (let i = 0; i + 1 < rings; i++)
    for (let j = 0; j < sides; j++) {
      const a = i * sides + j,
        b = i * sides + ((j + 1) % sides)
      triangles.push(a, b, b + sides, a, b + sides, a + sides)
    }
  const left = positions.length / 3
  positions.push(-length / 2, 0, 0, length / 2, 0, 0)
  for (let j = 0; j < sides; j++) {
    const k = (j + 1) % sides
    triangles.push(left, k, j, left + 1, (rings - 1) * sides + j, (rings - 1) * sides + k)
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
}

/** Carved oar grip, 168 mm long: waisted, flared to the ends, with shallow knife facets running round it. */
export function gripShape(rings = 260, sides = 160): TriMesh {
  return swept(168, rings, sides, (s, a) => {
    // Rings crowd near the ends, where the profile turns in.
    const x = 0.5 - 0.5 * Math.cos(Math.PI * s)
    const end = Math.min(x, 1 - x) * 168
    const round = end < 4 ? Math.sqrt(Math.max(0, 1 - ((4 - end) / 4) ** 2)) : 1
    const waist = 17.2 - 2.6 * Math.sin(Math.PI * x) + 1.1 * Math.cos(2 * Math.PI * x)
    const oval = 1 + 0.035 * Math.cos(2 * a) + 0.012 * Math.cos(3 * a + 1)
    const cuts = 0.16 * Math.cos(14 * a + 60 * x) * Math.sin(26 * Math.PI * x) + 0.1 * Math.cos(9 * a - 34 * x)
    return [Math.max(0.4, (waist * oval + cuts) * (0.55 + 0.45 * round)), x]
  })
}

/** Carved tiller head: a knob that leans into a neck. */
export function tillerShape(rings = 200, sides = 128): TriMesh {
  return swept(92, rings, sides, (s, a) => {
    const x = 0.5 - 0.5 * Math.cos(Math.PI * s)
    const knob = 20 * Math.exp(-(((x - 0.28) / 0.2) ** 2)) + 9.5
    const end = Math.min(x, 1 - x)
    const round = end < 0.06 ? Math.sqrt(Math.max(0, 1 - ((0.06 - end) / 0.06) ** 2)) : 1
    return [
      Math.max(
        0.3,
        (knob * (1 + 0.05 * Math.cos(2 * a + 4 * x)) + 0.5 * Math.cos(11 * a) * Math.sin(9 * x)) *
          (0.35 + 0.65 * round),
      ),
      x,
    ]
  })
}

/** A plate with rounded corners, standing on z = 0. */
export function plateMesh(width: number, depth: number, height: number, radius: number, steps: number): TriMesh {
  const ring: [number, number][] = []
  for (const [cx, cy, from] of [
    [1, 1, 0],
    [-1, 1, 1],
    [-1, -1, 2],
    [1, -1, 3],
  ]) {
    for (let i = 0; i <= steps; i++) {
      const a = (Math.PI / 2) * (from + i / steps)
      ring.push([cx * (width / 2 - radius) + radius * Math.cos(a), cy * (depth / 2 - radius) + radius * Math.sin(a)])
    }
  }
  const n = ring.length
  const positions = [0, height].flatMap((z) => ring.flatMap(([x, y]) => [x, y, z]))
  positions.push(0, 0, 0, 0, 0, height)
  const triangles: number[] = []
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    triangles.push(i, j, n + j, i, n + j, n + i, 2 * n, j, i, 2 * n + 1, n + i, n + j)
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
}

export interface BracketSizes {
  readonly hole: number
  readonly sides: number
}

/** Gate bracket: plate 62 x 40 x 6 mm with four holes 46 x 26 mm apart, boss of 24 mm with a bore of 13 mm, 29 mm high. */
export async function bracketShape({ hole = 5.08, sides = 96 }: Partial<BracketSizes> = {}): Promise<TriMesh> {
  const up = [0, 0, 1] as const
  const base = plateMesh(62, 40, 6, 6, Math.max(6, sides / 8))
  const boss = cutterMesh([0, 0, 0], up, 12, 3, 29, sides * 2)
  const body = await csg(
    'union',
    [
      { name: 'plate', mesh: base },
      { name: 'boss', mesh: boss },
    ],
    { mergeFlat: true },
  )
  const tools = [
    cutterMesh([0, 0, 0], up, 6.5, -1, 30, sides * 1.5),
    ...[
      [-23, -13],
      [23, -13],
      [23, 13],
      [-23, 13],
    ].map(([x, y]) => cutterMesh([x, y, 0], up, hole / 2, -1, 7, sides)),
  ]
  return (
    await csg(
      'difference',
      [{ name: 'bracket', mesh: body.mesh }, ...tools.map((mesh, i) => ({ name: `tool ${i}`, mesh }))],
      { mergeFlat: true },
    )
  ).mesh
}

/** Rubber heel button: a low dome with a countersunk hole. */
export async function heelButtonShape(): Promise<TriMesh> {
  const rings = 40,
    sides = 120
  const positions: number[] = [],
    triangles: number[] = []
  for (let i = 0; i < rings; i++) {
    const s = i / (rings - 1)
    const r = 22 * Math.sin((Math.PI / 2) * Math.min(1, s * 1.15)),
      z = 12 * (1 - s ** 2)
    for (let j = 0; j < sides; j++) {
      const a = (2 * Math.PI * j) / sides
      positions.push(Math.max(0.2, r) * Math.cos(a), Math.max(0.2, r) * Math.sin(a), z)
    }
  }
  for (let i = 0; i + 1 < rings; i++)
    for (let j = 0; j < sides; j++) {
      const a = i * sides + j,
        b = i * sides + ((j + 1) % sides)
      triangles.push(a, a + sides, b + sides, a, b + sides, b)
    }
  const top = positions.length / 3
  positions.push(0, 0, 12, 0, 0, 0)
  for (let j = 0; j < sides; j++) {
    const k = (j + 1) % sides
    triangles.push(top, j, k, top + 1, (rings - 1) * sides + k, (rings - 1) * sides + j)
  }
  const dome = { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
  const up = [0, 0, 1] as const
  return (
    await csg(
      'difference',
      [
        { name: 'dome', mesh: dome },
        { name: 'hole', mesh: cutterMesh([0, 0, 0], up, 2.25, -1, 14, 64) },
        { name: 'sink', mesh: cutterMesh([0, 0, 0], up, 5, 8, 14, 64) },
      ],
      { mergeFlat: true },
    )
  ).mesh
}

/** Profile of the drain bung's half, radius and height, mm: chamfered stem, flange with a round edge, knob. */
export function bungProfile(steps = 12): [number, number][] {
  const round = (r: number, z: number, radius: number): [number, number][] =>
    Array.from({ length: steps + 1 }, (_, i) => {
      const a = (Math.PI / 2) * (i / steps)
      return [r + radius * Math.cos(a), z + radius * Math.sin(a)]
    })
  return [[8, 0], [9, 1], [9, 12], [14, 12], ...round(12, 14, 2), [5, 16], ...round(4, 24, 1)]
}

/** Turned drain bung: stem of 18 mm, flange of 28 mm, knob of 10 mm, 25 mm high; two lugs of 6 x 4 mm stand 4 mm out of the stem. */
export async function bungShape(sides = 96): Promise<TriMesh> {
  const profile = bungProfile()
  const positions: number[] = [],
    triangles: number[] = []
  for (const [r, z] of profile)
    for (let j = 0; j < sides; j++) {
      const a = (2 * Math.PI * j) / sides
      positions.push(r * Math.cos(a), r * Math.sin(a), z)
    }
  const n = profile.length
  const foot = positions.length / 3
  positions.push(0, 0, 0, 0, 0, 25)
  for (let j = 0; j < sides; j++) {
    const k = (j + 1) % sides
    for (let i = 0; i + 1 < n; i++) {
      const [a, b, c, d] = [i * sides + j, i * sides + k, (i + 1) * sides + k, (i + 1) * sides + j]
      triangles.push(a, b, c, a, c, d)
    }
    triangles.push(foot, k, j, foot + 1, (n - 1) * sides + j, (n - 1) * sides + k)
  }
  const turned = { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
  const lugs = boxMesh([-13, -3, 3], [13, 3, 7])
  return (
    await csg(
      'union',
      [
        { name: 'bung', mesh: turned },
        { name: 'lugs', mesh: lugs },
      ],
      { mergeFlat: true },
    )
  ).mesh
}

/** A closed box between two corners. */
function boxMesh(lo: Vec3, hi: Vec3): TriMesh {
  const at = (i: number) => [i & 1 ? hi[0] : lo[0], i & 2 ? hi[1] : lo[1], i & 4 ? hi[2] : lo[2]]
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ]
  return {
    positions: Float32Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap(at)),
    triangles: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
  }
}

/** A made-up part of the workshop as a closed mesh, mm. */
export async function practiceShape(shape: PracticeShape): Promise<TriMesh> {
  switch (shape) {
    case 'grip':
      return gripShape()
    case 'bracket':
      return bracketShape()
    case 'heel-button':
      return heelButtonShape()
    case 'tiller-head':
      return tillerShape()
    case 'drain-bung':
      return bungShape()
  }
}
