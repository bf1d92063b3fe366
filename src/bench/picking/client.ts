'use client'
/** The one picking worker of this page. */
import { wrap, type Remote } from 'comlink'
import { sturdyWorker } from '@/bench/workers/sturdy-worker'
import type { PickingApi } from './worker'

let remote: Remote<PickingApi> | null = null

export function picking(): Remote<PickingApi> {
  remote ??= wrap<PickingApi>(
    sturdyWorker(() => new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })),
  )
  return remote
}
