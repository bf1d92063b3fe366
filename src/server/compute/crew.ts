/**
 * A crew of child processes that compute, one task at a time each. A process and not a thread, so that one limit holds all of its memory
 * (heap, array buffers, kernels) and it can be ended at any moment without harm to another.
 */
import { fork, type ChildProcess } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { totalmem } from 'node:os'

/** Why a task ended without a result. */
export type Why = 'stopped' | 'memory' | 'time' | 'crashed'
export class Ended extends Error {
  constructor(
    readonly why: Why,
    /** How the process ended, or the limit that was passed. */
    readonly detail: string,
  ) {
    super(`${why}: ${detail}`)
  }
}

/**
 * What a child sends: the end of its task, something on the way, or how much of a processor the next thing may take (ms; null: as much as
 * it likes).
 */
export type FromChild<Result, Message> = { result: Result } | { message: Message } | { within: number | null }

interface Pending<Task, Result> {
  task: Task
  done(result: Result): void
  failed(error: Error): void
}
interface Member<Task, Result> {
  child: ChildProcess
  pending: Pending<Task, Result> | null
  why: Ended | null
  /** What the thing under way may take, ms of a processor, and what the process had taken when it began. */
  bound: { ms: number; from: number } | null
}

export interface CrewOptions<Task, Result, Message> {
  /** The program of a member. */
  readonly file: string
  readonly size: number
  /** Bytes a member may hold in memory. */
  readonly memory: number
  /** Further options of Node for a member. */
  readonly execArgv?: readonly string[]
  hear(task: Task, message: Message): void
  /** Whether a member that gave this result is to be replaced before it gets another task. */
  spent?(result: Result, task: Task): boolean
}

/** How often the memory and the processor time of busy members are looked at, ms. */
const lookEvery = 150
const pageSize = 4096

/** Bytes that a process holds in memory now (proc(5), statm: resident pages); 0 when it is gone. */
export function residentBytes(pid: number): number {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * pageSize
  } catch {
    return 0
  }
}

/** Linux counts processor time for programs in hundredths of a second, whatever the kernel's own clock (time(7)). */
const tick = 10

/** Processor time that a process has taken so far, ms (proc(5), stat: utime and stime); 0 when it is gone. */
export function processorTimeOf(pid: number): number {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
    // Its name, in brackets, may hold anything.
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
    return (Number(fields[11]) + Number(fields[12])) * tick
  } catch {
    return 0
  }
}

/** Bytes of memory that a process of this machine, or of its container, can count on. */
export const machineBytes = (): number => {
  const bound = process.constrainedMemory()
  return bound && bound < totalmem() ? bound : totalmem()
}

export class Crew<Task, Result, Message> {
  private readonly members = new Set<Member<Task, Result>>()
  private readonly waiting: Pending<Task, Result>[] = []
  private ended = false
  private readonly watch: ReturnType<typeof setInterval>

  constructor(private readonly options: CrewOptions<Task, Result, Message>) {
    for (let i = 0; i < options.size; i++) this.add()
    this.watch = setInterval(() => this.look(), lookEvery)
  }

  /** Runs a task in the next free member. Rejects with `Ended`; `signal` ends the member at once. */
  run(task: Task, signal?: AbortSignal): Promise<Result> {
    return new Promise<Result>((resolve, reject) => {
      const stop = () => {
        const at = this.waiting.indexOf(pending)
        if (at >= 0) this.waiting.splice(at, 1)
        const member = [...this.members].find((m) => m.pending === pending)
        if (member) this.kill(member, new Ended('stopped', 'on request'))
        else pending.failed(new Ended('stopped', 'on request'))
      }
      const settle =
        <T>(end: (value: T) => void) =>
        (value: T) => {
          signal?.removeEventListener('abort', stop)
          end(value)
        }
      const pending: Pending<Task, Result> = { task, done: settle(resolve), failed: settle(reject) }
      if (signal?.aborted) return pending.failed(new Ended('stopped', 'on request'))
      signal?.addEventListener('abort', stop)
      this.waiting.push(pending)
      this.give()
    })
  }

  /** Ends all members. */
  end(): void {
    this.ended = true
    clearInterval(this.watch)
    for (const m of this.members) this.kill(m, new Ended('stopped', 'the compute process ends'))
  }

  get pids(): number[] {
    return [...this.members].flatMap((m) => m.child.pid ?? [])
  }

  private add(): void {
    const { file, memory } = this.options
    const heap = Math.max(256, Math.round((0.9 * memory) / 2 ** 20))
    const child = fork(file, {
      // By setpriv(1), so that the kernel ends it with its parent: one that computes hears of nothing.
      execPath: 'setpriv',
      execArgv: [
        ...['--pdeathsig', 'KILL', process.execPath],
        ...['--enable-source-maps', `--max-old-space-size=${heap}`, ...(this.options.execArgv ?? [])],
      ],
      serialization: 'json',
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    })
    const member: Member<Task, Result> = { child, pending: null, why: null, bound: null }
    this.members.add(member)
    // When the machine itself runs out of memory, this goes first and not the database.
    try {
      writeFileSync(`/proc/${child.pid}/oom_score_adj`, '700')
    } catch {
      // It may have ended already, or this system has no such file.
    }
    child.on('message', (m) => this.hear(member, m as FromChild<Result, Message>))
    child.on('error', () => {})
    child.once('exit', (code, signal) => {
      this.members.delete(member)
      // A heap that cannot grow ends V8 by SIGABRT or SIGTRAP, with code 134 or 133.
      const heapFull = signal === 'SIGABRT' || signal === 'SIGTRAP' || code === 134 || code === 133
      const why = member.why ?? new Ended(heapFull ? 'memory' : 'crashed', signal ?? `code ${code}`)
      member.pending?.failed(why)
      const idle = !member.pending && !member.why
      if (!this.ended) setTimeout(() => !this.ended && (this.add(), this.give()), idle ? 1000 : 0)
    })
  }

  private kill(member: Member<Task, Result>, why: Ended): void {
    member.why ??= why
    member.child.kill('SIGKILL')
  }

  private give(): void {
    for (const member of this.members) {
      if (member.pending || member.why || !member.child.connected) continue
      const next = this.waiting.shift()
      if (!next) return
      member.pending = next
      member.child.send({ task: next.task }, () => {}) // a member that is gone tells by its exit
    }
  }

  private hear(member: Member<Task, Result>, m: FromChild<Result, Message>): void {
    if ('within' in m) {
      member.bound = m.within === null ? null : { ms: m.within, from: processorTimeOf(member.child.pid ?? 0) }
    } else if (member.pending) {
      if ('message' in m) this.options.hear(member.pending.task, m.message)
      else {
        const { done, task } = member.pending
        member.pending = null
        if (this.options.spent?.(m.result, task)) this.kill(member, new Ended('crashed', 'replaced'))
        member.bound = null
        done(m.result)
        this.give()
      }
    }
  }

  private look(): void {
    const { memory } = this.options
    for (const m of this.members) {
      if (!m.pending) continue
      const pid = m.child.pid ?? 0
      if (residentBytes(pid) > memory) this.kill(m, new Ended('memory', `${Math.round(memory / 2 ** 20)} MB`))
      else if (m.bound && processorTimeOf(pid) - m.bound.from > m.bound.ms)
        this.kill(m, new Ended('time', `${Math.round(m.bound.ms / 1000)} s`))
    }
  }
}
