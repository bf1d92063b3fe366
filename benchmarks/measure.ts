/** How figures are taken: alternating pairs in one process after a warm-up, medians of 5. */

export const median = (v: readonly number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1]

export async function time(work: () => unknown): Promise<number> {
  const from = performance.now()
  await work()
  return performance.now() - from
}

/** Medians of both and the median of ours over the median of the plain one. */
export async function pair(
  ours: () => unknown,
  plain: () => unknown,
  runs = 5,
): Promise<{ ms: number; plainMs: number; ratio: number }> {
  const a: number[] = [],
    b: number[] = []
  for (let i = 0; i <= runs; i++) {
    const x = await time(ours),
      y = await time(plain)
    if (i > 0) {
      a.push(x)
      b.push(y)
    }
  }
  return {
    ms: Math.round(median(a)),
    plainMs: Math.round(median(b)),
    ratio: Number((median(a) / median(b)).toFixed(2)),
  }
}

/** Median time of one call after a warm-up. */
export async function single(work: () => unknown, runs = 5): Promise<number> {
  await work()
  const list: number[] = []
  for (let i = 0; i < runs; i++) list.push(await time(work))
  return median(list)
}

/** How the cost of `work` grows from a small to a large input, over the growth of the input itself: 1 is linear. */
export async function growth<T>(
  small: T,
  large: T,
  sizeOf: (input: T) => number,
  work: (input: T) => unknown,
  runs = 3,
): Promise<{ smallMs: number; largeMs: number; growth: number; ofLinear: number }> {
  const a = await single(() => work(small), runs),
    b = await single(() => work(large), runs)
  const linear = sizeOf(large) / sizeOf(small)
  return {
    smallMs: Math.round(a),
    largeMs: Math.round(b),
    growth: Number((b / a).toFixed(2)),
    ofLinear: Number((b / a / linear).toFixed(2)),
  }
}
