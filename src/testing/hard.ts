/** Meshes that are hard to mend loyally, as scanners, modellers and broken exports leave them; made here, lengths in mm. */
import { random } from '@/core/math/random'
import { compose, rotation, translation } from '@/core/math/affine'
import { plateMesh } from '@/core/scan/shapes'
import {
  concatMeshes,
  keepTriangles,
  meshFrom,
  transformMesh,
  triangleCount,
  vertexCount,
  type TriMesh,
} from '@/core/mesh/tri-mesh'
import { box, cylinder, inward, sheet, shifted, sphere, torus, without } from './shapes'

/** Random single triangles taken out, with some of their neighbours: ragged rims that touch themselves. */
export function ragged(mesh: TriMesh, holes: number, seed = 1): TriMesh {
  const rng = random(seed)
  const n = triangleCount(mesh)
  const keep = new Uint8Array(n).fill(1)
  const at = new Map<number, number[]>()
  for (let i = 0; i < mesh.triangles.length; i++) {
    const v = mesh.triangles[i]
    at.set(v, [...(at.get(v) ?? []), (i / 3) | 0])
  }
  for (let h = 0; h < holes; h++) {
    let t = Math.floor(rng.next() * n)
    for (let k = 0; k < 3 + rng.next() * 8; k++) {
      keep[t] = 0
      // On to a triangle that shares a corner only, so that what is left hangs together at points.
      const next = at.get(mesh.triangles[3 * t + Math.floor(rng.next() * 3)])!
      t = next[Math.floor(rng.next() * next.length)]
    }
  }
  return keepTriangles(mesh, keep).mesh
}

/** Rolling ground, n x n squares over 100 mm. */
export const terrain = (n: number): TriMesh =>
  sheet(100, n, (x, y) => 6 * Math.sin(x / 9) * Math.cos(y / 13) + 3 * Math.sin((x + 2 * y) / 5))

/** Houses on a plain as seen from above: steep walls between level roofs, one border. */
export function town(n: number, seed = 3): TriMesh {
  const rng = random(seed)
  const houses = Array.from({ length: 12 }, () => [
    10 + 70 * rng.next(),
    10 + 70 * rng.next(),
    5 + 8 * rng.next(),
    8 + 30 * rng.next(),
  ])
  return sheet(100, n, (x, y) => {
    let h = 0.4 * Math.sin(x / 7)
    for (const [a, b, w, top] of houses) if (Math.abs(x - a) < w && Math.abs(y - b) < w) h = Math.max(h, top)
    return h
  })
}

/** A long prism with a blade: a wedge of some degrees, cut into rows. */
export function blade(degrees: number, rows = 20): TriMesh {
  const w = 20,
    h = 2 * w * Math.tan((degrees * Math.PI) / 360)
  const p: number[] = [],
    t: number[] = []
  for (let i = 0; i <= rows; i++) {
    const x = (60 * i) / rows
    p.push(x, 0, 0, x, w, h / 2, x, w, -h / 2)
  }
  for (let i = 0; i < rows; i++) {
    const a = 3 * i,
      b = a + 3
    // upper, back, lower
    t.push(a, b, b + 1, a, b + 1, a + 1, a + 1, b + 1, b + 2, a + 1, b + 2, a + 2, a + 2, b + 2, b, a + 2, b, a)
  }
  const e = 3 * rows
  t.push(0, 1, 2, e, e + 2, e + 1)
  return meshFrom(p, t)
}

/** A ball with thin spikes. */
export function spiky(n: number): TriMesh {
  const s = sphere(10, n)
  const positions = s.positions.slice()
  for (let v = 0; v < vertexCount(s); v += 37) for (let k = 0; k < 3; k++) positions[3 * v + k] *= 2.2
  return { positions, triangles: s.triangles }
}

/** A tube along a figure of eight that passes through itself. */
export function eight(n = 120, m = 16): TriMesh {
  const p: number[] = [],
    t: number[] = []
  for (let i = 0; i < n; i++) {
    const a = (2 * Math.PI * i) / n
    const at = [30 * Math.sin(a), 20 * Math.sin(2 * a), 1.5 * Math.cos(a)]
    const d = [30 * Math.cos(a), 40 * Math.cos(2 * a), 0]
    const l = Math.hypot(...d)
    const side = [-d[1] / l, d[0] / l, 0]
    for (let j = 0; j < m; j++) {
      const b = (2 * Math.PI * j) / m
      p.push(at[0] + 4 * side[0] * Math.cos(b), at[1] + 4 * side[1] * Math.cos(b), at[2] - 4 * Math.sin(b))
      const q = (k: number, l2: number) => (k % n) * m + (l2 % m)
      t.push(q(i, j), q(i + 1, j), q(i + 1, j + 1), q(i, j), q(i + 1, j + 1), q(i, j + 1))
    }
  }
  return meshFrom(p, t)
}

/** Twisted and set apart, so that nothing lies along the axes. */
const turned = (m: TriMesh, i: number, x: number, y: number, z: number): TriMesh =>
  transformMesh(m, compose(translation([x, y, z]), rotation([1, 0.3 * i, -0.4 + 0.1 * i], 40 * i)))

