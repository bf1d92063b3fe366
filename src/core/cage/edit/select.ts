/** What goes together on a cage: loops and rings of edges, rims, smooth patches, and what touches what is picked. */
import { endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad, prevInQuad, quadCross } from '@/core/mesh/quad-mesh'
import { spokesOf, type Cage } from '@/core/subdivision/subdivide'
import {
  edgesOf,
  faceCount,
  facesOf,
  halfOfEdge,
  keyOfHalf,
  pointCount,
  pointsOf,
  topologyOf,
  type Picked,
} from './net'

/** The opposite half-edge of the same quad. */
export const opposite = (h: number) => nextInQuad(nextInQuad(h))

/**
 * Half-edges across which a ring of quads runs, from one edge on both ways: each is in the quad that comes next.
 * A ring that comes back holds each once; one that ends at rims ends with the last edge of the last quad.
 */
export function ringOf(cage: Cage, edge: number): { halves: number[]; closed: boolean } {
  const { twin } = topologyOf(cage)
  const start = halfOfEdge(cage).get(edge)!
  const walk = (from: number): { list: number[]; closed: boolean } => {
    const list: number[] = []
    let h = from
    for (;;) {
      list.push(h)
      const over = twin[opposite(h)]
      if (over < 0) return { list, closed: false }
      h = over
      if (h === from) return { list, closed: true }
      // A ring on a one-sided strip comes back the other way round.
      if (list.length > cage.quads.length) return { list, closed: true }
    }
  }
  const ahead = walk(start)
  if (ahead.closed || twin[start] < 0) return { halves: ahead.list, closed: ahead.closed }
  const back = walk(twin[start]).list
  // Those behind are crossed the other way: the same edges, seen from the quad between.
  return { halves: [...back.map(opposite).reverse(), ...ahead.list], closed: false }
}

/** Edges that a ring of quads crosses. */
export function edgeRing(cage: Cage, edge: number): number[] {
  const { halves } = ringOf(cage, edge)
  return [...new Set(halves.flatMap((h) => [keyOfHalf(cage, h), keyOfHalf(cage, opposite(h))]))]
}

/** Edges that go on straight from one, through points of four edges; at a rim along the rim. */
export function edgeLoop(cage: Cage, edge: number): number[] {
  const t = topologyOf(cage)
  const out = new Set<number>([edge])
  const start = halfOfEdge(cage).get(edge)!
  const rim = t.twin[start] < 0
  for (const from of endsOfKey(edge)) {
    let v = from
    let now = edge
    for (;;) {
      const spokes = spokesOf(t, v)
      // All edges at the point in order; at a rim the last comes in.
      const keys = spokes.map((h) => keyOfHalf(cage, h))
      const last = prevInQuad(spokes[spokes.length - 1])
      const open = t.twin[last] < 0
      if (open) keys.push(keyOfHalf(cage, last))
      const i = keys.indexOf(now)
      const next = rim
        ? open
          ? keys[i === 0 ? keys.length - 1 : 0]
          : undefined
        : !open && keys.length === 4
          ? keys[(i + 2) % 4]
          : undefined
      if (next === undefined || next === now || out.has(next)) break
      out.add(next)
      const [a, b] = endsOfKey(next)
      v = a === v ? b : a
      now = next
    }
  }
  return [...out]
}

/** Edges of the rim that one lies on, in order; none where it lies within. */
export function rimOf(cage: Cage, edge: number): { points: number[]; closed: boolean } | null {
  const t = topologyOf(cage)
  const start = halfOfEdge(cage).get(edge)
  if (start === undefined || t.twin[start] >= 0) return null
  const points: number[] = []
  let h = start
  do {
    points.push(cage.quads[h])
    // The next half-edge at the rim leaves where this one ends.
    h = t.leaving[cage.quads[nextInQuad(h)]]
  } while (h !== start && points.length <= cage.quads.length)
  return { points, closed: true }
}

/** Unit normal of a face, by its diagonals. */
function faceNormal(cage: Cage, f: number): [number, number, number] {
  const n = quadCross(cage, f)
  const l = Math.hypot(...n) || 1
  return [n[0] / l, n[1] / l, n[2] / l]
}

/** Faces that hang together with one, over edges that are no creases and bend by less than an angle, degrees. */
export function smoothPatch(cage: Cage, face: number, angle: number): number[] {
  const { twin } = topologyOf(cage)
  const limit = Math.cos((angle * Math.PI) / 180)
  const seen = new Set([face])
  const stack = [face]
  for (let f = stack.pop(); f !== undefined; f = stack.pop()) {
    const n = faceNormal(cage, f)
    for (let h = 4 * f; h < 4 * f + 4; h++) {
      const g = twin[h] < 0 ? -1 : twin[h] >> 2
      if (g < 0 || seen.has(g) || (cage.creases.get(keyOfHalf(cage, h)) ?? 0) >= 1) continue
      const m = faceNormal(cage, g)
      if (n[0] * m[0] + n[1] * m[1] + n[2] * m[2] < limit) continue
      seen.add(g)
      stack.push(g)
    }
  }
  return [...seen]
}

