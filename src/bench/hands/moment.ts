/** What is shown for the moment under the pointer: a label, triangles, lines. It changes at every move, so it goes past React. */
import { createStore } from 'zustand/vanilla'
import type { Vec3 } from '@/core/math/vec'

export interface Moment {
  readonly label?: { readonly at: Vec3; readonly text: string }
  readonly triangles?: Float32Array
  readonly lines?: Float32Array
}

export const moment = createStore<{ shown: Moment | null }>(() => ({ shown: null }))

export const showMoment = (m: Moment | null): void => {
  if (m !== moment.getState().shown) moment.setState({ shown: m })
}

/** Asks one question at a time; of those that come meanwhile only the last is asked afterwards. */
export function latest<A>(ask: (a: A) => Promise<void>): (a: A) => void {
  let busy = false
  let next: { a: A } | null = null
  const run = async (a: A) => {
    busy = true
    try {
      await ask(a)
    } catch {
      // The body left the bench meanwhile.
    }
    busy = false
    if (next) {
      const { a: n } = next
      next = null
      void run(n)
    }
  }
  return (a) => {
    if (busy) next = { a }
    else void run(a)
  }
}
