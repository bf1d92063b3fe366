/** A whole bench of a test's own: web server, compute processes and database under their supervisor, in a folder of its own. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'

export interface Started {
  address: string
  data: string
  env: Record<string, string>
  passPhrase: string | null
  /** Process ids of the parts that run now. */
  pids(): Record<string, number>
  stop(): Promise<void>
}
interface Options {
  data: string
  host?: string
  demo?: boolean
  computeProcesses?: number
  extra?: Record<string, string>
}

/** Starts a bench; `end` stops it and removes its folder. */
export async function startedBench(options: Partial<Options> = {}): Promise<Started & { end(): Promise<void> }> {
  const { startAll } = (await import(path.resolve('scripts/start.mjs'))) as {
    startAll(o: Options): Promise<Started>
  }
  const data = options.data ?? mkdtempSync(path.join(tmpdir(), 'glue-bench-all-'))
  const all = await startAll({ demo: false, ...options, data })
  return {
    ...all,
    async end() {
      await all.stop()
      rmSync(data, { recursive: true, force: true })
    },
  }
}
