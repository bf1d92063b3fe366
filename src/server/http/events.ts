/** Fans database notifications out to the browsers that watch a job. One listening connection a process, over lost connections too. */
import { listenFor } from '@/server/db/listen'
import { eventChannel } from '@/server/compute/queue'

type Watcher = (message: string) => void
interface Hub {
  watchers: Map<string, Set<Watcher>>
  started: boolean
}
const shelf = globalThis as { glueBenchHub?: Hub }
const hub = (): Hub => (shelf.glueBenchHub ??= { watchers: new Map(), started: false })

function hear(payload: string): void {
  const { job, ...event } = JSON.parse(payload || '{}') as { job?: string }
  for (const w of hub().watchers.get(job ?? '') ?? []) w(JSON.stringify(event))
}

/** Whoever watched while the connection was down looks once at everything. */
function tellAll(): void {
  for (const set of hub().watchers.values()) for (const w of set) w('{"type":"job"}')
}

/** A Server-Sent Events response for one job. */
export function eventStream(job: string, signal: AbortSignal): Response {
  const h = hub()
  if (!h.started) {
    h.started = true
    void listenFor(eventChannel, hear, tellAll)
  }
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
