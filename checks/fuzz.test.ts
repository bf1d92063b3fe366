/** The readers against damaged files of every format, in processes that can be ended. */
import { describe, expect, it } from '@jest/globals'
import { formats as known } from '@/core/formats/registry'
import { formats } from '../fuzz/samples'
import { fuzz } from '@/testing/fuzz'
import { longRun } from '@/testing/long'

describe('readers', () => {
  it('are all damaged: there is a sample of every format', () => {
    for (const { name } of known) expect(formats).toContain(name)
  })
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
