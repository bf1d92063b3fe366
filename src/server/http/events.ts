/** Fans database notifications out to the browsers that watch a job. One listening connection a process, over lost connections too. */
import type { JobEvent } from '@/core/recipe/job-state'
import { listenFor } from '@/server/db/listen'
import { eventChannel } from '@/server/compute/queue'

type Watcher = (message: string) => void
interface Hub {
  watchers: Map<string, Set<Watcher>>
  /** Told of every event before those who watch one job. */
  all: Set<WatchAll>
  started: boolean
  joined: boolean
}
export interface WatchAll {
  event(job: string, event: JobEvent): void
  /** The connection stands again, or is lost. */
  connected(now: boolean): void
}
const shelf = globalThis as { glueBenchHub?: Hub }
const hub = (): Hub => (shelf.glueBenchHub ??= { watchers: new Map(), all: new Set(), started: false, joined: false })

function hear(payload: string): void {
  const { job, ...event } = JSON.parse(payload || '{}') as { job?: string }
  for (const a of hub().all) a.event(job ?? '', event as JobEvent)
  for (const w of hub().watchers.get(job ?? '') ?? []) w(JSON.stringify(event))
}

function connected(now: boolean): void {
  hub().joined = now
  for (const a of hub().all) a.connected(now)
  if (now) tellAll()
}

/** One listening connection a process, whoever asks for it first. */
function listen(): void {
  if (hub().started) return
  hub().started = true
  void listenFor(
    eventChannel,
    hear,
    () => connected(true),
    () => connected(false),
  )
}

/** Watches the events of all jobs for as long as the process lives. */
export function watchAll(watch: WatchAll): void {
  hub().all.add(watch)
  listen()
  watch.connected(hub().joined)
}

/** Whoever watched while the connection was down looks once at everything. */
function tellAll(): void {
  for (const set of hub().watchers.values()) for (const w of set) w('{"type":"job"}')
}

/** A Server-Sent Events response for one job. */
export function eventStream(job: string, signal: AbortSignal): Response {
  const h = hub()
  listen()
  const encoder = new TextEncoder()
  let close = () => {}
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text))
        } catch {
          close()
        }
      }
      const watch: Watcher = (message) => send(`data: ${message}\n\n`)
      const set = h.watchers.get(job) ?? new Set()
      set.add(watch)
      h.watchers.set(job, set)
      const tick = setInterval(() => send(': still here\n\n'), 15_000)
      close = () => {
        clearInterval(tick)
        set.delete(watch)
        if (!set.size) h.watchers.delete(job)
      }
      signal.addEventListener('abort', () => close())
      send('data: {"type":"job"}\n\n')
    },
    cancel: () => close(),
  })
  return new Response(stream, {
    headers: {
      'content-type': 'text/event-stream',
      'cache-control': 'no-cache, no-transform',
      'x-accel-buffering': 'no',
    },
  })
}
