/** The areas that the curves of a drawing divide the plane into: faces of the planar graph of their pieces, with what lies within as holes. */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { insideOutline } from '@/core/math/outline'
import { areaUnder } from './measure'
import { crossingsOf, closeness, type Crossing } from './crossings'
import { endsOf, type Drawing, type Place } from './drawing'
import { extentOf } from './extent'
import { joined } from './joined'
import { alongOf } from './parametric'
import { sampleCurve } from './sample'
import { splitAt } from './split'

export interface Loop {
  /** Numbers of curves in the divided drawing, and whether each is run from its start. */
  readonly curves: readonly { readonly curve: number; readonly forward: boolean }[]
  readonly places: readonly Place[]
}

export interface Fill {
  readonly outer: Loop
  readonly holes: readonly Loop[]
  /** mm², holes left out. */
  readonly area: number
  /** How many other outlines it lies within; those with an even number are solid unless told otherwise. */
  readonly depth: number
}

export interface Fills {
  /** The drawing with its curves cut where they cross; construction lines are left out. */
  readonly divided: Drawing
  /** For each of its curves the one it is of. */
  readonly of: readonly number[]
  readonly fills: readonly Fill[]
  readonly crossings: readonly Crossing[]
}

/** Curves cut wherever they cross or touch each other. */
function divide(d: Drawing): { divided: Drawing; of: number[]; crossings: Crossing[] } {
  const crossings = crossingsOf(d)
  const cuts = new Map<number, number[]>()
  const cut = (i: number, t: number) => cuts.set(i, [...(cuts.get(i) ?? []), t])
  for (const c of crossings) {
    cut(c.a, c.ta)
    cut(c.b, c.tb)
  }
  let now: Drawing = { points: d.points, curves: d.curves }
  const of = d.curves.map((_, i) => i)
  for (const [i, at] of cuts) {
    // A round curve that is touched once is cut at the far side too.
    const shares = !endsOf(d.curves[i]) && at.length === 1 ? [at[0], (at[0] + 0.5) % 1] : at
    const s = splitAt(now, i, shares)
    now = s.drawing
    for (const p of s.pieces) of[p] = i
  }
  const keep = now.curves.map((_, i) => i).filter((i) => !now.curves[i].construction)
  return {
    divided: joined({ points: now.points, curves: keep.map((i) => now.curves[i]) }, extentOf(d) * closeness * 10),
    of: keep.map((i) => of[i]),
    crossings,
  }
}

/** Area that a row of curves encloses, mm²; above zero when it runs counter-clockwise. */
const areaOf = (d: Drawing, loop: Loop['curves']): number =>
  loop.reduce((s, { curve, forward }) => s + (forward ? 1 : -1) * areaUnder(d, d.curves[curve]), 0)

/** Curves of a divided drawing as ways between its points: half-edge 2i runs curve i forward, 2i + 1 back. */
interface Ways {
  /** Half-edges that leave each point, against the clock. */
  readonly leaving: Map<number, number[]>
  /** 1 for curves that bound nothing: doubled, without length, or hanging loose. */
  readonly dead: Uint8Array
  /** Closed curves without ends. */
  readonly lone: readonly number[]
  start(h: number): number
}

function waysOf(divided: Drawing, round: number): Ways {
  const start = (h: number) => endsOf(divided.curves[h >> 1])![h & 1]
  const leaving = new Map<number, number[]>()
  const dead = new Uint8Array(divided.curves.length)
  const lone: number[] = []
  const twins = new Set<string>()
  divided.curves.forEach((c, i) => {
    const ends = endsOf(c)
    if (!ends) {
      lone.push(i)
      dead[i] = 1
      return
    }
    const middle = alongOf(divided, c)(0.5)
    const key = `${Math.min(...ends)} ${Math.max(...ends)} ${Math.round(middle[0] / round)} ${Math.round(middle[1] / round)}`
    if ((ends[0] === ends[1] && c.kind === 'line') || twins.has(key)) {
      dead[i] = 1
      return
    }
    twins.add(key)
    for (const k of [0, 1]) leaving.set(ends[k], [...(leaving.get(ends[k]) ?? []), 2 * i + k])
  })
  const ways = { leaving, dead, lone, start }
  dropLoose(ways)
  sortByAngle(divided, leaving)
  return ways
}

/** What hangs loose encloses nothing. */
function dropLoose({ leaving, dead, start }: Ways): void {
  const loose = [...leaving.keys()].filter((p) => leaving.get(p)!.length === 1)
  while (loose.length) {
    const p = loose.pop()!
    const list = leaving.get(p)!
    if (list.length !== 1) continue
    const h = list[0]
    dead[h >> 1] = 1
    leaving.set(p, [])
    const q = start(h ^ 1)
    const rest = leaving.get(q)!.filter((k) => k >> 1 !== h >> 1)
    leaving.set(q, rest)
    if (rest.length === 1) loose.push(q)
  }
}

function sortByAngle(divided: Drawing, leaving: Ways['leaving']): void {
  /** Direction in which a half-edge leaves, told a little way along so that tangent curves come apart. */
  const angle = (h: number) => {
    const along = alongOf(divided, divided.curves[h >> 1])
    const p = along(h & 1 ? 1 : 0),
      q = along(h & 1 ? 1 - 1e-3 : 1e-3)
    return Math.atan2(q[1] - p[1], q[0] - p[0])
  }
  const turn = new Map<number, number>()
  for (const list of leaving.values()) {
    for (const h of list) turn.set(h, angle(h))
    list.sort((a, b) => turn.get(a)! - turn.get(b)!)
  }
}

