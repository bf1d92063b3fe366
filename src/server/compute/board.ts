/** What is known of an evaluation under way, written down as it grows: the latest state only, and never so often that long recipes suffer. */
import { and, eq, inArray } from 'drizzle-orm'
import type { StepReport } from '@/core/recipe/evaluate'
import type { ErrorReport } from '@/core/base/step-error'
import type { Recipe } from '@/core/recipe/recipe'
import type { Db } from '@/server/db/client'
import { runs } from '@/server/db/schema'
import type { ChildMessage } from './child'
import { finishRun, tell } from './queue'

/** Least time between two writes, ms; and how many times as long as the last write took. */
const writeEvery = 250,
  restShare = 8

export class Board {
  private readonly steps: StepReport[] = []
  private writing: Promise<void> | null = null
  private waiting: ReturnType<typeof setTimeout> | null = null
  private last = -Infinity
  private took = 0
  private written = 0
  private closed = false

  constructor(
    private readonly db: Db,
    private readonly run: { id: string; job: string; ghost: boolean; recipe: Recipe },
  ) {}

  hear(m: ChildMessage): void {
    const { id, job, ghost, recipe } = this.run
    if (m.type === 'step') {
      this.steps[m.index] = m.report
      if (!m.report.cached || this.steps.length === recipe.steps.length) this.changed()
    } else
      void tell(this.db, job, {
        type: 'progress',
        run: id,
        ghost,
        progress: m.share,
        phase: m.phase,
        step: recipe.steps[m.step]?.id ?? null,
      }).catch(() => {})
  }

  /** Ends the run with the steps it came to. `fault`: what went wrong in the step that was under way. */
  async close(state: 'done' | 'failed', fault?: ErrorReport): Promise<void> {
    this.closed = true
    if (this.waiting) clearTimeout(this.waiting)
    await this.writing
    await finishRun(this.db, this.run, state, fault ? withFault(this.run.recipe, this.steps, fault) : this.steps)
  }

  private changed(): void {
    if (this.closed || this.writing || this.waiting) return
    const rest = this.last + Math.max(writeEvery, restShare * this.took) - performance.now()
    if (rest <= 0) this.write()
    else
      this.waiting = setTimeout(() => {
        this.waiting = null
        this.write()
      }, rest)
  }

  private write(): void {
    const now = [...this.steps]
    const { id, job, ghost, recipe } = this.run
    const from = performance.now()
    this.written = now.length
    const work = async () => {
      await this.db
        .update(runs)
        .set({ steps: now, progress: now.length / recipe.steps.length })
        .where(and(eq(runs.id, id), inArray(runs.state, ['waiting', 'running'])))
      await tell(this.db, job, { type: 'step', run: id, ghost })
    }
    this.writing = work()
      .catch(() => {})
      .finally(() => {
        this.writing = null
        this.last = performance.now()
        this.took = this.last - from
        if (this.written < this.steps.length) this.changed()
      })
  }
}

/** The reports so far, and one of the step that was under way: it is the one at fault. */
export function withFault(recipe: Recipe, steps: readonly StepReport[], error: ErrorReport): StepReport[] {
  const at = recipe.steps[steps.length]
  if (!at) return [...steps]
  return [
    ...steps,
    {
      ...{ id: at.id, kind: at.kind, ok: false, ms: 0, cached: false, said: '', facts: {}, warnings: [] },
      error,
      bodies: {},
      files: [],
    },
  ]
}
