/** Processor time, for laws of growth: how fast a machine is, and what runs beside, falls out of a ratio. */

/** Processor time that work takes, ms: the least of three goes. */
export function processorTime(work: () => void): number {
  return Math.min(
    ...[1, 2, 3].map(() => {
      const from = process.cpuUsage()
      work()
      const { user, system } = process.cpuUsage(from)
      return (user + system) / 1000
    }),
  )
}

/** How many times as long work takes on `large` as on `small`, after a go to warm up. */
export function growth(work: (n: number) => void, small: number, large: number): number {
  work(small)
  return processorTime(() => work(large)) / processorTime(() => work(small))
}
