/** The readers against the kept set of hostile files, each in a process of its own. */
import { describe, expect, it } from '@jest/globals'
import { fuzz } from '@/testing/fuzz'
import { hostile } from '../fuzz/hostile'

describe('readers', () => {
  it('read or refuse every hostile file within 5 s of a processor and 10 times its size + 200 MB', () => {
    const report = fuzz('hostile')
    expect(report.hostile).toHaveLength(hostile.length)
    expect(report.hostile!.filter((h) => !h.ok)).toEqual([])
  }, 300_000)
})
