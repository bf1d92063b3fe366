/** Which way triangles face: one way round within each piece, then outward. */
import { NearestInGrid } from './nearest'
import { buildTopology, findPieces, open, shared, triangleOf } from './topology'
import { corners, triangleCount, type TriMesh } from './tri-mesh'
import { crossOf } from './triangle'
import { normalize, type Vec3 } from '@/core/math/vec'
import { checkStop, quiet, type Work } from '@/core/base/work'

export interface PieceFacts {
  /** Triangles of each piece. */
  readonly triangles: Uint32Array[]
  readonly volume: number[]
  /** Whether each piece is closed and runs one way round. */
  readonly sound: boolean[]
  readonly insideOut: boolean[]
}

/** Pieces with signed volume; an inside-out piece is closed, has negative volume, and does not line a hollow of another piece. */
export function pieceFacts(mesh: TriMesh, topology = buildTopology(mesh)): PieceFacts {
  const { piece, count } = findPieces(mesh, topology)
  const sizes = new Uint32Array(count)
  for (const i of piece) sizes[i]++
  const triangles = Array.from(sizes, (s) => new Uint32Array(s))
  const fill = new Uint32Array(count)
  piece.forEach((i, t) => {
    triangles[i][fill[i]++] = t
  })
  const sound = new Array<boolean>(count).fill(true)
  for (let h = 0; h < topology.twin.length; h++)
    if (topology.twin[h] === open || topology.twin[h] === shared || topology.sameWay[h])
      sound[piece[triangleOf(h)]] = false
  const p = mesh.positions,
    k = mesh.triangles
  const volume = triangles.map((list) => {
    // About a corner of the piece itself, so far-off pieces keep their digits.
    const o = 3 * k[3 * list[0]]
    let s = 0
    for (const t of list) {
      const a = 3 * k[3 * t],
        b = 3 * k[3 * t + 1],
        c = 3 * k[3 * t + 2]
      const ax = p[a] - p[o],
        ay = p[a + 1] - p[o + 1],
        az = p[a + 2] - p[o + 2]
      const bx = p[b] - p[o],
        by = p[b + 1] - p[o + 1],
        bz = p[b + 2] - p[o + 2]
      const cx = p[c] - p[o],
        cy = p[c + 1] - p[o + 1],
        cz = p[c + 2] - p[o + 2]
      s += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
    }
    return s / 6
  })
  const insideOut = new Array<boolean>(count).fill(false)
  let search: NearestInGrid | null = null
  for (let i = 0; i < count; i++) {
    if (!sound[i] || volume[i] >= 0) continue
    if (count === 1) {
      insideOut[i] = true
      continue
    }
    search ??= new NearestInGrid(mesh)
    insideOut[i] = !insideOther(mesh, search, piece, sound, i, triangles[i])
  }
  return { triangles, volume, sound, insideOut }
}

/** Odd number of crossings with the closed pieces other than its own: the piece lies inside another. */
function insideOther(
  mesh: TriMesh,
  search: NearestInGrid,
  piece: Uint32Array,
  sound: readonly boolean[],
  own: number,
  list: Uint32Array,
): boolean {
  const [a, b, c] = corners(mesh, list[0])
  const from: Vec3 = [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3]
  // Three odd directions vote, so a ray along an edge does not decide.
  let votes = 0
  for (const d of [
    [0.5377, 0.7321, 0.4182],
    [-0.3141, 0.2718, 0.9094],
    [0.1123, -0.9581, -0.2635],
  ] as const) {
    if (search.crossings(from, normalize(d), (t) => piece[t] !== own && sound[piece[t]]) % 2) votes++
  }
  return votes >= 2
}

export interface Oriented {
  readonly mesh: TriMesh
  readonly turned: number
  /** Edges where no one way round exists (a Moebius strip), cut open. */
  readonly cut: number
}

/**
 * Makes every piece run one way round (flood fill over two-triangle edges) and face outward: closed pieces by signed volume, with
 * inner shells of a hollow body left inward; open pieces by which side sees more free sky.
 */
export function faceOutward(input: TriMesh, work: Work = quiet): Oriented {
  const topology = buildTopology(input)
  const n = triangleCount(input)
  const flip = new Int8Array(n).fill(-1)
  const stack: number[] = []
  const conflicts: number[] = []
  for (let s = 0; s < n; s++) {
    if (flip[s] >= 0) continue
    flip[s] = 0
    stack.push(s)
    while (stack.length) {
      const t = stack.pop()!
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const w = topology.twin[h]
        if (w < 0) continue
        const u = triangleOf(w)
        const want = (flip[t] ^ topology.sameWay[h]) as 0 | 1
        if (flip[u] < 0) {
          flip[u] = want
          stack.push(u)
        } else if (flip[u] !== want && h < w) conflicts.push(h)
      }
    }
  }
  checkStop(work)
  let positions = input.positions
  const triangles = new Uint32Array(input.triangles)
  if (conflicts.length) {
    // Give one side of each conflicting edge corners of its own: the strip opens there.
    const extra: number[] = []
    for (const h of conflicts) {
      const t = triangleOf(h)
      for (const i of [h, 3 * t + ((h - 3 * t + 1) % 3)]) {
        const v = triangles[i]
        triangles[i] = input.positions.length / 3 + extra.length / 3
        const from =
          v < input.positions.length / 3
            ? input.positions.subarray(3 * v, 3 * v + 3)
            : extra.slice(3 * v - input.positions.length, 3 * v - input.positions.length + 3)
        extra.push(from[0], from[1], from[2])
      }
    }
    positions = new Float32Array(input.positions.length + extra.length)
    positions.set(input.positions)
    positions.set(extra, input.positions.length)
  }
  const turn = (t: number) => {
    const b = triangles[3 * t + 1]
    triangles[3 * t + 1] = triangles[3 * t + 2]
    triangles[3 * t + 2] = b
  }
  for (let t = 0; t < n; t++) if (flip[t] === 1) turn(t)
  const mesh = { positions, triangles }
  const facts = pieceFacts(mesh)
  let search: NearestInGrid | null = null
  const turnedNow = Uint8Array.from(flip, (f) => (f === 1 ? 1 : 0))
  facts.triangles.forEach((list, i) => {
    checkStop(work)
    let wrong = facts.insideOut[i]
    if (!facts.sound[i]) {
      search ??= new NearestInGrid({ positions, triangles })
      wrong = facesInward(mesh, search, list, facts.volume[i])
    }
    if (wrong)
      for (const t of list) {
        turn(t)
        turnedNow[t] ^= 1
      }
  })
  return { mesh, turned: turnedNow.reduce((s, f) => s + f, 0), cut: conflicts.length }
}

/** For an open piece: from its larger triangles, does the back see less skin than the front? Falls back on the signed volume about a corner of its own. */
function facesInward(mesh: TriMesh, search: NearestInGrid, list: Uint32Array, volume: number): boolean {
  const step = Math.max(1, Math.floor(list.length / 40))
  let score = 0
  for (let i = 0; i < list.length; i += step) {
    const t = list[i]
    const n = normalize(crossOf(mesh, t))
    if (n[0] === 0 && n[1] === 0 && n[2] === 0) continue
    const [a, b, c] = corners(mesh, t)
    const m: Vec3 = [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3]
    const hits = (d: Vec3) => search.crossings(m, d, (other) => other !== t) % 2
    score += hits([-n[0], -n[1], -n[2]]) - hits(n)
  }
  return score !== 0 ? score < 0 : volume < 0
}
