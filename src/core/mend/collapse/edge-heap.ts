/** A heap of edges by cost, on typed arrays that grow: entries are not taken back, but told by their stamp to be out of date. */
export class EdgeHeap {
  private cost = new Float64Array(1024)
  private a = new Int32Array(1024)
  private b = new Int32Array(1024)
  private stamp = new Int32Array(1024)
  size = 0
  /** The entry last taken off. */
  readonly top = { cost: 0, a: 0, b: 0, stamp: 0 }

  push(cost: number, a: number, b: number, stamp: number): void {
    if (this.size === this.cost.length) this.grow()
    let i = this.size++
    while (i > 0) {
      const up = (i - 1) >> 1
      if (this.cost[up] <= cost) break
      this.move(up, i)
      i = up
    }
    this.set(i, cost, a, b, stamp)
  }

  /** Takes the cheapest off and leaves it in `top`; false when there is none. */
  pop(): boolean {
    if (!this.size) return false
    const { top } = this
    top.cost = this.cost[0]
    top.a = this.a[0]
    top.b = this.b[0]
    top.stamp = this.stamp[0]
    const last = --this.size
    const cost = this.cost[last]
    let i = 0
    for (;;) {
      let child = 2 * i + 1
      if (child >= last) break
      if (child + 1 < last && this.cost[child + 1] < this.cost[child]) child++
      if (this.cost[child] >= cost) break
      this.move(child, i)
      i = child
    }
    this.move(last, i)
    return true
  }

  private grow(): void {
    const doubled = <T extends Float64Array | Int32Array>(from: T, to: T): T => {
      to.set(from as never)
      return to
    }
    const n = 2 * this.size
    this.cost = doubled(this.cost, new Float64Array(n))
    this.a = doubled(this.a, new Int32Array(n))
    this.b = doubled(this.b, new Int32Array(n))
    this.stamp = doubled(this.stamp, new Int32Array(n))
  }

  private set(i: number, cost: number, a: number, b: number, stamp: number): void {
    this.cost[i] = cost
    this.a[i] = a
    this.b[i] = b
    this.stamp[i] = stamp
  }

  private move(from: number, to: number): void {
    this.set(to, this.cost[from], this.a[from], this.b[from], this.stamp[from])
  }
}
