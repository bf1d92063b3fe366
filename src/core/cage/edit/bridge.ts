/** Two rims joined by a band of quads, and a rim filled with quads. */
import { StepError } from '@/core/base/step-error'
import { num, plural } from '@/core/base/say'
import { edgeKey } from '@/core/mesh/edge-key'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { addPoint, draftOf, finished, halfOfEdge, keyOfHalf, need, topologyOf, type Draft, type Picked } from './net'
import type { EditOf } from './schema'
import { borderOf, chainsOf, groupsOf, rimOf } from './select'

/** Points of a run along the rim, in the way its faces run. */
interface Run {
  readonly points: readonly number[]
  readonly closed: boolean
}

const pick = 'Pick two runs of rim edges with as many edges each, or two groups of faces.'

/** Border of a group of faces, as one closed run. */
function borderRun(cage: Cage, faces: readonly number[]): Run {
  const after = new Map<number, number>()
  for (const h of borderOf(cage, new Set(faces))) {
    if (after.has(cage.quads[h]))
      throw new StepError('mixed-rims', 'The border of the picked faces meets itself at a point.', { tryThis: pick })
    after.set(cage.quads[h], cage.quads[nextInQuad(h)])
  }
  const [first] = after.keys()
  const points: number[] = []
  for (let v = first; v !== undefined && (points.length === 0 || v !== first); v = after.get(v)!) points.push(v)
  if (points.length !== after.size)
    throw new StepError('mixed-rims', 'The picked faces have more than one border.', { tryThis: pick })
  return { points, closed: true }
}

/** Picked edges at the rim as runs, in the way their faces run. */
function rimRuns(cage: Cage, edges: readonly number[]): Run[] {
  const { twin } = topologyOf(cage)
  const half = halfOfEdge(cage)
  if (edges.some((e) => twin[half.get(e)!] >= 0))
    throw new StepError(
      'inner-edge',
      'Only edges at a rim can be bridged; one of the picked has a face on either side.',
      {
        tryThis: pick,
      },
    )
  return chainsOf(edges).map(({ points, closed }) => {
    const h = half.get(edgeKey(points[0], points[1]))!
    return { points: cage.quads[h] === points[0] ? points : [...points].reverse(), closed }
  })
}

/** @throws StepError `no-pick`, `inner-edge`, `mixed-rims`, `unequal-rims` */
export function bridge(cage: Cage, picked: Picked, { rows }: EditOf<'bridge'>): Cage {
  const d = draftOf(cage)
  let runs: Run[]
  /** The picked faces' own border runs the other way round than the rim they leave. */
  if (picked.faces.length) {
    const groups = groupsOf(cage, picked.faces)
    if (groups.length !== 2)
      throw new StepError('mixed-rims', `The picked faces are ${plural(groups.length, 'group')}; bridging takes two.`, {
        tryThis: pick,
      })
    runs = groups.map((g) => borderRun(cage, g))
    for (const f of picked.faces) d.faces[f] = null
    runs = runs.map((r) => ({ ...r, points: [...r.points].reverse() }))
  } else {
    need(picked.edges, 2, 'edge', 'Bridging')
    // A single picked edge of each rim, or edges of two rims: whole rims are meant where no run is told.
    runs = rimRuns(cage, picked.edges)
    if (picked.edges.length === 2 && runs.length === 2) {
      const [a, b] = picked.edges.map((e) => rimOf(cage, e)!)
      if (!a.points.every((v) => b.points.includes(v))) runs = [a, b]
    }
  }
  if (runs.length !== 2)
    throw new StepError('mixed-rims', `The picked edges are ${plural(runs.length, 'run')}; bridging takes two.`, {
      tryThis: pick,
    })
  const [a, b] = runs
  const edgesOf = (r: Run) => r.points.length - (r.closed ? 0 : 1)
  if (a.closed !== b.closed || edgesOf(a) !== edgesOf(b))
    throw new StepError(
      'unequal-rims',
      `One run has ${plural(edgesOf(a), 'edge')}${a.closed ? ' all round' : ''}, the other ${num(edgesOf(b))}${b.closed ? ' all round' : ''}: they must be alike.`,
      {
        tryThis: 'Insert a loop on the side with fewer.',
      },
    )
  const n = a.points.length
  const { positions: p } = cage
  // The faces of the two rims run against each other: b is taken backward.
  const back = [...b.points].reverse()
  const square = (u: number, v: number) =>
    (p[3 * u] - p[3 * v]) ** 2 + (p[3 * u + 1] - p[3 * v + 1]) ** 2 + (p[3 * u + 2] - p[3 * v + 2]) ** 2
  let shift = 0
  if (a.closed) {
    let least = Infinity
    for (let s = 0; s < n; s++) {
      const sum = a.points.reduce((t, v, i) => t + square(v, back[(i + s) % n]), 0)
      if (sum < least) [least, shift] = [sum, s]
    }
  }
  const to = a.points.map((_, i) => back[(i + shift) % n])
  // Points of each row between, the rims first and last.
  const lines: number[][] = [[...a.points]]
  for (let r = 1; r < rows; r++)
    lines.push(
      a.points.map((v, i) =>
        addPoint(
          d,
          [0, 1, 2].map((k) => p[3 * v + k] + (r / rows) * (p[3 * to[i] + k] - p[3 * v + k])),
        ),
      ),
    )
  lines.push(to)
  for (let r = 0; r < rows; r++)
    for (let i = 0; i < (a.closed ? n : n - 1); i++) {
      const j = (i + 1) % n
      d.faces.push([lines[r][j], lines[r][i], lines[r + 1][i], lines[r + 1][j]])
    }
  return finished(d, 'Bridging')
}

