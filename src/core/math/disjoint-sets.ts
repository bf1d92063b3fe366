/** Disjoint sets of whole numbers, by path halving (Tarjan & van Leeuwen 1984). */
export class DisjointSets {
  private readonly parent: Int32Array

  /** So many numbers from 0, each a set by itself. */
  constructor(count: number) {
    this.parent = Int32Array.from({ length: count }, (_, i) => i)
  }

  /** The number that stands for the set of `i`. */
  find(i: number): number {
    const { parent } = this
    while (parent[i] !== i) i = parent[i] = parent[parent[i]]
    return i
  }

  /** Makes the set of `i` part of the set of `of`, whose number stands for both. False: they were one already. */
  unite(i: number, of: number): boolean {
    const [a, b] = [this.find(i), this.find(of)]
    this.parent[a] = b
    return a !== b
  }

  /** The numbers by their sets; sets and numbers in order. */
  groups(): Map<number, number[]> {
    const out = new Map<number, number[]>()
    for (let i = 0; i < this.parent.length; i++) {
      const root = this.find(i)
      const list = out.get(root)
      if (list) list.push(i)
      else out.set(root, [i])
    }
    return out
  }
}