export type PickSort = keyof Picked

/** All parts of a sort. */
export function allOf(cage: Cage, sort: PickSort): Picked {
  const list =
    sort === 'points'
      ? Array.from({ length: pointCount(cage) }, (_, v) => v)
      : sort === 'faces'
        ? Array.from({ length: faceCount(cage) }, (_, f) => f)
        : [...halfOfEdge(cage).keys()]
  return { points: [], edges: [], faces: [], [sort]: list }
}

/** What is picked, as parts of another sort: as many as it holds whole. */
export function pickedAs(cage: Cage, picked: Picked, sort: PickSort): Picked {
  const list =
    sort === 'points' ? pointsOf(cage, picked) : sort === 'edges' ? edgesOf(cage, picked) : facesOf(cage, picked)
  return { points: [], edges: [], faces: [], [sort]: list }
}

export function inverted(cage: Cage, picked: Picked, sort: PickSort): Picked {
  const now = new Set(picked[sort])
  const rest = allOf(cage, sort)[sort].filter((i) => !now.has(i))
  return { points: [], edges: [], faces: [], [sort]: rest }
}

/** One ring more: what shares a point with what is picked. */
export function grown(cage: Cage, picked: Picked, sort: PickSort): Picked {
  const points = new Set(pointsOf(cage, picked))
  const faces: number[] = []
  for (let f = 0; f < faceCount(cage); f++)
    if (cage.quads.subarray(4 * f, 4 * f + 4).some((v) => points.has(v))) faces.push(f)
  if (sort === 'faces') return { points: [], edges: [], faces }
  if (sort === 'points')
    return {
      points: [...new Set(faces.flatMap((f) => [...cage.quads.subarray(4 * f, 4 * f + 4)]))],
      edges: [],
      faces: [],
    }
  const edges = [...halfOfEdge(cage).keys()].filter((e) => endsOfKey(e).some((v) => points.has(v)))
  return { points: [], edges, faces: [] }
}

/** One ring less: parts that touch what is not picked go. */
export const shrunk = (cage: Cage, picked: Picked, sort: PickSort): Picked =>
  inverted(cage, grown(cage, inverted(cage, picked, sort), sort), sort)

/**
 * Picked edges as chains: half-edges that follow each other, each chain one way.
 * @returns points of each chain in order; a closed one without its first said twice
 */
export function chainsOf(edges: readonly number[]): { points: number[]; closed: boolean }[] {
  const at = new Map<number, number[]>()
  for (const e of edges)
    for (const v of endsOfKey(e)) {
      const list = at.get(v)
      if (list) list.push(e)
      else at.set(v, [e])
    }
  const left = new Set(edges)
  const out: { points: number[]; closed: boolean }[] = []
  const follow = (v: number, first: number) => {
    const points = [v]
    for (let e: number | undefined = first; e !== undefined;) {
      left.delete(e)
      const [a, b] = endsOfKey(e)
      v = a === v ? b : a
      if (v === points[0]) return { points, closed: true }
      points.push(v)
      const list: number[] = at.get(v)!
      e = list.length === 2 ? list.find((x) => left.has(x)) : undefined
    }
    return { points, closed: false }
  }
  // Ends and forks first, then what is left are closed ones.
  for (const [v, list] of at) if (list.length !== 2) for (const e of list) if (left.has(e)) out.push(follow(v, e))
  for (const e of edges) if (left.has(e)) out.push(follow(endsOfKey(e)[0], e))
  return out
}

/** Half-edges of faces that run from picked faces to others or to a rim. */
export function borderOf(cage: Cage, faces: ReadonlySet<number>): number[] {
  const { twin } = topologyOf(cage)
  const out: number[] = []
  for (const f of faces)
    for (let h = 4 * f; h < 4 * f + 4; h++) if (twin[h] < 0 || !faces.has(twin[h] >> 2)) out.push(h)
  return out
}

/** Connected groups of picked faces. */
export function groupsOf(cage: Cage, faces: readonly number[]): number[][] {
  const { twin } = topologyOf(cage)
  const left = new Set(faces)
  const out: number[][] = []
  for (const first of faces) {
    if (!left.delete(first)) continue
    const group = [first]
    for (const f of group)
      for (let h = 4 * f; h < 4 * f + 4; h++) if (twin[h] >= 0 && left.delete(twin[h] >> 2)) group.push(twin[h] >> 2)
    out.push(group)
  }
  return out
}
