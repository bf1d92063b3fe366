/** What the server tells the bench about jobs and runs. */
import type { BodyFacts } from '@/core/kinds/kind'
import type { StepReport } from '@/core/recipe/evaluate'
import type { Recipe } from '@/core/recipe/recipe'

export interface JobListing {
  id: string
  title: string
  picture: string | null
  demo: boolean
  updated: string
  steps: number
  /** Steps of its latest run that are done, while it is under way. */
  done: number | null
}

export interface RunView {
  id: string
  state: 'waiting' | 'running' | 'done' | 'failed' | 'stopped'
  progress: number
  phase: string
  steps: StepReport[]
}

export interface JobState {
  id: string
  title: string
  revision: string
  label: string
  recipe: Recipe
  /** What undo and redo would take back or do again; null when there is nothing. */
  undo: string | null
  redo: string | null
  run: RunView | null
  files: { name: string; hash: string; size: number }[]
  summaries: Record<string, BodyFacts>
}

/** One message of the event stream of a job. */
export type JobEvent =
  | { type: 'progress'; run: string; ghost: boolean; progress: number; phase: string; step: string | null }
  | { type: 'step'; run: string; ghost: boolean }
  | { type: 'run'; run: string; ghost: boolean; state: RunView['state'] }
  | { type: 'job' }
  | { type: 'picture' }
  | { type: 'check-up'; hash: string }
