/**
 * The place of every wedge of a cut skin in the map, told by few unknowns: along each path of the cut the two sides differ by quarter turns
 * and a step, and what closes about an end tells one of them by the others (Bommes, Zimmer & Kobbelt 2009).
 */
import { nextIn } from '@/core/mesh/topology'
import type { CutGraph } from './cut-graph'
import { mod4, plus, powers, times, turned, type Form } from './form'

export interface WedgePlaces {
  readonly places: readonly Form[]
  /** Unknown places: the first `free` may be anywhere, the others have whole coordinates. */
  readonly free: number
  readonly whole: number
  /** The vertex at which each free unknown stands; of whole ones too where there is one, else -1. */
  readonly at: Int32Array
  /** This unknown stays 0: where the map begins is of no matter. -1: none. */
  readonly pinned: number
}

/** `corners`: vertices of the triangles. */
export function wedgePlaces(
  corners: ArrayLike<number>,
  twin: Int32Array,
  graph: CutGraph,
  wedge: Int32Array,
  wedges: number,
): WedgePlaces {
  return new Placing(corners, twin, graph, wedge, wedges).all()
}

class Placing {
  private readonly places: (Form | null)[]
  private readonly freeAt: number[] = []
  /** Free unknowns come first; whole ones are numbered from -1 down until all are known. */
  private readonly wholeAt: number[] = []
  private pinned = 0
  /** Paths at each end. */
  private readonly ends = new Map<number, number[]>()

  constructor(
    private readonly corners: ArrayLike<number>,
    private readonly twin: Int32Array,
    private readonly graph: CutGraph,
    private readonly wedge: Int32Array,
    wedges: number,
  ) {
    this.places = new Array<Form | null>(wedges).fill(null)
    graph.paths.forEach((p, i) => {
      for (const v of new Set([p.from, p.to])) this.ends.set(v, [...(this.ends.get(v) ?? []), i])
    })
  }

  all(): WedgePlaces {
    const { rim } = this.graph.fans
    const known = new Set<number>()
    for (const root of rootsFirst([...this.ends.keys()], rim, this.graph.singular)) {
      if (known.has(root)) continue
      for (const v of this.placeEnds(root)) known.add(v)
    }
    this.placeAlongPaths()
    const { places, wedge, corners, freeAt, wholeAt } = this
    for (let h = 0; h < wedge.length; h++) places[wedge[h]] ??= this.freePlace(corners[h])
    const free = freeAt.length
    const renumbered = (f: Form): Form => f.map(([i, x, y]) => [i < 0 ? free - i - 1 : i, x, y])
    return {
      places: places.map((f) => renumbered(f!)),
      free,
      whole: wholeAt.length,
      at: Int32Array.from([...freeAt, ...wholeAt]),
      pinned: this.pinned ? free + this.pinned - 1 : -1,
    }
  }

  private freePlace(v: number): Form {
    this.freeAt.push(v)
    return [[this.freeAt.length - 1, 1, 0]]
  }

  private wholePlace(v: number): Form {
    this.wholeAt.push(v)
    return [[-this.wholeAt.length, 1, 0]]
  }

  /** Places of all ends that hang together with a root, by a tree over them from its leaves on. Gives the ends. */
  private placeEnds(root: number): readonly number[] {
    const { paths, fans } = this.graph
    const order = [root]
    const up = new Map<number, number>([[root, -1]])
    for (const v of order)
      for (const i of this.ends.get(v)!) {
        const w = paths[i].from === v ? paths[i].to : paths[i].from
        if (up.has(w)) continue
        up.set(w, i)
        order.push(w)
      }
    const inTree = new Set(up.values())
    const hanging = new Set(order.flatMap((v) => this.ends.get(v)!))
    for (const i of hanging) if (!inTree.has(i)) paths[i].step = this.wholePlace(-1)
    // An end at the rim does not close: what leads up from it is free.
    for (const v of order) if (fans.rim[v] && up.get(v)! >= 0) paths[up.get(v)!].step = this.wholePlace(-1)
    for (let i = order.length - 1; i >= 0; i--) {
      const v = order[i]
      if (fans.rim[v]) continue
      const lead = up.get(v)!
      if (lead >= 0) this.placeEnd(v, lead)
      else this.placeRoot(v)
    }
    // Rims last: steps of all paths are known now.
    for (const v of order) if (fans.rim[v]) this.placeAtRim(v)
    return order
  }

