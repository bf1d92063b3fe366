/** The pointer's place. It lives apart from everything else: who shows it writes it straight to the page, so that moving renders nothing. */
import { createStore } from 'zustand/vanilla'
import type { Vec3 } from '@/core/math/vec'

export interface PointerState {
  /** Where it meets a body. */
  at: Vec3 | null
  /** The body under it. */
  body: string | null
  /** A word or two on what is under it: "cylinder Ø 8". */
  words: string
}

export const pointer = createStore<PointerState>(() => ({ at: null, body: null, words: '' }))
export const movePointer = (to: PointerState): void => pointer.setState(to)
