/** The job's named values as numbers, for what is worked out on the page. */
import { createStore } from 'zustand/vanilla'
import { valuesOf, type ValueTexts } from '@/core/recipe/values'

export const jobValues = createStore<{ texts: ValueTexts; numbers: ReadonlyMap<string, number> }>(() => ({
  texts: {},
  numbers: new Map(),
}))

/** Lays down what the job says now; values that cannot be read count as none. */
export function layValues(texts: ValueTexts | undefined): void {
  const now = texts ?? {}
  if (JSON.stringify(now) === JSON.stringify(jobValues.getState().texts)) return
  let numbers: ReadonlyMap<string, number> = new Map()
  try {
    numbers = valuesOf(now)
  } catch {
    // The recipe refuses them with a sentence where they are set.
  }
  jobValues.setState({ texts: now, numbers })
}
