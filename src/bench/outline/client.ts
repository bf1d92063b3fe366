/** The one worker that solves drawings for this page. */
import { wrap, type Remote } from 'comlink'
import { sturdyWorker } from '@/bench/workers/sturdy-worker'
import type { OutlineApi } from './outline-worker'

let remote: Remote<OutlineApi> | null = null

export function outlineWorker(): Remote<OutlineApi> {
  remote ??= wrap<OutlineApi>(
    sturdyWorker(() => new Worker(new URL('./outline-worker.ts', import.meta.url), { type: 'module' })),
  )
  return remote
}
