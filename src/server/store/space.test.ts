import { afterEach, describe, expect, it } from '@jest/globals'
import { tmpdir } from 'node:os'
import { freeSpace, fullDisk, requireSpace } from './space'

const set = (mb: string | undefined) => {
  if (mb === undefined) delete process.env.GLUE_BENCH_RESERVE_MB
  else process.env.GLUE_BENCH_RESERVE_MB = mb
}
afterEach(() => set(undefined))

describe('room on the disk', () => {
  it('is enough for little, and refused in a sentence with what is left where the reserve would be touched', async () => {
    set('0')
    await requireSpace(1, tmpdir())
    const free = (await freeSpace(tmpdir()))!
    expect(free).toBeGreaterThan(2 ** 20)
    // What is written lies in the log and in the table: two thirds of what is free are too much.
    await expect(requireSpace((2 * free) / 3, tmpdir())).rejects.toMatchObject({ code: 'disk-full' })
    set(String(2 ** 30))
    await expect(requireSpace(1, tmpdir())).rejects.toThrow(/^The disk has too little room: \d+ MB are left/)
    expect(await fullDisk(tmpdir())).toBeNull()
  })
  it('is not asked for where nobody knows of it: another machine, a folder that is not there', async () => {
    set(String(2 ** 30))
    await requireSpace(1)
    expect(await freeSpace('/nowhere')).toBeNull()
    await requireSpace(1, '/nowhere')
    expect(await fullDisk('/nowhere')).toBeNull()
  })
})
