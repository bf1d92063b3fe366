/** How long work tells of itself and is stopped. */
import { Stopped } from './step-error'

export interface Work {
  /** Share done, 0 to 1, and what is being done in a few words. */
  progress(share: number, phase: string): void
  readonly signal?: AbortSignal
}

export const quiet: Work = { progress: () => {} }

/** Throws when asked to stop. Call it at least every 100 ms. */
export function checkStop(work: Work): void {
  if (work.signal?.aborted) throw new Stopped()
}

/** A part of the work, mapped to the span from..to of the whole. */
export function span(work: Work, from: number, to: number): Work {
  return { signal: work.signal, progress: (share, phase) => work.progress(from + (to - from) * share, phase) }
}
