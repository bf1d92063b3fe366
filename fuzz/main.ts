/** `fuzz [--minutes N | --files N] [FORMAT]...`: damaged files of every format and the hostile set; prints counts as JSON. Exit 1 when a reader failed. */
import path from 'node:path'
import { parseArgs } from 'node:util'
import { Crew, Ended } from '@/server/compute/crew'
import type { FuzzMessage, FuzzResult, FuzzTask } from './child'
import { hostile } from './hostile'
import { formats, type Format } from './samples'

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { minutes: { type: 'string' }, files: { type: 'string' }, seed: { type: 'string' } },
})
const unknown = positionals.filter((p) => !(formats as readonly string[]).includes(p) && p !== 'hostile')
const minutes = Number(values.minutes ?? 1),
  files = values.files === undefined ? null : Number(values.files)
if (unknown.length || !(minutes > 0) || !(files === null || files > 0)) {
  process.stderr.write(
    `usage: glue-bench fuzz [--minutes N | --files N] [--seed N] [hostile | ${formats.join(' | ')}]...\n`,
  )
  process.exit(2)
}
const start = Number(values.seed ?? Math.floor(Date.now() / 1000) % 1e6) * 1000
const wanted = positionals.length ? positionals : ['hostile', ...formats]
/** A file may take this many times its size in memory, and this much on top, bytes. */
const memoryTimes = 10,
  memoryMore = 200 * 2 ** 20
/** No hostile file may take longer, ms. */
const longest = 5000

const at = new Map<FuzzTask, number>()
const newCrew = (size: number) =>
  new Crew<FuzzTask, FuzzResult, FuzzMessage>({
    file: path.join(import.meta.dirname, 'fuzz-child.mjs'),
    size,
    memory: 3 * 2 ** 30,
    execArgv: ['--expose-gc'],
    hear: (task, { seed }) => at.set(task, seed),
    // A kernel trapped on the way.
    spent: (result, task) => task.do === 'damage' && result.done < task.count,
  })

interface Counts {
  files: number
  read: number
  refused: number
  worstMs: number
  ended: { seed: number; why: string }[]
  faults: { seed: number; error: string }[]
}

/** The exact kernel takes this many times longer for a file than other readers. */
const stepTimes = 20

/** Damages files of a format: as many as are asked for, or for so long, ms. */
async function damage(format: Format, ms: number): Promise<Counts> {
  const most = files === null ? Infinity : Math.ceil(format === 'step' ? files / stepTimes : files)
  const size = format === 'step' ? 5 : 100
  const crew = newCrew(2)
  const counts: Counts = { files: 0, read: 0, refused: 0, worstMs: 0, ended: [], faults: [] }
  const until = Date.now() + ms
  let seed = start
  const lane = async () => {
    while (seed - start < most && (files !== null || Date.now() < until)) {
      const task: FuzzTask = { do: 'damage', format, seed, count: Math.min(size, most - (seed - start)) }
      seed += task.count
      try {
        const r = await crew.run(task)
        counts.files += r.done
        counts.read += r.read
        counts.refused += r.refused
        counts.faults.push(...r.faults)
        counts.worstMs = Math.max(counts.worstMs, Math.round(r.worst))
      } catch (error) {
        if (!(error instanceof Ended)) throw error
        counts.ended.push({ seed: at.get(task) ?? task.seed, why: error.message })
        counts.files += (at.get(task) ?? task.seed) - task.seed + 1
      }
    }
  }
  await Promise.all([lane(), lane()])
  crew.end()
  return counts
}

async function hostileSet() {
  const out = []
  for (const [index, h] of hostile.entries()) {
    const crew = newCrew(1) // a process of its own, so that its memory is its own
    let r: FuzzResult | null = null
    let why = ''
    try {
      r = await crew.run({ do: 'hostile', index })
    } catch (error) {
      why = String(error)
    }
    crew.end()
    const ok =
      !!r &&
      (typeof h.gives === 'number' ? r.said === `${h.gives} triangles` : h.gives.test(r.said)) &&
      !r.said.startsWith('FAULT') &&
      r.worst < longest &&
      r.peak < memoryTimes * r.bytes + memoryMore
    out.push({
      name: h.name,
      ok,
      bytes: r?.bytes,
      ms: r && Math.round(r.worst),
      mb: r && Math.round(r.peak / 2 ** 20),
      said: r?.said ?? why,
    })
  }
  return out
}

const share = (minutes * 60_000) / Math.max(1, wanted.filter((w) => w !== 'hostile').length)
const report: Record<string, unknown> = { seed: start / 1000 }
let ok = true
for (const name of wanted) {
  process.stderr.write(`${name}\n`)
  if (name === 'hostile') {
    const set = await hostileSet()
    ok &&= set.every((h) => h.ok)
    report.hostile = set
  } else {
    const counts = await damage(name as Format, share)
    // The exact kernel may go in circles or trap on a damaged file: it is ended, and the sentence says so. All else is a fault.
    ok &&= counts.faults.length === 0 && (name === 'step' || counts.ended.length === 0) && counts.files > 0
    report[name] = counts
  }
}
process.stdout.write(`${JSON.stringify({ ok, ...report }, null, 2)}\n`)
process.exit(ok ? 0 : 1)
