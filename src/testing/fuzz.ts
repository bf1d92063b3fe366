/** Runs the fuzzer as it is run by hand, for checks. */
import { spawnSync } from 'node:child_process'

export interface FuzzReport {
  ok: boolean
  hostile?: { name: string; ok: boolean; said: string; ms: number; mb: number }[]
  [format: string]: unknown
}

export function fuzz(...args: string[]): FuzzReport {
  const done = spawnSync(process.execPath, ['.build/fuzz.mjs', ...args], { encoding: 'utf8', maxBuffer: 1 << 26 })
  return JSON.parse(done.stdout) as FuzzReport
}
