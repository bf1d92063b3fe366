/** Cages whose smooth surface is a plain shape: block, cylinder, sphere, flat sheet; each about 0, its base or middle in z = 0. */
import type { Vec3 } from '@/core/math/vec'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { throughPlaces } from './fit-cage'
import { surfaceThrough } from './loft-cage'

/** Faces of a box of divisions, its corners at whole numbers from 0: places as they lie, faces outward. */
function gridBox(n: readonly [number, number, number]): { places: Vec3[]; quads: number[] } {
  const numbers = new Map<string, number>()
  const places: Vec3[] = []
  const quads: number[] = []
  const point = (i: Vec3) => {
    const key = i.join()
    let v = numbers.get(key)
    if (v === undefined) numbers.set(key, (v = places.push(i) - 1))
    return v
  }
  for (let axis = 0; axis < 3; axis++) {
    const [u, w] = [(axis + 1) % 3, (axis + 2) % 3]
    for (const end of [0, n[axis]])
      for (let a = 0; a < n[u]; a++)
        for (let b = 0; b < n[w]; b++) {
          const ring = [
            [a, b],
            [a + 1, b],
            [a + 1, b + 1],
            [a, b + 1],
          ].map(([x, y]) => {
            const i: [number, number, number] = [0, 0, 0]
            i[axis] = end
            i[u] = x
            i[w] = y
            return point(i)
          })
          quads.push(...(end ? ring : ring.reverse()))
        }
  }
  return { places, quads }
}

const bare = (places: readonly Vec3[], quads: readonly number[]): Cage => ({
  positions: Float64Array.from(places.flat()),
  quads: Uint32Array.from(quads),
  creases: new Map(),
  corners: new Map(),
})

/** A block on z = 0, its edges sharp or, with `sharp` false, rounded as the surface likes. */
export function cageBlock(size: Vec3, n: readonly [number, number, number], sharp: boolean): Cage {
  const { places, quads } = gridBox(n)
  const at = places.map((i): Vec3 => [
    size[0] * (i[0] / n[0] - 0.5),
    size[1] * (i[1] / n[1] - 0.5),
    size[2] * (i[2] / n[2]),
  ])
  const cage = bare(at, quads)
  if (!sharp) return cage
  const creases = new Map<number, number>()
  const edge = (i: Vec3) => i.filter((x, k) => x === 0 || x === n[k]).length >= 2
  for (let h = 0; h < cage.quads.length; h++) {
    const key = edgeKey(cage.quads[h], cage.quads[nextInQuad(h)])
    const [a, b] = endsOfKey(key).map((v) => places[v])
    // Along an edge of the block: both ends lie on it, and it runs one way only.
    const way = a.map((x, k) => x !== b[k])
    if (edge(a) && edge(b) && [0, 1, 2].filter((k) => !way[k] && (a[k] === 0 || a[k] === n[k])).length === 2)
      creases.set(key, Infinity)
  }
  return { ...cage, creases }
}

/** A sphere about 0: a cube of n by n faces a side, blown up, its surface through the sphere at every point. */
export function cageSphere(radius: number, n: number): Cage {
  const { places, quads } = gridBox([n, n, n])
  const at = places.map((i): Vec3 => {
    // Equal angles along each edge of the cube keep the faces even.
    const d = i.map((x) => Math.tan((Math.PI / 4) * (2 * (x / n) - 1)))
    const l = Math.hypot(...d)
    return [(radius * d[0]) / l, (radius * d[1]) / l, (radius * d[2]) / l]
  })
  return throughPlaces(bare(at, quads), at.flat())
}

/** A cylinder on z = 0 with flat ends and sharp rims. `around` is even. */
export function cageCylinder(radius: number, height: number, around: number, up: number): Cage {
  const rows = Array.from({ length: up + 1 }, (_, i) =>
    Array.from({ length: around }, (__, j): Vec3 => {
      const a = (2 * Math.PI * j) / around
      return [radius * Math.cos(a), radius * Math.sin(a), (height * i) / up]
    }),
  )
  return surfaceThrough(rows, true, false, true)
}

/** A flat sheet about 0 in z = 0, facing up. */
export function cageSheet(width: number, depth: number, nx: number, ny: number): Cage {
  const places = Array.from({ length: (nx + 1) * (ny + 1) }, (_, v): Vec3 => [
    width * ((v % (nx + 1)) / nx - 0.5),
    depth * (Math.floor(v / (nx + 1)) / ny - 0.5),
    0,
  ])
  const quads: number[] = []
  for (let j = 0; j < ny; j++)
    for (let i = 0; i < nx; i++) {
      const a = j * (nx + 1) + i
      quads.push(a, a + 1, a + nx + 2, a + nx + 1)
    }
  return bare(places, quads)
}