/** Points of a rim's patch: `p` quads one way and `q` the other, its inner points by bilinear blending (Coons 1967). */
function patch(d: Draft, rim: readonly number[], p: number, q: number): void {
  const at = (v: number, k: number) => d.positions[3 * v + k]
  const n = rim.length
  // Rim points along the four sides, from corner 0 on.
  const bottom = Array.from({ length: p + 1 }, (_, i) => rim[i % n])
  const right = Array.from({ length: q + 1 }, (_, j) => rim[(p + j) % n])
  const top = Array.from({ length: p + 1 }, (_, i) => rim[(2 * p + q - i) % n])
  const left = Array.from({ length: q + 1 }, (_, j) => rim[(2 * p + 2 * q - j) % n])
  const grid: number[][] = []
  for (let j = 0; j <= q; j++) {
    grid.push([])
    for (let i = 0; i <= p; i++) {
      const edge = j === 0 ? bottom[i] : j === q ? top[i] : i === 0 ? left[j] : i === p ? right[j] : null
      if (edge !== null) {
        grid[j].push(edge)
        continue
      }
      const [u, v] = [i / p, j / q]
      grid[j].push(
        addPoint(
          d,
          [0, 1, 2].map(
            (k) =>
              (1 - v) * at(bottom[i], k) +
              v * at(top[i], k) +
              (1 - u) * at(left[j], k) +
              u * at(right[j], k) -
              ((1 - u) * (1 - v) * at(bottom[0], k) +
                u * (1 - v) * at(bottom[p], k) +
                (1 - u) * v * at(top[0], k) +
                u * v * at(top[p], k)),
          ),
        ),
      )
    }
  }
  for (let j = 0; j < q; j++)
    for (let i = 0; i < p; i++) d.faces.push([grid[j][i], grid[j][i + 1], grid[j + 1][i + 1], grid[j + 1][i]])
}

/**
 * How a rim of an even number of places is best taken as four sides: edges of the first side, and where it begins. Corners lie where the rim
 * bends most; of equal ones those with the most even sides.
 */
function sidesOf(rim: readonly (readonly number[])[]): [number, number] {
  const n = rim.length
  const bend = rim.map((x, i) => {
    const [a, b] = [rim[(i + n - 1) % n], rim[(i + 1) % n]]
    const u = x.map((c, k) => c - a[k])
    const v = b.map((c, k) => c - x[k])
    const cos = (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / (Math.hypot(...u) * Math.hypot(...v) || 1)
    return Math.acos(Math.max(-1, Math.min(1, cos)))
  })
  let best: [number, number] = [1, 0]
  let most = -Infinity
  for (let p = 1; p < n / 2; p++)
    for (let s = 0; s < n / 2; s++) {
      const sum = [0, p, n / 2, n / 2 + p].reduce((t, c) => t + bend[(s + c) % n], 0)
      const score = sum - (0.5 * Math.abs(2 * p - n / 2)) / n
      if (score > most + 1e-9) [most, best] = [score, [p, s]]
    }
  return best
}

/** Puts quads into a rim, told in the way its faces run. @throws StepError `odd-rim` */
function fillRim(d: Draft, rim: readonly number[]): void {
  const n = rim.length
  if (n % 2)
    throw new StepError('odd-rim', `The hole has ${plural(n, 'edge')}; with an odd number no quads fill it.`, {
      tryThis: 'Insert a loop that ends at the rim, or merge two of its points.',
    })
  // The new faces run against the rim's.
  const points = [...rim].reverse()
  const [p, from] = sidesOf(points.map((v) => [0, 1, 2].map((k) => d.positions[3 * v + k])))
  patch(d, [...points.slice(from), ...points.slice(0, from)], p, n / 2 - p)
}

/** Every rim of a cage filled. @throws StepError `odd-rim` */
export function fillRims(cage: Cage): Cage {
  const { twin } = topologyOf(cage)
  const d = draftOf(cage)
  const done = new Set<number>()
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] >= 0 || done.has(cage.quads[h])) continue
    const { points } = rimOf(cage, keyOfHalf(cage, h))!
    for (const v of points) done.add(v)
    fillRim(d, points)
  }
  return finished(d, 'Filling')
}

/** @throws StepError `no-pick`, `inner-edge`, `odd-rim` */
export function fill(cage: Cage, picked: Picked): Cage {
  need(picked.edges, 1, 'edge', 'Filling a hole')
  const d = draftOf(cage)
  const done = new Set<number>()
  for (const e of picked.edges) {
    const rim = rimOf(cage, e)
    if (!rim)
      throw new StepError('inner-edge', 'A picked edge has a face on either side: there is no hole at it.', {
        tryThis: 'Pick an edge at the rim of the hole.',
      })
    if (rim.points.some((v) => done.has(v))) continue
    for (const v of rim.points) done.add(v)
    fillRim(d, rim.points)
  }
  return finished(d, 'Filling')
}
