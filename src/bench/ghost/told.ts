/** What the ghost of the tool in hand tells: handles stand where it says that it lies. */
import { createStore } from 'zustand/vanilla'
import type { Facts } from '@/core/step/step'

export const ghostTold = createStore<{ facts: Facts }>(() => ({ facts: {} }))
