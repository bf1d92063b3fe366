/** The readers against damaged files of every format, and against the kept set of hostile ones; each in a process that can be ended. */
import { describe, expect, it } from '@jest/globals'
import { spawnSync } from 'node:child_process'
import { hostile } from '../fuzz/hostile'
import { formats as known } from '@/core/formats/registry'
import { formats } from '../fuzz/samples'
import { longRun } from '@/testing/long'

interface Report {
  ok: boolean
  hostile?: { name: string; ok: boolean; said: string; ms: number; mb: number }[]
  [format: string]: unknown
}

function fuzz(...args: string[]): Report {
  const done = spawnSync(process.execPath, ['.build/fuzz.mjs', ...args], { encoding: 'utf8', maxBuffer: 1 << 26 })
  return JSON.parse(done.stdout) as Report
}

describe('readers', () => {
  it('are all damaged: there is a sample of every format', () => {
    for (const { name } of known) expect(formats).toContain(name)
  })
  it('read or refuse every hostile file within 5 s and 10 times its size + 200 MB', () => {
    const report = fuzz('hostile')
    expect(report.hostile).toHaveLength(hostile.length)
    expect(report.hostile!.filter((h) => !h.ok)).toEqual([])
  }, 300_000)
  it('give a result or a sentence for damaged files of every format', () => {
    // The same files at every run: what is found once is found again.
    const files = longRun ? 4000 : 200
    const report = fuzz('--files', String(files), '--seed', '7', ...formats)
    for (const f of formats) {
      const counts = report[f] as { files: number; read: number; refused: number; faults: unknown[] }
      expect({ format: f, faults: counts.faults }).toEqual({ format: f, faults: [] })
      expect(counts.files).toBeGreaterThanOrEqual(f === 'step' ? files / 20 : files)
      expect(counts.read + counts.refused).toBeGreaterThan(0)
    }
    expect(report.ok).toBe(true)
  }, 1_800_000)
})