/** Pieces of a machine that run into each other. */
export function assembly(pieces: number): TriMesh {
  return concatMeshes(
    Array.from({ length: pieces }, (_, i) => {
      const part = [torus(8, 3, 48, 24), cylinder(5, 24, 40, 12), box(14, 9, 6, 6), sphere(7, 4)][i % 4]
      return turned(part, i, 9 * (i % 5), 8 * Math.floor(i / 5), 2 * (i % 3))
    }),
  )
}

/** A shell with a wall, open where four large bores came out: inner and outer skin are joined at the rims only in part. */
export function casting(n: number): TriMesh {
  const outer = torus(40, 15, 4 * n, n),
    inner = inward(torus(40, 12, 4 * n, n))
  const bored = (m: TriMesh) =>
    without(
      m,
      (x, y, z) =>
        z > 0 && [0, 1, 2, 3].some((q) => Math.hypot(x - 40 * Math.cos(q * 1.57), y - 40 * Math.sin(q * 1.57)) < 6),
    )
  return concatMeshes([bored(outer), bored(inner)])
}

export interface Hard {
  readonly mesh: TriMesh
  /** It is sound: mending must not change a bit. */
  readonly clean?: true
  /** Edges that must stay open: it is a sheet. */
  readonly open?: true
  /** Shells that cross are united, so that its inside goes. */
  readonly crosses?: true
}

/** The hard inputs by name. */
export function hard(): Record<string, Hard> {
  const ball = sphere(10, 4)
  const bump = (x: number, y: number) => 4 * Math.sin(x / 6) * Math.sin(y / 8)
  const plate = (up: 1 | -1) => {
    const s = sheet(60, 30, (x, y) => bump(x, y) + (up > 0 ? 1.5 : 0))
    return up > 0 ? s : inward(s)
  }
  return {
    'six sheets': {
      mesh: concatMeshes(
        [0, 1, 2, 3, 4, 5].map((i) => shifted(sheet(18, 12, bump), 20 * (i % 3), 20 * Math.floor(i / 3), i % 2)),
      ),
      open: true,
    },
    terrain: { mesh: terrain(60), open: true },
    'terrain with lakes': {
      mesh: without(terrain(60), (x, y) => Math.hypot(x - 30, y - 40) < 7 || Math.hypot(x - 70, y - 60) < 4),
      open: true,
    },
    town: { mesh: town(70), open: true },
    'ragged terrain': { mesh: ragged(terrain(50), 25), open: true },
    'two sheets that cross': {
      mesh: concatMeshes([sheet(40, 20), turned(sheet(40, 20), 1, 5, -8, -12)]),
      open: true,
    },
    'half a ball': { mesh: without(sphere(20, 4), (_x, _y, z) => z < 0), open: true },
    'assembly of 13': { mesh: assembly(13), crosses: true },
    'open assembly of 17': {
      mesh: concatMeshes(
        Array.from({ length: 17 }, (_, i) =>
          turned(
            without(sphere(6, 4), (x, y) => Math.hypot(x, y) < 1 + (i % 3)),
            i,
            7 * (i % 5),
            7 * Math.floor(i / 5),
            i % 4,
          ),
        ),
      ),
      crosses: true,
    },
    casting: { mesh: casting(40) },
    'two balls': { mesh: concatMeshes([sphere(20, 5), shifted(sphere(20, 5), 19, 3, 2)]), crosses: true },
    'cubes at an edge': { mesh: concatMeshes([box(10, 10, 10, 3), shifted(box(10, 10, 10, 3), 10, 10, 0)]) },
    'cubes at a corner': { mesh: concatMeshes([box(10, 10, 10, 3), shifted(box(10, 10, 10, 3), 10, 10, 10)]) },
    'cubes at a face': {
      mesh: concatMeshes([box(10, 10, 10, 3), shifted(box(10, 10, 10, 2), 10, 2, 2)]),
      crosses: true,
    },
    'ragged ball': { mesh: ragged(sphere(20, 5), 60) },
    'doubled ball': { mesh: concatMeshes([sphere(20, 4), shifted(sphere(20, 4), 0.05, 0.02, 0.03)]), crosses: true },
    'patch on a ball': {
      mesh: concatMeshes([
        without(sphere(20, 5), (x, y, z) => Math.hypot(x, y) < 3 && z > 0),
        { ...without(sphere(20.01, 5), (_x, _y, z) => z > -8) },
      ]),
    },
    'plate of two sides': { mesh: concatMeshes([plate(1), plate(-1)]) },
    'plate with bores': { mesh: plateMesh(60, 40, 8, 3, 96), clean: true },
    blade: { mesh: blade(3), clean: true },
    'blade with a hole': { mesh: without(blade(6, 60), (x, y, z) => x > 30 && x < 31 && y > 9 && z > 0) },
    'shells one in another': { mesh: concatMeshes([ball, inward(sphere(6, 3)), inward(sphere(3, 2))]) },
    spikes: { mesh: without(spiky(4), (x, y, z) => z < -9.5 && Math.hypot(x, y) < 2.5) },
    eight: { mesh: eight(), crosses: true },
  }
}
