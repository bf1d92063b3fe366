'use client'
/** The recipe: one card a step, what it did, its time, and a marker for where new steps go. */
import { useMemo } from 'react'
import type { JobState } from '@/core/recipe/job-state'
import type { Recipe, RecipeStep } from '@/core/recipe/recipe'
import { stepOf } from '@/core/steps/registry'
import type { BenchBody, Progress } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'
import { useTool, type ToolInHand } from '@/bench/state/tool'
import { plural } from '@/core/base/say'
import type { GhostState } from '@/bench/ghost/ghost-state'
import { addValue, JobValues } from './job-values'
import { useKin } from './kin'
import type { Lost } from './lost'
import { OtherFile } from './other-file'
import { parcelOf, putDown, takeAlong, useParcelText } from './parcel'
import { Dot, StepCard } from './step-card'
import { pastOf, subjectOf, timeText } from './step-words'

interface Props {
  job: JobState
  ghost: GhostState
  progress: Progress | null
  change(recipe: Recipe, label: string): void
  /** Takes a step's tool in hand; `lost`: with a pick to be made anew. */
  edit(step: RecipeStep, lost?: Lost): void
  /** Runs the job once more. */
  again(): void
  bodies: readonly BenchBody[]
}

/** The step that the ghost is of, where it will stand. */
function GhostLine({ tool, ghost }: { tool: ToolInHand; ghost: GhostState }) {
  if (!ghost.step) return null
  const said = ghost.state === 'ready' && ghost.report ? ` · ${ghost.report.said}` : null
  return (
    <li className="step ghost">
      <Dot kind={tool.kind} />
      <div className="open">
        {pastOf(tool.kind)} <b>{subjectOf(ghost.step)}</b>
      </div>
      <div className="said">ghost{said ?? (ghost.state === 'running' ? ' · under way' : '')}</div>
    </li>
  )
}

export function RecipePanel(props: Props) {
  const { job, ghost, progress, change, edit } = props
  const tool = useTool((s) => s.tool)
  const marker = useBench((s) => s.marker)
  const kin = useKin(job)
  const { steps } = job.recipe
  const at = marker ?? steps.length
  const reports = new Map((job.run?.steps ?? []).map((r) => [r.id, r]))
  const total = [...reports.values()].reduce((s, r) => s + r.ms, 0)
  const here = [
    <li key="marker" className="marker" aria-label="New steps go here">
      new steps go here
    </li>,
    tool && !tool.editing ? <GhostLine key="ghost" tool={tool} ghost={ghost} /> : null,
  ]
  return (
    <aside className="recipe" aria-label="Recipe">
      <div className="panel-head">
        <h2>Recipe</h2>
        <span className="small soft">
          {plural(steps.length, 'step')}
          {total ? ` · ${timeText(total)}` : ''}
        </span>
      </div>
      <JobValues recipe={job.recipe} change={change} />
      <ol className="steps">
        {at === 0 && here}
        {steps.map((step, i) => [
          <StepCard
            key={step.id}
            job={job}
            index={i}
            report={reports.get(step.id)}
            progress={progress}
            kin={kin}
            current={tool?.editing === step.id}
            later={i >= at}
            change={change}
            edit={edit}
          />,
          i + 1 === at && here,
        ])}
      </ol>
      <Below {...props} at={at} />
    </aside>
  )
}

/** What stands below the steps: values, holding, parcels, files. */
function Below({ job, change, again, bodies, at }: Props & { at: number }) {
  const holding = useBench((s) => s.holding)
  const { set } = useBench.getState()
  const parcelText = useParcelText()
  const parcel = useMemo(() => parcelOf(parcelText), [parcelText])
  const { steps } = job.recipe
  return (
    <>
      {!job.recipe.values && (
        <button type="button" className="btn btn-link btn-sm p-0 d-block" onClick={() => addValue(job.recipe, change)}>
          Add a value
        </button>
      )}
      {steps.length > 1 && (
        <label className="d-flex gap-2 align-items-center small" title="Changes wait, to be run together">
          <input
            type="checkbox"
            checked={holding}
            onChange={(e) => {
              set({ holding: e.target.checked })
              if (!e.target.checked && job.run?.phase === 'held') again()
            }}
          />
          Hold re-run
        </label>
      )}
      {parcel && (
        <button
          type="button"
          className="btn btn-link btn-sm p-0 d-block"
          title={parcel.steps.map((s) => stepOf(s.kind)?.title ?? s.kind).join(', ')}
          onClick={() => putDown(job.recipe, at, parcel, bodies, change)}
        >
          Put down {plural(parcel.steps.length, 'step')} of {parcel.from}
        </button>
      )}
      {steps.length > 1 && (
        <button
          type="button"
          className="btn btn-link btn-sm p-0 d-block"
          onClick={() =>
            takeAlong(
              job.recipe,
              steps.filter((s) => !s.kind.startsWith('bring-in/')).map((s) => s.id),
            )
          }
        >
          Take all steps along
        </button>
      )}
      <OtherFile job={job} />
      {steps.length > 0 && (
        <a className="small" href={`/api/jobs/${job.id}/recipe`} download>
          Save the recipe file
        </a>
      )}
    </>
  )
}
