/** The one worker that edits cages for this page. */
import { wrap, type Remote } from 'comlink'
import { sturdyWorker } from '@/bench/workers/sturdy-worker'
import type { CageApi } from './cage-worker'

let remote: Remote<CageApi> | null = null

export function cageWorker(): Remote<CageApi> {
  remote ??= wrap<CageApi>(
    sturdyWorker(() => new Worker(new URL('./cage-worker.ts', import.meta.url), { type: 'module' })),
  )
  return remote
}
