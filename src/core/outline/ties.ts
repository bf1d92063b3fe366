/** Which numbers of a drawing its laws tie together: groups that move by themselves (disjoint sets, Tarjan 1975). */
import { DisjointSets } from '@/core/math/disjoint-sets'
import type { Law } from './laws/formula'

/** Gives for each number that can move the number that stands for its group. */
export function tiesOf(laws: readonly Law[], count: number, held: ReadonlySet<number>): (number: number) => number {
  const tied = new DisjointSets(count)
  for (const l of laws) {
    let first = -1
    for (const k of l.numbers) {
      if (held.has(k)) continue
      if (first < 0) first = k
      else tied.unite(k, first)
    }
  }
  return (i) => tied.find(i)
}

/** The laws by group; those of which nothing can move are one group. */
export function groupsOf(laws: readonly Law[], count: number, held: ReadonlySet<number>): Law[][] {
  const find = tiesOf(laws, count, held)
  const groups = new Map<number, Law[]>()
  for (const l of laws) {
    const k = l.numbers.find((n) => !held.has(n))
    const root = k === undefined ? -1 : find(k)
    const list = groups.get(root)
    if (list) list.push(l)
    else groups.set(root, [l])
  }
  return [...groups.values()]
}

/** Laws in an order in which those that share numbers stand near each other (Cuthill & McKee 1969). */
export function inOrder(laws: readonly Law[], held: ReadonlySet<number>): Law[] {
  const by = new Map<number, number[]>()
  laws.forEach((l, i) => {
    for (const k of l.numbers) {
      if (held.has(k)) continue
      const list = by.get(k)
      if (list) list.push(i)
      else by.set(k, [i])
    }
  })
  const seen = new Uint8Array(laws.length)
  const near = (i: number) => {
    const out = new Set<number>()
    for (const k of laws[i].numbers) for (const j of by.get(k) ?? []) if (!seen[j]) out.add(j)
    return [...out]
  }
  const order: number[] = []
  const from = (start: number) => {
    seen[start] = 1
    const list = [start]
    for (let at = 0; at < list.length; at++)
      for (const j of near(list[at])) {
        if (seen[j]) continue
        seen[j] = 1
        list.push(j)
      }
    return list
  }
  for (let i = 0; i < laws.length; i++) {
    if (seen[i]) continue
    // The walk starts anew from where it ended: from one end of what hangs together.
    const list = from(i)
    for (const j of list) seen[j] = 0
    order.push(...from(list[list.length - 1]))
  }
  return order.map((i) => laws[i])
}
