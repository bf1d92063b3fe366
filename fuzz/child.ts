/** Reads damaged files, one after the other, in a process that can be ended when one of them never does. */
import { strToU8 } from 'fflate'
import { readFileSync } from 'node:fs'
import { StepError } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { readMeshFile } from '@/core/formats/read'
import { formatOf } from '@/core/formats/registry'
import { decodeBody, factsOf } from '@/core/kinds/registry'
import { isSpoilt } from '@/core/kernels/trap'
import { random } from '@/core/math/random'
import { parseRecipe } from '@/core/recipe/recipe'
import { hostile } from './hostile'
import { mutate } from './mutate'
import { sampleOf, zipModel, type Format } from './samples'

export type FuzzTask =
  | { do: 'damage'; format: Format; seed: number; count: number }
  | { do: 'hostile'; index: number }
  | { do: 'nothing' }
export interface FuzzResult {
  read: number
  refused: number
  /** Failures that are no sentence, with the seed that makes them. */
  faults: { seed: number; error: string }[]
  /** Longest processor time for one file, ms: what runs beside does not count. */
  worst: number
  /** Most memory the process has held, bytes (proc(5), VmHWM), and of the file. */
  peak: number
  bytes: number
  /** What came of a hostile file. */
  said: string
  /** Files done; fewer than asked when a kernel trapped and the process must go. */
  done: number
}
export interface FuzzMessage {
  seed: number
}

/** A time no file may take, ms; one that does ends the process and is named. */
const within = 10_000

const textual = new Set<Format>(['stl-text', 'obj', 'ply-text', 'off', '3mf', 'step', 'dxf', 'svg', 'recipe'])
const ending: Record<Format, string> = {
  ...{ stl: 'stl', 'stl-text': 'stl', obj: 'obj', ply: 'ply', 'ply-text': 'ply', off: 'off', '3mf': '3mf' },
  ...{ step: 'step', dxf: 'dxf', svg: 'svg', body: 'body', recipe: 'json' },
}

/** Reads as the bench does; gives the number of triangles, faces or steps. Throws what the reader throws. */
async function read(bytes: Uint8Array, name: string, format?: Format): Promise<number> {
  if (format === 'body' || name.endsWith('.body')) return Object.keys(factsOf(decodeBody(bytes)).figures).length
  if (format === 'recipe') {
    let value: unknown
    try {
      value = JSON.parse(new TextDecoder().decode(bytes))
    } catch {
      throw new StepError('bad-recipe', 'no JSON')
    }
    return parseRecipe(value).steps.length
  }
  const found = formatOf(bytes, name)
  if (found?.holds === 'exact bodies') return (await found.read(bytes, name, quiet)).length
  if (found?.holds === 'outlines') {
    const { layers } = found.read(bytes)
    for (const l of layers)
      if (l.drawing.points.some((p) => !p.every(Number.isFinite)))
        throw new Error('a coordinate that is no number came through')
    return layers.reduce((n, l) => n + l.drawing.curves.length, 0)
  }
  const { parts } = readMeshFile(bytes, name)
  for (const { mesh } of parts)
    for (const x of mesh.positions)
      if (!Number.isFinite(x)) throw new Error('a coordinate that is no number came through')
  return parts.reduce((n, p) => n + p.mesh.triangles.length / 3, 0)
}

const peak = () => Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))![1]) * 1024

const samples = new Map<Format, Uint8Array>()

async function damage(format: Format, seed: number, result: FuzzResult): Promise<void> {
  if (!samples.has(format)) samples.set(format, await sampleOf(format))
  const rng = random(seed)
  let bytes = mutate(samples.get(format)!, textual.has(format), rng)
  if (format === '3mf') {
    bytes = zipModel(
      bytes,
      rng.next() < 0.1
        ? mutate(
            strToU8('<Relationships><Relationship Type="/3dmodel" Target="/3D/3dmodel.model"/></Relationships>'),
            true,
            rng,
          )
        : undefined,
    )
    if (rng.next() < 0.3) bytes = mutate(bytes, false, rng)
  }
  const from = process.cpuUsage()
  try {
    await read(bytes, `x.${ending[format]}`, format)
    result.read++
  } catch (error) {
    if (error instanceof StepError && !/way it should not/.test(error.message)) result.refused++
    else result.faults.push({ seed, error: String(error).slice(0, 200) })
  }
  result.worst = Math.max(result.worst, msSince(from))
  result.done++
}

function msSince(from: NodeJS.CpuUsage): number {
  const { user, system } = process.cpuUsage(from)
  return (user + system) / 1000
}

async function work(task: FuzzTask): Promise<FuzzResult> {
  const result: FuzzResult = { read: 0, refused: 0, faults: [], worst: 0, peak: 0, bytes: 0, said: '', done: 0 }
  if (task.do === 'damage')
    for (let i = 0; i < task.count && !isSpoilt(); i++) {
      process.send!({ message: { seed: task.seed + i } })
      process.send!({ within })
      await damage(task.format, task.seed + i, result)
    }
  else if (task.do === 'hostile') {
    const { bytes: make, file } = hostile[task.index]
    const bytes = make()
    result.bytes = bytes.length
    // What making the file took is not the reader's.
    global.gc?.()
    const before = process.memoryUsage().rss
    process.send!({ within })
    const from = process.cpuUsage()
    try {
      result.said = `${await read(bytes, file)} triangles`
    } catch (error) {
      result.said = error instanceof StepError ? error.message : `FAULT ${String(error)}`
    }
    result.worst = msSince(from)
    result.peak = Math.max(0, peak() - before)
    result.done = 1
  }
  process.send!({ within: null })
  return result
}

process.on('message', ({ task }: { task: FuzzTask }) => void work(task).then((result) => process.send!({ result })))
process.on('disconnect', () => process.exit(0))
