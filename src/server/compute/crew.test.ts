import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { Crew, Ended, machineBytes, residentBytes } from './crew'

/** A member that does what it is told, well or badly. */
const program = `
const held = []
const send = (m) => process.send(m)
const MB = 2 ** 20
const tasks = {
  add: ([a, b]) => a + b,
  tell: () => { send({ message: 'half way' }); return 'told' },
  loop: () => { for (;;); },
  slow: ([ms]) => { send({ within: ms }); for (;;); },
  idle: async ([ms]) => { send({ within: ms }); await new Promise((r) => setTimeout(r, 4 * ms)); return 'in time' },
  quick: ([ms]) => { send({ within: ms }); send({ within: null }); return 'in time' },
  buffers: () => { for (;;) held.push(new Uint8Array(8 * MB).fill(1)) },
  kernel: () => { const m = new WebAssembly.Memory({ initial: 1, maximum: 65536 }); for (;;) { m.grow(128); new Uint8Array(m.buffer).fill(1, m.buffer.byteLength - 128 * 65536) } },
  heap: () => { for (;;) held.push({ a: held.length, b: String(held.length) }) },
  crash: () => { process.kill(process.pid, 'SIGSEGV'); for (;;); },
  exit: () => process.exit(3),
  spent: () => 'spent ' + process.pid,
}
process.on('message', async ({ task }) => send({ result: await tasks[task[0]](task.slice(1)) }))
process.on('disconnect', () => process.exit(0))
`
const memory = 300 * 2 ** 20
let folder: string
let crew: Crew<[string, ...number[]], unknown, string>
const heard: string[] = []
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'glue-bench-crew-'))
  writeFileSync(path.join(folder, 'member.mjs'), program)
  crew = new Crew({
    file: path.join(folder, 'member.mjs'),
    size: 2,
    memory,
    hear: (_t, m) => heard.push(m),
    spent: (r) => String(r).startsWith('spent'),
  })
})
afterAll(() => {
  crew.end()
  rmSync(folder, { recursive: true, force: true })
})
const why = (task: [string, ...number[]], signal?: AbortSignal) =>
  crew.run(task, signal).then(
    (r) => `result ${String(r)}`,
    (e: unknown) => (e instanceof Ended ? e.why : String(e)),
  )

describe('a crew', () => {
  it('gives results and what is told on the way, more tasks than members', async () => {
    expect(await Promise.all(Array.from({ length: 9 }, (_, i) => crew.run(['add', i, 1])))).toEqual([
      1, 2, 3, 4, 5, 6, 7, 8, 9,
    ])
    expect(await crew.run(['tell'])).toBe('told')
    expect(heard).toEqual(['half way'])
  })
  it.each([
    ['buffers', 'memory'],
    ['kernel', 'memory'],
    ['heap', 'memory'],
    ['crash', 'crashed'],
    ['exit', 'crashed'],
  ])(
    'ends a member that goes wrong (%s: %s) while another works on, and the next task succeeds',
    async (what, expected) => {
      const other = crew.run(['add', 1, 1])
      expect(await why([what])).toBe(expected)
      expect(await other).toBe(2)
      expect(await Promise.all([crew.run(['add', 2, 2]), crew.run(['add', 3, 3])])).toEqual([4, 6])
    },
  )
  it('ends what takes more of a processor than it may, and not what is done in time or had to wait', async () => {
    expect(await why(['slow', 200])).toBe('time')
    expect(await why(['quick', 200])).toBe('result in time')
    expect(await why(['idle', 200])).toBe('result in time')
    expect(await crew.run(['add', 2, 2])).toBe(4)
  })
  it('stops on request, under way or still waiting', async () => {
    const stops = [1, 2, 3].map(() => new AbortController())
    const ends = stops.map((s) => why(['loop'], s.signal)) // two members: the third waits
    stops[2].abort()
    expect(await ends[2]).toBe('stopped')
    stops[0].abort()
    stops[1].abort()
    expect(await Promise.all(ends)).toEqual(['stopped', 'stopped', 'stopped'])
    expect(await why(['add', 1, 1], AbortSignal.abort())).toBe('stopped')
    expect(await crew.run(['add', 2, 5])).toBe(7)
  })
  it('gives a member that is spent no further task, though others wait', async () => {
    const pids = (await Promise.all(Array.from({ length: 6 }, () => crew.run(['spent'])))) as string[]
    expect(new Set(pids).size).toBe(6)
    expect(await crew.run(['add', 4, 4])).toBe(8)
  })
  it('knows what a process and the machine hold', () => {
    expect(residentBytes(process.pid)).toBeGreaterThan(30 * 2 ** 20)
    expect(residentBytes(2 ** 30)).toBe(0)
    expect(machineBytes()).toBeGreaterThan(2 ** 28)
  })
})