interface Ring {
  readonly loop: Loop
  /** mm²; above zero when it runs counter-clockwise */
  readonly area: number
}

/** All rings that keep to the left of their curves; each lone curve runs both ways. */
function ringsOf(divided: Drawing, { leaving, dead, lone, start }: Ways, chord: number): Ring[] {
  const rows = divided.curves.map((c) => sampleCurve(divided, c, chord))
  const used = new Set<number>()
  const rings: Ring[] = []
  for (const list of leaving.values())
    for (const first of list) {
      if (used.has(first) || dead[first >> 1]) continue
      const curves: { curve: number; forward: boolean }[] = []
      const places: Place[] = []
      for (let h = first; !used.has(h);) {
        used.add(h)
        curves.push({ curve: h >> 1, forward: !(h & 1) })
        const row = h & 1 ? [...rows[h >> 1]].reverse() : rows[h >> 1]
        places.push(...row.slice(0, -1))
        const at = leaving.get(start(h ^ 1))!
        // The area stays to the left: the next way clockwise from where it came.
        h = at[(at.indexOf(h ^ 1) + at.length - 1) % at.length]
      }
      rings.push({ loop: { curves, places }, area: areaOf(divided, curves) })
    }
  for (const i of lone) {
    const places = rows[i].slice(0, -1)
    const area = areaUnder(divided, divided.curves[i])
    // A closed spline may be drawn either way round.
    const back = [...places].reverse()
    const left = area >= 0
    for (const inside of [true, false]) {
      const forward = left === inside
      const loop = { curves: [{ curve: i, forward }], places: forward ? places : back }
      rings.push({ loop, area: inside ? Math.abs(area) : -Math.abs(area) })
    }
  }
  return rings
}

/** Least and greatest x, then y. */
function boxOf({ places }: Loop): number[] {
  const box = [Infinity, -Infinity, Infinity, -Infinity]
  for (const p of places)
    for (const k of [0, 1]) {
      box[2 * k] = Math.min(box[2 * k], p[k])
      box[2 * k + 1] = Math.max(box[2 * k + 1], p[k])
    }
  return box
}

const shareCurve = (a: Loop, b: Loop): boolean => {
  const set = new Set(b.curves.map((c) => c.curve))
  return a.curves.some((c) => set.has(c.curve))
}

/** For each rim of an outline the smallest area that the outline lies in; -1: none. */
function areasRound(divided: Drawing, outers: readonly Ring[], rims: readonly Ring[]): number[] {
  const boxes = outers.map(({ loop }) => boxOf(loop))
  return rims.map((rim) => {
    const p = alongOf(divided, divided.curves[rim.loop.curves[0].curve])(0.5)
    let best = -1
    outers.forEach((o, i) => {
      if (o.area <= -rim.area || (best >= 0 && o.area >= outers[best].area)) return
      const b = boxes[i]
      if (p[0] < b[0] || p[0] > b[1] || p[1] < b[2] || p[1] > b[3] || shareCurve(rim.loop, o.loop)) return
      if (insideOutline(o.loop.places as [number, number][], [p[0], p[1]])) best = i
    })
    return best
  })
}

/** How many outlines lie round each area. */
function depthsOf(
  curves: number,
  rings: readonly Ring[],
  outers: readonly Ring[],
  rims: readonly Ring[],
  within: readonly number[],
): number[] {
  // The outline that an area belongs to is the rim which shares a curve with it, by way of its neighbours.
  const joined = new DisjointSets(curves)
  for (const { loop } of rings) for (const c of loop.curves) joined.unite(c.curve, loop.curves[0].curve)
  const rimOf = new Map(rims.map((r, i) => [joined.find(r.loop.curves[0].curve), i]))
  return outers.map((_, o) => {
    let count = 0
    for (let at = o; ; count++) {
      const rim = rimOf.get(joined.find(outers[at].loop.curves[0].curve))
      const next = rim === undefined ? -1 : within[rim]
      if (next < 0 || count > outers.length) return count
      at = next
    }
  })
}

/** The areas of a drawing; `chord`: how finely curves are sampled, mm. */
export function fillsOf(d: Drawing, chord = extentOf(d) * 1e-5): Fills {
  const { divided, of, crossings } = divide(d)
  const rings = ringsOf(divided, waysOf(divided, 10 * closeness * extentOf(d)), chord)
  const tiny = (extentOf(d) * closeness) ** 2
  const outers = rings.filter((l) => l.area > tiny)
  const rims = rings.filter((l) => l.area < -tiny)
  const within = areasRound(divided, outers, rims)
  // Each outline as a whole is a hole of the smallest area that it lies in.
  const holes = outers.map((_, i) => rims.filter((_, r) => within[r] === i).map((r) => r.loop))
  const depths = depthsOf(divided.curves.length, rings, outers, rims, within)
  return {
    divided,
    of,
    crossings,
    fills: outers.map((o, i) => ({
      outer: o.loop,
      holes: holes[i],
      area: o.area - holes[i].reduce((s, h) => s + Math.abs(areaOf(divided, h.curves)), 0),
      depth: depths[i],
    })),
  }
}
