'use client'
/** The one picking worker of this page. */
import { wrap, type Remote } from 'comlink'
import type { PickingApi } from './worker'

let remote: Remote<PickingApi> | null = null

export function picking(): Remote<PickingApi> {
  remote ??= wrap<PickingApi>(new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' }))
  return remote
}
