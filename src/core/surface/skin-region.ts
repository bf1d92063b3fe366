/**
 * One B-spline sheet over a picked piece of a mesh: parameters by a look along its mean normal, or by laying it flat where it is too deep for
 * that; detail as asked, or raised until nothing lies out of tolerance.
 */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { StepError } from '@/core/base/step-error'
import { plural } from '@/core/base/say'
import { checkStop, quiet, type Work } from '@/core/base/work'
import { cross, dot, normalize, type Vec3 } from '@/core/math/vec'
import { nextIn } from '@/core/mesh/topology'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { fitSettled, type Rectangle, type SheetFit, type SheetPlaces } from './fit-sheet'
import { flatten, type Piece } from './flatten'
import { type Sheet } from './sheet'

export type SkinBy = 'projection' | 'flattening'

export interface SkinChoice {
  readonly by: SkinBy | 'best'
  /** Cells along the longer side; or the distance that nothing may exceed, mm. */
  readonly detail: { readonly cells: number } | { readonly within: number }
  /** 0 follows every place, 1 is as smooth as a plate. */
  readonly smooth: number
  /** How far the sheet goes on past the piece: at the low and high end of its length, of its width, mm. */
  readonly extend: readonly [number, number, number, number]
}

export interface SkinRegion {
  readonly sheet: Sheet
  readonly by: SkinBy
  /** How far each place lies off, and its share of the area. */
  readonly off: Float64Array
  readonly weight: Float64Array
  readonly max: number
  /** Nothing lies farther off than was asked; always so where cells were asked for. */
  readonly inside: boolean
  /** Rims of the piece in parameters, material to the left, the longest first. */
  readonly rims: readonly (readonly [number, number][])[]
}

/** Cells along the longer side, one try after the other. */
const raised = [2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96]
/** Rounds of parameters and fits once the sheet is near. */
const rounds = 3
/** The sheet reaches past its places by this share of its length. */
const margin = 0.01
/** A piece whose places face less than this of the way they are looked at from is too deep for projection. */
const deepest = 0.12
const shallow = 0.5

interface Cut extends Piece {
  readonly normals: Float64Array
  /** Area about each vertex, mm². */
  readonly area: Float64Array
  readonly rims: number[][]
}

/** The picked triangles by themselves. @throws StepError `several-pieces`, `closed`, `empty-region` */
function cutOut(mesh: TriMesh, triangles: readonly number[]): Cut {
  const number = new Map<number, number>()
  const positions: number[] = []
  const list = new Uint32Array(3 * triangles.length)
  triangles.forEach((t, i) => {
    for (let c = 0; c < 3; c++) {
      const v = mesh.triangles[3 * t + c]
      let own = number.get(v)
      if (own === undefined) {
        number.set(v, (own = positions.length / 3))
        positions.push(mesh.positions[3 * v], mesh.positions[3 * v + 1], mesh.positions[3 * v + 2])
      }
      list[3 * i + c] = own
    }
  })
  const n = positions.length / 3
  const area = new Float64Array(n)
  const normals = new Float64Array(3 * n)
  const after = new Map<number, number[]>()
  const halves = new Set<string>()
  for (let h = 0; h < list.length; h++) halves.add(`${list[h]}>${list[nextIn(h)]}`)
  const joined = new DisjointSets(n)
  let total = 0
  triangles.forEach((t, i) => {
    const x = crossOf(mesh, t)
    const size = Math.hypot(...x) / 2
    total += size
    for (let c = 0; c < 3; c++) {
      const [v, w] = [list[3 * i + c], list[nextIn(3 * i + c)]]
      area[v] += size / 3
      for (let k = 0; k < 3; k++) normals[3 * v + k] += x[k]
      joined.unite(v, w)
      if (!halves.has(`${w}>${v}`)) after.set(v, [...(after.get(v) ?? []), w])
    }
  })
  if (triangles.length < 4 || !(total > 0))
    throw new StepError('empty-region', 'The region is too small for a skin: it needs four triangles or more.', {
      tryThis: 'Pick more of the body.',
    })
  const pieces = new Set(Array.from({ length: n }, (_, v) => joined.find(v))).size
  if (pieces > 1)
    throw new StepError('several-pieces', `The region is ${plural(pieces, 'separate area')}; a skin lies over one.`, {
      tryThis: 'Tick “Only its largest area”, take the others away, or make a skin of each.',
    })
  if (!after.size)
    throw new StepError('closed', 'The region is a whole closed skin; one sheet cannot lie over that.', {
      tryThis: 'Pick a part of it, or make a net and a smooth solid of it.',
    })
  const rims: number[][] = []
  for (const start of after.keys()) {
    for (let next = after.get(start)?.pop(); next !== undefined; next = after.get(start)?.pop()) {
      const loop = [start]
      let v = next
      while (v !== start) {
        loop.push(v)
        const w = after.get(v)?.pop()
        if (w === undefined) break
        v = w
      }
      if (v === start && loop.length > 2) rims.push(loop)
    }
  }
  return { positions: Float64Array.from(positions), triangles: list, normals, area, rims }
}

