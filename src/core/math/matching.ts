/** Pairs in a graph: as many as there can be, from some to begin with (Edmonds 1965; blossoms are shrunk by their base, Gabow 1976). */

/**
 * Enlarges a matching by paths that alternate, until none is left.
 * @param beside neighbours of each node
 * @param mate partner of each node or -1; changed in place
 * @returns nodes that stay alone
 */
export function enlargeMatching(beside: readonly (readonly number[])[], mate: Int32Array): number[] {
  const n = mate.length
  const parent = new Int32Array(n)
  const base = new Int32Array(n)
  const used = new Uint8Array(n)
  const inBlossom = new Uint8Array(n)
  const touched: number[] = []
  let queue: number[] = []

  const commonBase = (a: number, b: number): number => {
    const on = new Set<number>()
    for (let v = base[a]; ;) {
      on.add(v)
      if (mate[v] < 0) break
      v = base[parent[mate[v]]]
    }
    let v = base[b]
    while (!on.has(v)) v = base[parent[mate[v]]]
    return v
  }
  const markPath = (from: number, root: number, child: number) => {
    let v = from
    while (base[v] !== root) {
      inBlossom[base[v]] = inBlossom[base[mate[v]]] = 1
      parent[v] = child
      child = mate[v]
      v = parent[mate[v]]
    }
  }
  const findPath = (root: number): number => {
    used.fill(0)
    parent.fill(-1)
    for (let i = 0; i < n; i++) base[i] = i
    used[root] = 1
    touched.length = 0
    touched.push(root)
    queue = [root]
    for (let at = 0; at < queue.length; at++) {
      const v = queue[at]
      for (const w of beside[v]) {
        if (base[v] === base[w] || mate[v] === w) continue
        if (w === root || (mate[w] >= 0 && parent[mate[w]] >= 0)) {
          const b = commonBase(v, w)
          inBlossom.fill(0)
          markPath(v, b, w)
          markPath(w, b, v)
          for (let i = 0; i < n; i++)
            if (inBlossom[base[i]]) {
              base[i] = b
              if (!used[i]) {
                used[i] = 1
                queue.push(i)
              }
            }
        } else if (parent[w] < 0) {
          parent[w] = v
          if (mate[w] < 0) return w
          used[mate[w]] = 1
          queue.push(mate[w])
        }
      }
    }
    return -1
  }
  const alone: number[] = []
  for (let root = 0; root < n; root++) {
    if (mate[root] >= 0) continue
    let v = findPath(root)
    if (v < 0) alone.push(root)
    while (v >= 0) {
      const p = parent[v]
      const next = mate[p]
      mate[v] = p
      mate[p] = v
      v = next
    }
  }
  return alone
}
