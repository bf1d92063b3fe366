/** Plain shapes with known volume, area and faults, for tests. Lengths in mm. */
import { random } from '@/core/math/random'
import { translation } from '@/core/math/affine'
import {
  concatMeshes,
  flipTriangles,
  keepTriangles,
  meshFrom,
  transformMesh,
  triangleCount,
  vertex,
  type TriMesh,
} from '@/core/mesh/tri-mesh'

/** A geodesic sphere: an octahedron split n times, corners on the sphere. */
export function sphere(radius: number, n: number): TriMesh {
  const p = [
    [1, 0, 0],
    [-1, 0, 0],
    [0, 1, 0],
    [0, -1, 0],
    [0, 0, 1],
    [0, 0, -1],
  ]
  let t = [
    [0, 2, 4],
    [2, 1, 4],
    [1, 3, 4],
    [3, 0, 4],
    [2, 0, 5],
    [1, 2, 5],
    [3, 1, 5],
    [0, 3, 5],
  ]
  for (let k = 0; k < n; k++) {
    const mid = new Map<string, number>()
    const m = (a: number, b: number) => {
      const key = a < b ? `${a} ${b}` : `${b} ${a}`
      let v = mid.get(key)
      if (v === undefined) {
        const s = [0, 1, 2].map((i) => p[a][i] + p[b][i]),
          l = Math.hypot(...s)
        v = p.push(s.map((x) => x / l)) - 1
        mid.set(key, v)
      }
      return v
    }
    t = t.flatMap(([a, b, c]) => {
      const x = m(a, b),
        y = m(b, c),
        z = m(c, a)
      return [
        [a, x, z],
        [x, b, y],
        [z, y, c],
        [x, y, z],
      ]
    })
  }
  return meshFrom(
    p.flat().map((v) => v * radius),
    t.flat(),
  )
}

/** A closed box from 0,0,0 with each face cut into n x n squares of two triangles; corners shared. */
export function box(x: number, y: number, z: number, n = 1): TriMesh {
  const at = new Map<string, number>()
  const positions: number[] = []
  const v = (i: number, j: number, k: number) => {
    const key = `${i} ${j} ${k}`
    let id = at.get(key)
    if (id === undefined) {
      id = positions.push((i / n) * x, (j / n) * y, (k / n) * z) / 3 - 1
      at.set(key, id)
    }
    return id
  }
  const t: number[] = []
  const quad = (a: number, b: number, c: number, d: number) => t.push(a, b, c, a, c, d)
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      quad(v(i, j, 0), v(i, j + 1, 0), v(i + 1, j + 1, 0), v(i + 1, j, 0))
      quad(v(i, j, n), v(i + 1, j, n), v(i + 1, j + 1, n), v(i, j + 1, n))
      quad(v(i, 0, j), v(i + 1, 0, j), v(i + 1, 0, j + 1), v(i, 0, j + 1))
      quad(v(i, n, j), v(i, n, j + 1), v(i + 1, n, j + 1), v(i + 1, n, j))
      quad(v(0, i, j), v(0, i, j + 1), v(0, i + 1, j + 1), v(0, i + 1, j))
      quad(v(n, i, j), v(n, i + 1, j), v(n, i + 1, j + 1), v(n, i, j + 1))
    }
  return meshFrom(positions, t)
}

/** A ring about z: radius of the middle line and of the tube. */
export function torus(large: number, small: number, n: number, m: number): TriMesh {
  const p: number[] = [],
    t: number[] = []
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const a = (2 * Math.PI * i) / n,
        b = (2 * Math.PI * j) / m
      p.push(
        (large + small * Math.cos(b)) * Math.cos(a),
        (large + small * Math.cos(b)) * Math.sin(a),
        small * Math.sin(b),
      )
      const q = (k: number, l: number) => (k % n) * m + (l % m)
      t.push(q(i, j), q(i + 1, j), q(i + 1, j + 1), q(i, j), q(i + 1, j + 1), q(i, j + 1))
    }
  return meshFrom(p, t)
}

/** A closed cylinder about z from z = 0: n sides, the wall cut into `rows`, caps as fans with rings. */
export function cylinder(radius: number, height: number, n: number, rows = 1): TriMesh {
  const p: number[] = [],
    t: number[] = []
  for (let k = 0; k <= rows; k++)
    for (let i = 0; i < n; i++) {
      const a = (2 * Math.PI * i) / n
      p.push(radius * Math.cos(a), radius * Math.sin(a), (height * k) / rows)
    }
  for (let k = 0; k < rows; k++)
    for (let i = 0; i < n; i++) {
      const a = k * n + i,
        b = k * n + ((i + 1) % n)
      t.push(a, b, b + n, a, b + n, a + n)
    }
  const low = p.length / 3
  p.push(0, 0, 0, 0, 0, height)
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    t.push(low, j, i, low + 1, rows * n + i, rows * n + j)
  }
  return meshFrom(p, t)
}

