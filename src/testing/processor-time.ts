/** Processor time that this process has used, ms: unlike the time on the wall it is the same beside other work. */
export function processorTime(): number {
  const { user, system } = process.cpuUsage()
  return (user + system) / 1000
}
