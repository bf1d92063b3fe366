/**
 * A patch of degree 5 for a quad of a cage with an irregular corner: borders are given, the inner control points follow the limit surface by
 * least squares, and its slope along each border stays square to the normals that the neighbour has there too (setting after Loop, Schaefer,
 * Ni & Castano 2009; the joint fit of inner points measured to be several times smoother than their averaged ones).
 */
import { solveSkyline } from '@/core/math/skyline'
import { cross, dot, type Vec3 } from '@/core/math/vec'

export const degree = 5
const size = degree + 1
/** Places along each border at which the slope is held, and how strongly beside the places of the limit surface. */
const held = 9
const holdWeight = 1e5
/** How weakly inner control points are held where nothing tells them. */
const loose = 1e-6
/**
 * How strongly inner control points keep to their places within the surface, while its slope is held: only along its normals may they give way.
 * Without that, where a patch is nearly flat, small steps that do not suit become ripples many times as large.
 */
const withinWeight = 10

const binomial = [1, 5, 10, 10, 5, 1]
export const bernstein = (t: number): number[] => binomial.map((b, i) => b * t ** i * (1 - t) ** (degree - i))
/** Derivatives of the six. */
function slopes(t: number): number[] {
  const low = [1, 4, 6, 4, 1].map((b, i) => b * t ** i * (1 - t) ** (degree - 1 - i))
  return Array.from({ length: size }, (_, i) => degree * ((low[i - 1] ?? 0) - (low[i] ?? 0)))
}

/** A cubic as a curve of degree 5. */
export function raised(cubic: readonly Vec3[]): Vec3[] {
  let now = [...cubic]
  while (now.length < size) {
    const n = now.length
    now = Array.from({ length: n + 1 }, (_, i) =>
      [0, 1, 2].map((k) => (i / n) * (now[i - 1]?.[k] ?? 0) + (1 - i / n) * (now[i]?.[k] ?? 0)),
    ) as unknown as Vec3[]
  }
  return now
}

export interface Sample {
  readonly u: number
  readonly v: number
  readonly at: Vec3
  /** The limit surface's unit normal there, at borders, where it is told. */
  readonly normal?: Vec3 | null
}

/** A border of the patch: its curve from its first corner on against the clock, and the normals it is to have; null: it may be as it comes. */
export interface Border {
  readonly curve: readonly Vec3[]
  readonly normal: ((t: number) => Vec3) | null
}

/** Control points on the borders; null within. */
function borderGrid(borders: readonly Border[]): (Vec3 | null)[] {
  const grid = new Array<Vec3 | null>(size * size).fill(null)
  const [bottom, right, top, left] = borders.map((b) => b.curve)
  for (let i = 0; i < size; i++) {
    grid[i] = bottom[i]
    grid[degree + size * i] = right[i]
    grid[degree - i + size * degree] = top[i]
    grid[size * (degree - i)] = left[i]
  }
  return grid
}

/** The inner control points, and the number of each place of the grid among them; -1 on the borders. */
const inner: number[] = []
const innerNumber = new Int32Array(size * size).fill(-1)
for (let j = 1; j < degree; j++)
  for (let i = 1; i < degree; i++) {
    innerNumber[i + size * j] = inner.length
    inner.push(i + size * j)
  }
/** Unknown coordinates of the inner control points. */
const unknowns = 3 * inner.length

/** Normal equations of the inner control points. */
class Fit {
  readonly a = new Float64Array(unknowns * unknowns)
  readonly r = new Float64Array(unknowns)

  constructor(readonly grid: readonly (Vec3 | null)[]) {}

  private add(row: readonly (readonly [number, number])[], right: number, weight: number): void {
    for (const [i, x] of row) {
      this.r[i] += weight * x * right
      for (const [j, y] of row) this.a[i * unknowns + j] += weight * x * y
    }
  }

  /** The patch runs through a place of the limit surface, as near as it gets. */
  through({ u, v, at }: Sample): void {
    const [bu, bv] = [bernstein(u), bernstein(v)]
    for (let k = 0; k < 3; k++) {
      const row: [number, number][] = []
      let rest = at[k]
      for (let j = 0; j < size; j++)
        for (let i = 0; i < size; i++) {
          const w = bu[i] * bv[j]
          const q = innerNumber[i + size * j]
          if (q < 0) rest -= w * this.grid[i + size * j]![k]
          else row.push([3 * q + k, w])
        }
      this.add(row, rest, 1)
    }
  }

  /** What nothing tells keeps to the surface between the borders (Coons 1967). */
  keepBetweenBorders(): void {
    inner.forEach((g, q) => {
      const [i, j] = [g % size, Math.floor(g / size)]
      const [u, v] = [i / degree, j / degree]
      for (let k = 0; k < 3; k++) {
        const at = (x: number, y: number) => this.grid[x + size * y]![k]
        const between = (1 - v) * at(i, 0) + v * at(i, degree) + (1 - u) * at(0, j) + u * at(degree, j)
        const corners =
          (1 - v) * ((1 - u) * at(0, 0) + u * at(degree, 0)) + v * ((1 - u) * at(0, degree) + u * at(degree, degree))
        this.a[(3 * q + k) * (unknowns + 1)] += loose
        this.r[3 * q + k] += loose * (between - corners)
      }
    })
  }

  /** Inner control points of a patch keep to it within its surface: all but along the normal. */
  keepWithin(patch: readonly Vec3[]): void {
    inner.forEach((g, q) => {
      const { du, dv } = patchAt(patch, (g % size) / degree, Math.floor(g / size) / degree)
      const m = cross(du, dv)
      const l = Math.hypot(...m)
      for (let x = 0; x < 3; x++)
        for (let y = 0; y < 3; y++) {
          const w = withinWeight * ((x === y ? 1 : 0) - (l > 0 ? (m[x] * m[y]) / (l * l) : 0))
          this.a[(3 * q + x) * unknowns + 3 * q + y] += w
          this.r[3 * q + x] += w * patch[g][y]
        }
    })
  }

