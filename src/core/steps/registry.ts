/** The registry of steps: a step is known here as soon as its file is there. */
import { stageOf, stages, type AnyStep } from '@/core/step/step'
import { steps } from './all'

const place = (s: AnyStep) => 1000 * stages.indexOf(stageOf(s.kind)) + s.order

const byKind = new Map((steps as unknown as AnyStep[]).map((s) => [s.kind, s]))

/** Every step there is, in the order of the trays. */
export const allSteps: readonly AnyStep[] = [...byKind.values()].sort((a, b) => place(a) - place(b))

export const stepOf = (kind: string): AnyStep | undefined => byKind.get(kind)

/** Adds a step for as long as a test runs; gives what takes it out again. */
export function withStep(step: unknown): () => void {
  const s = step as AnyStep
  byKind.set(s.kind, s)
  return () => void byKind.delete(s.kind)
}