/** A level sheet n x n of the given edge, facing up, with height by formula. */
export function sheet(edge: number, n: number, height: (x: number, y: number) => number = () => 0): TriMesh {
  const p: number[] = [],
    t: number[] = []
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= n; j++) {
      const x = (edge * i) / n,
        y = (edge * j) / n
      p.push(x, y, height(x, y))
    }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const a = i * (n + 1) + j,
        b = a + n + 1
      t.push(a, b, b + 1, a, b + 1, a + 1)
    }
  return meshFrom(p, t)
}

export function moebius(n = 24): TriMesh {
  const p: number[] = [],
    t: number[] = []
  for (let i = 0; i < n; i++)
    for (const w of [-1, 1]) {
      const a = (2 * Math.PI * i) / n
      p.push((5 + w * Math.cos(a / 2)) * Math.cos(a), (5 + w * Math.cos(a / 2)) * Math.sin(a), w * Math.sin(a / 2))
    }
  for (let i = 0; i < n; i++) {
    const a = 2 * i,
      b = 2 * i + 1
    const [c, d] = i + 1 < n ? [2 * i + 2, 2 * i + 3] : [1, 0]
    t.push(a, c, d, a, d, b)
  }
  return meshFrom(p, t)
}

/** The mesh without the triangles whose middle the test names. */
export function without(mesh: TriMesh, gone: (x: number, y: number, z: number) => boolean): TriMesh {
  const keep = new Uint8Array(triangleCount(mesh))
  for (let t = 0; t < keep.length; t++) {
    const c = [0, 1, 2].map((k) => vertex(mesh, mesh.triangles[3 * t + k]))
    const m = [0, 1, 2].map((k) => (c[0][k] + c[1][k] + c[2][k]) / 3)
    keep[t] = gone(m[0], m[1], m[2]) ? 0 : 1
  }
  return keepTriangles(mesh, keep).mesh
}

/** Every vertex pushed by up to `by` mm each way, by seed. */
export function shaken(mesh: TriMesh, by: number, seed = 1): TriMesh {
  const rng = random(seed)
  return { positions: mesh.positions.map((v) => v + by * (2 * rng.next() - 1)), triangles: mesh.triangles }
}

export const inward = (m: TriMesh): TriMesh => ({ positions: m.positions, triangles: flipTriangles(m.triangles) })
export const shifted = (m: TriMesh, x: number, y: number, z: number): TriMesh =>
  transformMesh(m, translation([x, y, z]))

const tet = [0, 2, 1, 0, 1, 3, 1, 2, 3, 2, 0, 3]

/** Meshes that break careless code, by name. Each tool must give a right result or a sentence on every one. */
export function awkward(): Record<string, TriMesh> {
  const s = sphere(10, 3)
  const speck = meshFrom([0, 0, 0, 0.1, 0, 0, 0, 0.1, 0], [0, 1, 2])
  const rng = random(2)
  const nan = { positions: s.positions.slice(), triangles: s.triangles }
  nan.positions[10] = NaN
  nan.positions[40] = Infinity
  // A disc of 5000 rim edges with its middle gone.
  const p: number[] = [],
    t: number[] = []
  for (let i = 0; i < 5000; i++)
    for (const r of [10, 12])
      p.push(
        r * Math.cos((2 * Math.PI * i) / 5000),
        r * Math.sin((2 * Math.PI * i) / 5000),
        r === 10 ? 0 : 0.5 * Math.sin((14 * Math.PI * i) / 5000),
      )
  for (let i = 0; i < 5000; i++) {
    const a = 2 * i,
      b = 2 * ((i + 1) % 5000)
    t.push(a, a + 1, b + 1, a, b + 1, b)
  }
  return {
    empty: meshFrom([], []),
    'one triangle': meshFrom([0, 0, 0, 10, 0, 0, 0, 10, 0], [0, 1, 2]),
    'two tetrahedra at a vertex': meshFrom(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, -1, 0, 0, 0, -1, 0, 0, 0, -1],
      [...tet, 0, 4, 5, 0, 6, 4, 4, 6, 5, 5, 6, 0],
    ),
    moebius: moebius(),
    'inside out': inward(s),
    nested: concatMeshes([s, inward(sphere(6, 3)), sphere(3, 2)]),
    doubled: concatMeshes([s, s]),
    'hole with 5000 edges': meshFrom(p, t),
    'hole with an island': concatMeshes([
      without(sheet(20, 20), (x, y) => Math.hypot(x - 10, y - 10) < 7),
      shifted(sheet(4, 4), 8, 8, 0),
    ]),
    'not numbers': nan,
    'microns in metres': { positions: s.positions.map((v) => v * 1e-4 + 1000), triangles: s.triangles },
    specks: concatMeshes([
      s,
      ...Array.from({ length: 2000 }, () => shifted(speck, 40 * rng.next(), 40 * rng.next(), 40 * rng.next())),
    ]),
  }
}