  /** An end from which the path `lead` goes up the tree: what closes about it tells that path's step. */
  private placeEnd(v: number, lead: number): void {
    const { fans, singular, paths, pathOf } = this.graph
    const path = paths[lead]
    const last = fans.spokes(v).find((h) => pathOf[h] === lead)!
    const around = this.cutSpokes(v, last)
    let first: Form
    if (singular[v]) {
      first = this.wholePlace(v)
      this.pinned ||= this.wholeAt.length
    } else first = this.freePlace(v)
    // The wedge after the leading spoke is its own left.
    this.places[this.wedge[last]] = first
    const before = this.settle(first, around.slice(0, -1))
    const { turn } = this.over(last)
    const step = plus(first, turned(before, turn), -1)
    path.step = path.edges.includes(last) ? times(turned(step, path.turn), -1, 0) : step
  }

  /** The root of a tree: all steps about it are known, and tell its place where something turns about it. */
  private placeRoot(v: number): void {
    const around = this.cutSpokes(v, null)
    const first = around.at(-1)!
    let sum: Form = []
    let turns = 0
    for (const h of around) {
      const { turn, step } = this.over(h)
      sum = plus(turned(sum, turn), step!)
      turns += turn
    }
    let here: Form
    if (mod4(turns)) {
      // z = i^turns z + sum
      const [c, s] = powers[mod4(turns)]
      const [a, b] = [1 - c, -s]
      const d = a * a + b * b
      here = times(sum, a / d, -b / d)
    } else {
      // Nothing turns about it: whole numbers that do not close leave a fold, which the collapse bears.
      here = this.freePlace(v)
    }
    this.places[this.wedge[first]] = here
    this.settle(here, around.slice(0, -1))
  }

  private placeAtRim(v: number): void {
    const { fans, cut } = this.graph
    const around = fans.spokes(v)
    const here = (this.places[this.wedge[around[0]]] ??= this.freePlace(v))
    this.settle(
      here,
      around.filter((h) => cut[h]),
    )
  }

  /** Places along paths, between their ends. */
  private placeAlongPaths(): void {
    const { places, wedge, corners, twin } = this
    for (const { edges, turn, step } of this.graph.paths)
      for (const h of edges.slice(1)) {
        const left = wedge[h]
        const right = wedge[nextIn(twin[h])]
        places[left] ??= this.freePlace(corners[h])
        places[right] ??= plus(turned(places[left], turn), step!)
      }
  }

  /** Over the spoke h against the clock: quarter turns, and the step, of the path it is on. */
  private over(h: number): { turn: number; step: Form | null } {
    const { paths, pathOf } = this.graph
    const { edges, turn, step } = paths[pathOf[h]]
    // From the right of a leaving edge to its left; the path may run the other way.
    return edges.includes(h) ? { turn: -turn, step: step && times(turned(step, -turn), -1, 0) } : { turn, step }
  }

  /** The spokes of an end that are cut, in their order, from after `from` on. */
  private cutSpokes(v: number, from: number | null): number[] {
    const all = this.graph.fans.spokes(v).filter((h) => this.graph.cut[h])
    const i = from === null ? 0 : all.indexOf(from) + 1
    return [...all.slice(i), ...all.slice(0, i)]
  }

  /** Places the wedges after some spokes, from the place before them; gives the last. */
  private settle(first: Form, around: readonly number[]): Form {
    let here = first
    for (const h of around) {
      const { turn, step } = this.over(h)
      here = plus(turned(here, turn), step!)
      this.places[this.wedge[h]] = here
    }
    return here
  }
}

/** Ends in the order in which they serve as roots: at the rim, singular, any. */
const rootsFirst = (ends: number[], rim: Uint8Array, singular: Uint8Array): number[] =>
  ends.sort((a, b) => rim[b] - rim[a] || singular[b] - singular[a] || a - b)