  /** The slope across a border stays square to the normals there. */
  holdSlope(side: number, normal: (t: number) => Vec3): void {
    for (let s = 0; s < held; s++) {
      const t = (s + 0.5) / held
      const [u, v] = onSide(side, t)
      const across = side % 2 === 0 ? [bernstein(u), slopes(v)] : [slopes(u), bernstein(v)]
      const at = normal(t)
      const row: [number, number][] = []
      let rest = 0
      for (let j = 0; j < size; j++)
        for (let i = 0; i < size; i++) {
          const w = across[0][i] * across[1][j]
          if (!w) continue
          const q = innerNumber[i + size * j]
          if (q < 0) rest -= w * dot(this.grid[i + size * j]!, at)
          else for (let k = 0; k < 3; k++) row.push([3 * q + k, w * at[k]])
        }
      this.add(row, rest, holdWeight)
    }
  }

  /** The patch that suits all of it best; null where it can't be told. */
  solved(): Vec3[] | null {
    const y = this.r.slice()
    if (!solveSkyline(this.a.slice(), unknowns, y)) return null
    const out = this.grid.slice()
    inner.forEach((g, q) => (out[g] = [y[3 * q], y[3 * q + 1], y[3 * q + 2]]))
    return out as Vec3[]
  }
}

/** Where on the patch a border is at a share of its length. */
export const onSide = (side: number, t: number): [number, number] =>
  side === 0 ? [t, 0] : side === 1 ? [1, t] : side === 2 ? [1 - t, 1] : [0, 1 - t]

/** Control points (i along u, j along v) at i + 6 j. Borders: bottom (u up), right (v up), top (u down), left (v down). */
export function irregularPatch(borders: readonly Border[], samples: readonly Sample[]): Vec3[] {
  const fit = new Fit(borderGrid(borders))
  for (const s of samples) fit.through(s)
  fit.keepBetweenBorders()
  const plain = fit.solved()
  if (!plain) return fit.grid.map((g) => g ?? [0, 0, 0])
  fit.keepWithin(plain)
  borders.forEach(({ normal }, side) => normal && fit.holdSlope(side, normal))
  return fit.solved() ?? plain
}

/** Place and derivatives of such a patch. */
export function patchAt(grid: readonly Vec3[], u: number, v: number): { at: Vec3; du: Vec3; dv: Vec3 } {
  const [bu, bv, cu, cv] = [bernstein(u), bernstein(v), slopes(u), slopes(v)]
  const out = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ]
  for (let j = 0; j < size; j++)
    for (let i = 0; i < size; i++)
      for (let k = 0; k < 3; k++) {
        const q = grid[i + size * j][k]
        out[0][k] += bu[i] * bv[j] * q
        out[1][k] += cu[i] * bv[j] * q
        out[2][k] += bu[i] * cv[j] * q
      }
  return { at: out[0] as unknown as Vec3, du: out[1] as unknown as Vec3, dv: out[2] as unknown as Vec3 }
}

interface Way {
  readonly way: Vec3
  readonly exact: boolean
  readonly within?: readonly Vec3[]
}

/** The cubic from one place to another that leaves both as told and keeps nearest to places between; a way that is not told is free. */
export function cubicAlong(
  from: Vec3,
  to: Vec3,
  ways: readonly [Way | null, Way | null],
  samples: readonly { readonly t: number; readonly at: Vec3 }[],
): Vec3[] {
  const out: (Vec3 | null)[] = [from, null, null, to]
  // Unknown: a length along a way that is told, or three coordinates.
  const bases: { i: 1 | 2; from: Vec3; axes: readonly Vec3[] }[] = []
  for (const i of [1, 2] as const) {
    const w = ways[i - 1]
    const end = i === 1 ? from : to
    if (w?.exact) out[i] = [0, 1, 2].map((k) => end[k] + w.way[k] / 3) as unknown as Vec3
    else if (w) bases.push({ i, from: end, axes: w.within ?? [w.way] })
    else
      bases.push({
        i,
        from: end,
        axes: [
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 1],
        ],
      })
  }
  const columns = bases.flatMap((b) => b.axes.map((axis) => ({ i: b.i, axis })))
  const n = columns.length
  if (n) {
    const a = new Float64Array(n * n)
    const r = new Float64Array(n)
    for (const { t, at } of samples) {
      const w = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3]
      for (let k = 0; k < 3; k++) {
        let rest = at[k] - w[0] * from[k] - w[3] * to[k]
        for (const i of [1, 2] as const) {
          const base = out[i] ?? bases.find((b) => b.i === i)!.from
          rest -= w[i] * base[k]
        }
        columns.forEach((c, x) => {
          r[x] += w[c.i] * c.axis[k] * rest
          columns.forEach((d, y) => (a[x * n + y] += w[c.i] * c.axis[k] * w[d.i] * d.axis[k]))
        })
      }
    }
    for (let x = 0; x < n; x++) a[x * n + x] *= 1 + 1e-12
    if (!solveSkyline(a, n, r)) r.fill(0)
    let x = 0
    for (const b of bases) {
      const p: [number, number, number] = [...b.from]
      for (const axis of b.axes) {
        for (let k = 0; k < 3; k++) p[k] += r[x] * axis[k]
        x++
      }
      out[b.i] = p
    }
  }
  return out as Vec3[]
}
