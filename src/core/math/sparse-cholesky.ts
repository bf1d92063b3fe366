/**
 * Large sparse symmetric systems: factors in an order by nested dissection of the places that the unknowns stand at (George 1973), by
 * columns with the elimination tree (Davis 2006, "Direct Methods for Sparse Linear Systems", ch. 4).
 */

/** Entries of a symmetric matrix as they come; those at one place are added. Both (i, j) and (j, i) mean the same entry: one is given. */
export class SparseSum {
  private rows: Int32Array = new Int32Array(1024)
  private columns: Int32Array = new Int32Array(1024)
  private values: Float64Array = new Float64Array(1024)
  private count = 0

  constructor(readonly size: number) {}

  add(i: number, j: number, value: number): void {
    if (!value) return
    if (this.count === this.rows.length) {
      const more = <T extends Int32Array | Float64Array>(from: T, to: T): T => {
        to.set(from)
        return to
      }
      this.rows = more(this.rows, new Int32Array(2 * this.count))
      this.columns = more(this.columns, new Int32Array(2 * this.count))
      this.values = more(this.values, new Float64Array(2 * this.count))
    }
    this.rows[this.count] = Math.min(i, j)
    this.columns[this.count] = Math.max(i, j)
    this.values[this.count++] = value
  }

  /** Upper half by columns, each entry once, rows within a column in no order. */
  columnsOf(place: Int32Array): Columns {
    const n = this.size
    const start = new Int32Array(n + 1)
    const at = (e: number): [number, number] => {
      const [i, j] = [place[this.rows[e]], place[this.columns[e]]]
      return i < j ? [i, j] : [j, i]
    }
    for (let e = 0; e < this.count; e++) start[at(e)[1] + 1]++
    for (let c = 0; c < n; c++) start[c + 1] += start[c]
    const fill = start.slice(0, n)
    const row = new Int32Array(this.count)
    const value = new Float64Array(this.count)
    for (let e = 0; e < this.count; e++) {
      const [i, j] = at(e)
      row[fill[j]] = i
      value[fill[j]++] = this.values[e]
    }
    // Entries at one place are added.
    const seen = new Int32Array(n).fill(-1)
    let to = 0
    for (let c = 0; c < n; c++) {
      const from = start[c]
      start[c] = to
      const first = to
      for (let e = from; e < fill[c]; e++) {
        const known = seen[row[e]]
        if (known >= first) value[known] += value[e]
        else {
          seen[row[e]] = to
          row[to] = row[e]
          value[to++] = value[e]
        }
      }
    }
    start[n] = to
    return { start, row: row.subarray(0, to), value: value.subarray(0, to) }
  }

  /** Unknowns that stand in one entry, as lists of neighbours. */
  neighbours(): { start: Int32Array; list: Int32Array } {
    const start = new Int32Array(this.size + 1)
    for (let e = 0; e < this.count; e++)
      if (this.rows[e] !== this.columns[e]) {
        start[this.rows[e] + 1]++
        start[this.columns[e] + 1]++
      }
    for (let c = 0; c < this.size; c++) start[c + 1] += start[c]
    const fill = start.slice(0, this.size)
    const list = new Int32Array(start[this.size])
    for (let e = 0; e < this.count; e++) {
      const [i, j] = [this.rows[e], this.columns[e]]
      if (i === j) continue
      list[fill[i]++] = j
      list[fill[j]++] = i
    }
    return { start, list }
  }
}

interface Columns {
  readonly start: Int32Array
  readonly row: Int32Array
  readonly value: Float64Array
}

/** Groups of no more unknowns than this are not divided further. */
const leastDivided = 24

/**
 * The order in which unknowns are eliminated: halves first, then what lies between them.
 * @param places x y z of each unknown
 */
function dissect(places: ArrayLike<number>, { start, list }: { start: Int32Array; list: Int32Array }): Int32Array {
  const n = start.length - 1
  const order = new Int32Array(n)
  const side = new Uint8Array(n)
  let end = n
  const divide = (group: Int32Array): void => {
    if (group.length <= leastDivided) {
      for (let i = group.length - 1; i >= 0; i--) order[--end] = group[i]
      return
    }
    const low = [Infinity, Infinity, Infinity]
    const high = [-Infinity, -Infinity, -Infinity]
    for (const u of group)
      for (let k = 0; k < 3; k++) {
        low[k] = Math.min(low[k], places[3 * u + k])
        high[k] = Math.max(high[k], places[3 * u + k])
      }
    const extent = high.map((h, k) => h - low[k])
    const axis = extent.indexOf(Math.max(...extent))
    const sorted = group.slice().sort((a, b) => places[3 * a + axis] - places[3 * b + axis] || a - b)
    const half = sorted.length >> 1
    for (let i = 0; i < sorted.length; i++) side[sorted[i]] = i < half ? 1 : 2
    // Of the first half what touches the second is between.
    const first: number[] = []
    const between: number[] = []
    for (let i = 0; i < half; i++) {
      const u = sorted[i]
      let touches = false
      for (let e = start[u]; e < start[u + 1] && !touches; e++) touches = side[list[e]] === 2
      ;(touches ? between : first).push(u)
    }
    for (const u of sorted) side[u] = 0
    for (let i = between.length - 1; i >= 0; i--) order[--end] = between[i]
    divide(sorted.slice(half))
    divide(Int32Array.from(first))
  }
  divide(Int32Array.from({ length: n }, (_, i) => i))
  return order
}

