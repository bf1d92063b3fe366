/**
 * A worker whose script may fail to load, because the server was away just then: it is made again until it says that it is there, and what
 * was asked of it meanwhile is asked then. For comlink, which takes anything that posts and listens as a worker does.
 */
import type { Endpoint } from 'comlink'

/** What a worker's program posts once it listens. */
export const hereMark = 'here'

/** Wait before a worker is made again, ms. */
const pause = 1000

/** `make` makes the worker. Once it was there it is never replaced: it may hold things. */
export function sturdyWorker(make: () => Pick<Worker, 'postMessage' | 'addEventListener' | 'terminate'>): Endpoint {
  const listeners: [string, EventListenerOrEventListenerObject][] = []
  const waiting: [unknown, Transferable[]][] = []
  let worker: ReturnType<typeof make>
  let here = false
  const start = () => {
    worker = make()
    const mine = worker
    mine.addEventListener('message', (e) => {
      if ((e as MessageEvent<unknown>).data !== hereMark || here) return
      here = true
      for (const [message, transfer] of waiting.splice(0)) mine.postMessage(message, transfer)
    })
    mine.addEventListener('error', () => {
      if (here) return
      mine.terminate()
      setTimeout(start, pause)
    })
    for (const [type, listener] of listeners) mine.addEventListener(type, listener)
  }
  start()
  return {
    postMessage(message, transfer = []) {
      if (here) worker.postMessage(message, transfer)
      else waiting.push([message, transfer])
    },
    addEventListener(type, listener) {
      listeners.push([type, listener])
      worker.addEventListener(type, listener)
    },
    // comlink takes its one listener off only when it lets go of the worker, which this page never does.
    removeEventListener() {},
  }
}
