/** Straight pieces put together. */
import type { Place } from './drawing'

/** Pieces that share ends as rows, each as long as it runs without a fork; ends nearer than `close` are one. */
export function chained(pieces: readonly (readonly [Place, Place])[], close: number) {
  const number = new Map<string, number>()
  const places: Place[] = []
  const nodeOf = (p: Place) => {
    const key = `${Math.round(p[0] / close)} ${Math.round(p[1] / close)}`
    let n = number.get(key)
    if (n === undefined) {
      n = places.push(p) - 1
      number.set(key, n)
    }
    return n
  }
  const seen = new Set<string>()
  const edges: [number, number][] = []
  for (const [a, b] of pieces) {
    const [p, q] = [nodeOf(a), nodeOf(b)]
    const key = p < q ? `${p} ${q}` : `${q} ${p}`
    if (p === q || seen.has(key)) continue
    seen.add(key)
    edges.push([p, q])
  }
  const at = new Map<number, number[]>()
  edges.forEach(([p, q], i) => {
    for (const n of [p, q]) at.set(n, [...(at.get(n) ?? []), i])
  })
  const used = new Uint8Array(edges.length)
  const rows: { places: Place[]; closed: boolean }[] = []
  const follow = (start: number, first: number) => {
    const list = [start]
    let n = start
    for (let e = first; ;) {
      used[e] = 1
      n = edges[e][0] === n ? edges[e][1] : edges[e][0]
      list.push(n)
      const next = at.get(n)!.filter((k) => !used[k])
      if (at.get(n)!.length !== 2 || next.length !== 1) break
      e = next[0]
    }
    const closed = n === start && list.length > 3
    rows.push({ places: (closed ? list.slice(0, -1) : list).map((k) => places[k]), closed })
  }
  edges.forEach(([p, q], e) => {
    for (const n of [p, q]) if (!used[e] && at.get(n)!.length !== 2) follow(n, e)
  })
  edges.forEach(([p], e) => {
    if (!used[e]) follow(p, e)
  })
  return rows
}