/** A factored system: solved as often as wanted, for the price of two walks through the factor. */
export class SparseFactor {
  private readonly place: Int32Array
  private readonly work: Float64Array

  private constructor(
    readonly size: number,
    private readonly order: Int32Array,
    private readonly start: Int32Array,
    private readonly row: Int32Array,
    private readonly value: Float64Array,
  ) {
    this.place = placesIn(order)
    this.work = new Float64Array(size)
  }

  /** Entries of the factor. */
  get entries(): number {
    return this.row.length
  }

  /**
   * @param places x y z of each unknown, by which halves are told
   * @returns null where the matrix is not positive definite
   */
  static of(sum: SparseSum, places: ArrayLike<number>): SparseFactor | null {
    const n = sum.size
    const order = dissect(places, sum.neighbours())
    const a = sum.columnsOf(placesIn(order))
    // The elimination tree, and from it how many entries each column of the factor has.
    const parent = new Int32Array(n).fill(-1)
    const ancestor = new Int32Array(n).fill(-1)
    for (let k = 0; k < n; k++)
      for (let e = a.start[k]; e < a.start[k + 1]; e++)
        for (let i = a.row[e]; i !== -1 && i < k;) {
          const next = ancestor[i]
          ancestor[i] = k
          if (next === -1) parent[i] = k
          i = next
        }
    const mark = new Int32Array(n).fill(-1)
    const count = new Int32Array(n).fill(1)
    for (let k = 0; k < n; k++) {
      mark[k] = k
      for (let e = a.start[k]; e < a.start[k + 1]; e++)
        for (let i = a.row[e]; mark[i] !== k; i = parent[i]) {
          mark[i] = k
          count[i]++
        }
    }
    const start = new Int32Array(n + 1)
    for (let c = 0; c < n; c++) start[c + 1] = start[c] + count[c]
    const row = new Int32Array(start[n])
    const value = new Float64Array(start[n])
    const fill = start.slice(0, n)
    const x = new Float64Array(n)
    const reach = new Int32Array(n)
    const stack = new Int32Array(n)
    mark.fill(-1)
    for (let k = 0; k < n; k++) {
      // The row's pattern: what the entries of the column reach in the tree, in its order.
      let top = n
      mark[k] = k
      let own = 0
      for (let e = a.start[k]; e < a.start[k + 1]; e++) {
        const i = a.row[e]
        if (i === k) {
          own += a.value[e]
          continue
        }
        x[i] += a.value[e]
        let length = 0
        for (let j = i; mark[j] !== k; j = parent[j]) {
          stack[length++] = j
          mark[j] = k
        }
        while (length > 0) reach[--top] = stack[--length]
      }
      for (let p = top; p < n; p++) {
        const i = reach[p]
        const first = start[i]
        const s = x[i] / value[first]
        x[i] = 0
        const last = fill[i]
        for (let e = first + 1; e < last; e++) x[row[e]] -= value[e] * s
        own -= s * s
        row[last] = k
        value[last] = s
        fill[i] = last + 1
      }
      if (!(own > 0)) return null
      row[fill[k]] = k
      value[fill[k]++] = Math.sqrt(own)
    }
    return new SparseFactor(n, order, start, row, value)
  }

  /** x of A x = b. */
  solve(b: ArrayLike<number>): Float64Array {
    const { size: n, order, start, row, value, work: x } = this
    for (let i = 0; i < n; i++) x[i] = b[order[i]]
    for (let c = 0; c < n; c++) {
      const v = (x[c] /= value[start[c]])
      if (v !== 0) for (let e = start[c] + 1; e < start[c + 1]; e++) x[row[e]] -= value[e] * v
    }
    for (let c = n - 1; c >= 0; c--) {
      let v = x[c]
      for (let e = start[c] + 1; e < start[c + 1]; e++) v -= value[e] * x[row[e]]
      x[c] = v / value[start[c]]
    }
    const out = new Float64Array(n)
    for (let i = 0; i < n; i++) out[i] = x[this.place[i]]
    return out
  }
}

function placesIn(order: Int32Array): Int32Array {
  const place = new Int32Array(order.length)
  order.forEach((u, i) => (place[u] = i))
  return place
}