/** Places on the plane square to the mean normal; null where parts face away from it. `least`: how far the most inclined place turns. */
function projected({ positions: p, normals }: Cut): { uv: Float64Array; least: number } | null {
  const sum: [number, number, number] = [0, 0, 0]
  for (let o = 0; o < normals.length; o++) sum[o % 3] += normals[o]
  if (!(Math.hypot(...sum) > 0)) return null
  const n = normalize(sum)
  let least = 1
  for (let o = 0; o < normals.length; o += 3) {
    const l = Math.hypot(normals[o], normals[o + 1], normals[o + 2])
    if (l > 0) least = Math.min(least, (n[0] * normals[o] + n[1] * normals[o + 1] + n[2] * normals[o + 2]) / l)
  }
  if (least < deepest) return null
  const x = normalize(Math.abs(n[0]) < 0.9 ? cross(n, [1, 0, 0]) : cross(n, [0, 1, 0]))
  const y = cross(n, x)
  const uv = new Float64Array((p.length / 3) * 2)
  for (let v = 0; v < p.length / 3; v++) {
    const q: Vec3 = [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
    uv[2 * v] = dot(q, x)
    uv[2 * v + 1] = dot(q, y)
  }
  return { uv, least }
}

/** Turns places so that their longer side runs along u. */
function along(uv: Float64Array, area: Float64Array): void {
  const whole = area.reduce((s, w) => s + w, 0)
  let [mu, mv] = [0, 0]
  area.forEach((w, i) => {
    mu += (w * uv[2 * i]) / whole
    mv += (w * uv[2 * i + 1]) / whole
  })
  let [a, b, c] = [0, 0, 0]
  area.forEach((w, i) => {
    const [u, v] = [uv[2 * i] - mu, uv[2 * i + 1] - mv]
    a += w * u * u
    b += w * u * v
    c += w * v * v
  })
  const turn = 0.5 * Math.atan2(2 * b, a - c)
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
  for (let i = 0; i < area.length; i++) {
    const [u, v] = [uv[2 * i] - mu, uv[2 * i + 1] - mv]
    uv[2 * i] = cos * u + sin * v
    uv[2 * i + 1] = -sin * u + cos * v
  }
}

interface LaidFlat {
  readonly by: SkinBy
  /** u v of each place, mm. */
  readonly uv: Float64Array
}
interface Fit {
  readonly fit: SheetFit
  readonly places: SheetPlaces
}

/** The ways in which a region can be laid flat, of those that are asked for. @throws StepError `too-deep` */
function waysOf(cut: Cut, choice: SkinChoice): LaidFlat[] {
  const ways: LaidFlat[] = []
  const look = choice.by === 'flattening' ? null : projected(cut)
  if (look) {
    along(look.uv, cut.area)
    ways.push({ by: 'projection', uv: look.uv })
  }
  if (choice.by === 'flattening' || (choice.by === 'best' && !(look && look.least > shallow))) {
    const flat = flatten(cut)
    if (flat) {
      along(flat, cut.area)
      ways.push({ by: 'flattening', uv: flat })
    }
  }
  if (!ways.length)
    throw new StepError(
      'too-deep',
      choice.by === 'projection'
        ? 'Parts of the region face away from the rest: no look along one direction sees all of it.'
        : 'The region cannot be laid flat: it closes on itself, or turns over.',
      {
        tryThis:
          choice.by === 'projection'
            ? 'Take flattening, or pick less of the body.'
            : 'Leave a strip out so that it opens, or pick less of the body.',
      },
    )
  return ways
}

/** The way that gives less at a middling detail. */
function nearerWay(
  ways: readonly LaidFlat[],
  cut: Cut,
  fitBy: (uv: Float64Array, cells: number) => Fit | null,
): LaidFlat {
  if (ways.length < 2) return ways[0]
  const whole = cut.area.reduce((s, w) => s + w, 0)
  const rms = (f: SheetFit | undefined) =>
    f ? Math.sqrt(f.off.reduce((s, d, i) => s + cut.area[i] * d * d, 0) / whole) : Infinity
  const tried = ways.map((way) => ({ way, rms: rms(fitBy(way.uv, 8)?.fit) }))
  return tried.sort((p, q) => p.rms - q.rms)[0].way
}

/** A sheet of the detail that is asked for, or raised until it lies within. */
function raisedFit(
  detail: SkinChoice['detail'],
  places: number,
  fitBy: (cells: number, rounds: number) => Fit | null,
  work: Work,
): Fit | null {
  const list = 'cells' in detail ? [detail.cells] : raised
  let best: Fit | null = null
  for (const [i, k] of list.entries()) {
    checkStop(work)
    work.progress(0.1 + (0.9 * i) / list.length, 'fitting the sheet')
    // More control points than places tell nothing.
    if (best && k * k > 4 * places) break
    // Far from it a step more is lost: halving the cells of a cubic brings it nearer by up to sixteen times.
    if (best && 'within' in detail && best.fit.max > 12 * detail.within && i % 2 && i + 1 < list.length) continue
    const near = 'cells' in detail || (best !== null && best.fit.max < 4 * detail.within)
    const made = fitBy(k, near ? rounds : 1)
    if (made && (!best || made.fit.max < best.fit.max)) best = made
    if (best && 'within' in detail && best.fit.max <= detail.within) break
  }
  return best
}

/** @throws StepError `empty-region`, `several-pieces`, `closed`, `too-deep`, Stopped */
export function skinRegion(
  mesh: TriMesh,
  triangles: readonly number[],
  choice: SkinChoice,
  work: Work = quiet,
): SkinRegion {
  const cut = cutOut(mesh, triangles)
  const at = Array.from({ length: cut.positions.length / 3 }, (_, v): Vec3 => [
    cut.positions[3 * v],
    cut.positions[3 * v + 1],
    cut.positions[3 * v + 2],
  ])
  const whole = cut.area.reduce((s, w) => s + w, 0)
  const grain = Math.sqrt(whole / at.length)
  const bending = 10 ** (-8 + 6 * choice.smooth)
  work.progress(0.02, 'laying the region flat')
  const fitBy = (uv: Float64Array, cells: number, rounds = 1): Fit | null => {
    const places: SheetPlaces = {
      at,
      u: Float64Array.from(at, (_, v) => uv[2 * v]),
      v: Float64Array.from(at, (_, v) => uv[2 * v + 1]),
      weight: cut.area,
    }
    const rectangle = over(places, choice.extend)
    const longer = Math.max(...rectangle.sides)
    const count = (k: 0 | 1) => Math.max(1, Math.round((cells * rectangle.sides[k]) / longer))
    const fit = fitSettled(places, rectangle, [count(0), count(1)], bending, grain, rounds, work)
    return fit && { fit, places }
  }
  const way = nearerWay(waysOf(cut, choice), cut, fitBy)
  const { detail } = choice
  const best = raisedFit(detail, at.length, (cells, rounds) => fitBy(way.uv, cells, rounds), work)
  if (!best)
    throw new StepError('empty-region', 'The region does not tell a sheet.', { tryThis: 'Pick more of the body.' })
  const { fit, places } = best
  const rims = cut.rims.map((loop) => rimOf(loop, places, fit.sheet)).sort((a, b) => around(b) - around(a))
  return {
    sheet: fit.sheet,
    by: way.by,
    off: fit.off,
    weight: cut.area,
    max: fit.max,
    inside: !('within' in detail) || fit.max <= detail.within,
    rims,
  }
}

/** The rectangle over places, with what it is to go on by. */
function over({ u, v }: SheetPlaces, extend: SkinChoice['extend']): Rectangle {
  const span = (list: Float64Array): [number, number] => [
    list.reduce((m, x) => Math.min(m, x), Infinity),
    list.reduce((m, x) => Math.max(m, x), -Infinity),
  ]
  const [a, b] = [span(u), span(v)]
  const edge = margin * Math.max(a[1] - a[0], b[1] - b[0])
  return {
    from: [a[0] - edge - extend[0], b[0] - edge - extend[2]],
    sides: [a[1] - a[0] + 2 * edge + extend[0] + extend[1], b[1] - b[0] + 2 * edge + extend[2] + extend[3]],
  }
}

const around = (loop: readonly (readonly [number, number])[]) =>
  loop.reduce(
    (s, [u, v], i) => s + Math.hypot(loop[(i + 1) % loop.length][0] - u, loop[(i + 1) % loop.length][1] - v),
    0,
  )

/** Rounds in which a rim's places are drawn to the middle of their neighbours: triangles leave it jagged. */
const evening = 4
const [leastPlaces, mostPlaces] = [16, 240]

/** A rim of the piece as an even row of parameters, its jags taken out. */
function rimOf(loop: readonly number[], { u, v }: SheetPlaces, { side }: Sheet): [number, number][] {
  let row = loop.map((i): [number, number] => [u[i], v[i]])
  for (let r = 0; r < evening; r++)
    row = row.map(([a, b], i) => {
      const [p, q] = [row[(i + row.length - 1) % row.length], row[(i + 1) % row.length]]
      return [(p[0] + 2 * a + q[0]) / 4, (p[1] + 2 * b + q[1]) / 4]
    })
  const length = around(row)
  const count = Math.max(leastPlaces, Math.min(mostPlaces, Math.round(length / (0.4 * Math.min(side[0], side[1])))))
  const out: [number, number][] = []
  let [i, done] = [0, 0]
  for (let k = 0; k < count; k++) {
    const want = (length * k) / count
    for (;;) {
      const [a, b] = [row[i % row.length], row[(i + 1) % row.length]]
      const l = Math.hypot(b[0] - a[0], b[1] - a[1])
      if (done + l >= want || i >= row.length) {
        const t = l > 0 ? Math.min(1, (want - done) / l) : 0
        out.push([a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])])
        break
      }
      done += l
      i++
    }
  }
  return out
}
