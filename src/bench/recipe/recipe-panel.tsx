'use client'
/** The recipe: one card a step, what it did, its time, and a marker for where new steps go. */
import {
  ArrowDown,
  ArrowUp,
  Copy,
  Eye,
  EyeOff,
  LocateFixed,
  Pencil,
  Trash2,
  Waypoints,
  type LucideIcon,
} from 'lucide-react'
import { useMemo } from 'react'
import type { JobState } from '@/core/recipe/job-state'
import type { StepReport } from '@/core/recipe/evaluate'
import { cannotMove } from '@/core/recipe/dependents'
import type { Recipe, RecipeStep } from '@/core/recipe/recipe'
import { fieldsOf } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'
import { blobUrl } from '@/bench/state/api'
import { isLoss } from '@/core/gauge/loyalty'
import { KeptButton } from '@/bench/looks/kept-map'
import { bodiesAt, type BenchBody, type Progress } from '@/bench/state/job'
import { tell, useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { plural } from '@/core/base/say'
import { feedersOf, takersOf } from '@/core/recipe/lineage'
import { addValue, JobValues } from './job-values'
import { lostOf, type Lost } from './lost'
import { OtherFile } from './other-file'
import { parcelOf, putDown, takeAlong, useParcelText } from './parcel'
import { ToolIcon } from '@/bench/tools/registry'
import type { GhostState } from '@/bench/ghost/ghost-state'

/** The thing a step is about, in bold: what its definition says, else its file, its new body, or its bodies. */
export function subjectOf(step: Pick<RecipeStep, 'kind' | 'set'>): string {
  const definition = stepOf(step.kind)
  if (!definition) return ''
  if (definition.subject) return definition.subject(step.set)
  const texts = (...sorts: string[]) =>
    fieldsOf(definition.settings)
      .filter((f) => sorts.includes(f.info.field))
      .flatMap((f) => (step.set[f.key] as string | string[] | undefined) ?? [])
  return (
    texts('file', 'out-file')[0] ?? (texts('bodies').join(' + ') || (texts('new-body')[0] ?? texts('body')[0] ?? ''))
  )
}

/** What a card says was done: "Closed holes in". */
const pastOf = (kind: string): string => stepOf(kind)?.past ?? kind

const time = (ms: number) =>
  ms < 50 ? '0.0 s' : ms < 10_000 ? `${(ms / 1000).toFixed(1)} s` : `${Math.round(ms / 1000)} s`

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

export function RecipePanel({ job, ghost, progress, change, edit, again, bodies }: Props) {
  const tool = useTool((s) => s.tool)
  const marker = useBench((s) => s.marker)
  const holding = useBench((s) => s.holding)
  const kin = useKin(job)
  const parcelText = useParcelText()
  const parcel = useMemo(() => parcelOf(parcelText), [parcelText])
  const { set } = useBench.getState()
  const { steps } = job.recipe
  const at = marker ?? steps.length
  const reports = new Map((job.run?.steps ?? []).map((r) => [r.id, r]))
  const total = [...reports.values()].reduce((s, r) => s + r.ms, 0)
  const withSteps = (next: RecipeStep[], label: string) => change({ ...job.recipe, steps: next }, label)
  const move = (i: number, to: number) => {
    const why = cannotMove(job.recipe, i, to)
    if (why) return tell(`This step cannot go there: ${why}.`)
    const next = [...steps]
    const [s] = next.splice(i, 1)
    next.splice(to, 0, s)
    withSteps(next, `Move ${stepOf(s.kind)?.title ?? s.kind}`)
  }
  const rename = (i: number) =>
    set({
      question: {
        ask: 'name',
        title: 'Rename this step',
        label: 'Name of this step',
        value: steps[i].title ?? '',
        done: (title) =>
          withSteps(
            steps.map((s, k) => (k === i ? { ...s, title: title.trim() || undefined } : s)),
            'Rename step',
          ),
      },
    })
  const ghostLine = tool && !tool.editing && ghost.step && (
    <li className="step ghost" key="ghost">
      <Dot kind={tool.kind} />
      <div className="open">
        {pastOf(tool.kind)} <b>{subjectOf(ghost.step)}</b>
      </div>
      <div className="said">
        ghost
        {ghost.state === 'ready' && ghost.report
          ? ` · ${ghost.report.said}`
          : ghost.state === 'running'
            ? ' · under way'
            : ''}
      </div>
    </li>
  )
  const markerLine = (
    <li key="marker" className="marker" aria-label="New steps go here">
      new steps go here
    </li>
  )
  return (
    <aside className="recipe" aria-label="Recipe">
      <div className="panel-head">
        <h2>Recipe</h2>
        <span className="small soft">
          {steps.length} {steps.length === 1 ? 'step' : 'steps'}
          {total ? ` · ${time(total)}` : ''}
        </span>
      </div>
      <JobValues recipe={job.recipe} change={change} />
      <ol className="steps">
        {steps.flatMap((step, i) => {
          const report = reports.get(step.id)
          const running = progress?.step === step.id
          const rows = [
            <li
              key={step.id}
              className={`step ${step.off ? 'off' : ''} ${report && !report.ok ? 'failed' : ''} ${tool?.editing === step.id ? 'current' : ''} ${i >= at ? 'later' : ''} ${kinWord(kin, step.id)}`}
              data-testid={`step-${step.id}`}
            >
              <Dot kind={step.kind} />
              <div className="line">
                <button
                  type="button"
                  className="open"
                  onClick={() => edit(step)}
                  aria-label={`Edit step: ${step.title ?? `${pastOf(step.kind)} ${subjectOf(step)}`}`}
                >
                  {step.title ?? (
                    <>
                      {pastOf(step.kind)} <b>{subjectOf(step)}</b>
                    </>
                  )}
                </button>
                {report && !step.off && <span className="ms figure">{time(report.ms)}</span>}
              </div>
              <Said report={report} off={step.off} running={running ? (progress?.phase ?? 'under way') : null} />
              {kin && <Kin kin={kin} id={step.id} />}
              {!step.off && <PickAgain step={step} report={report} edit={edit} />}
              {report?.ok && !step.off && (
                <KeptButton
                  name={String(step.set.body)}
                  before={bodiesAt(job, i).find((b) => b.name === step.set.body)?.hash}
                  after={report.bodies[String(step.set.body)]}
                  facts={report.facts}
                  className="link-button small"
                />
              )}
              {report?.files.map((f) => (
                <a key={f.hash} className="small" href={blobUrl(f.hash, f.name)} download={f.name}>
                  Save {f.name}
                </a>
              ))}
              <div className="tools">
                <Act title="Rename" label="Rename step" icon={Pencil} act={() => rename(i)} />
                <Act
                  title={step.off ? 'Switch on' : 'Switch off'}
                  label={step.off ? 'Switch step on' : 'Switch step off'}
                  icon={step.off ? Eye : EyeOff}
                  act={() =>
                    withSteps(
                      steps.map((s, k) => (k === i ? { ...s, off: s.off ? undefined : true } : s)),
                      step.off ? 'Switch on' : 'Switch off',
                    )
                  }
                />
                <Act title="Move up" label="Move step up" icon={ArrowUp} off={i === 0} act={() => move(i, i - 1)} />
                <Act
                  title="Move down"
                  label="Move step down"
                  icon={ArrowDown}
                  off={i === steps.length - 1}
                  act={() => move(i, i + 1)}
                />
                <Act
                  title="New steps after this one"
                  label="Put the marker after this step"
                  icon={LocateFixed}
                  act={() => set({ marker: i + 1 === steps.length ? null : i + 1 })}
                />
                <Act
                  title="What uses this, and what it uses"
                  label="What uses this step"
                  icon={Waypoints}
                  pressed={kin?.of === step.id}
                  act={() => set({ kinOf: kin?.of === step.id ? null : step.id })}
                />
                <Act
                  title="Take along, to put down here or in another job"
                  label="Take step along"
                  icon={Copy}
                  act={() => takeAlong(job.recipe, [step.id])}
                />
                <Act
                  title="Delete"
                  label="Delete step"
                  icon={Trash2}
                  act={() =>
                    withSteps(
                      steps.filter((_, k) => k !== i),
                      `Delete ${stepOf(step.kind)?.title ?? step.kind}`,
                    )
                  }
                />
              </div>
            </li>,
          ]
          if (i + 1 === at) rows.push(markerLine, ...(ghostLine ? [ghostLine] : []))
          return rows
        })}
        {at === 0 && [markerLine, ghostLine]}
      </ol>
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
    </aside>
  )
}

/** A small button on a step's card. */
function Act(p: { title: string; label: string; icon: LucideIcon; off?: boolean; pressed?: boolean; act(): void }) {
  return (
    <button
      type="button"
      className="icon-button"
      title={p.title}
      aria-label={p.label}
      aria-pressed={p.pressed}
      disabled={p.off}
      onClick={p.act}
    >
      <p.icon size={14} />
    </button>
  )
}

interface KinShown {
  readonly of: string
  readonly feeds: readonly string[]
  readonly takes: readonly string[]
}

/** The step that is asked for, what it uses and what uses it, as the recipe is now. */
function useKin({ recipe, run }: JobState): KinShown | null {
  const of = useBench((s) => s.kinOf)
  return useMemo(() => {
    const at = recipe.steps.findIndex((s) => s.id === of)
    if (!of || at < 0) return null
    const reports = run?.steps ?? []
    return { of, feeds: feedersOf(recipe, reports, at), takes: takersOf(recipe, reports, at) }
  }, [of, recipe, run?.steps])
}

const kinWord = (kin: KinShown | null, id: string) =>
  !kin ? '' : kin.of === id ? 'kin-of' : kin.feeds.includes(id) || kin.takes.includes(id) ? 'kin' : ''

/** What a step has to do with the one that was asked for. */
function Kin({ kin, id }: { kin: KinShown; id: string }) {
  if (kin.of === id && !kin.feeds.length && !kin.takes.length)
    return <div className="said">uses nothing on the bench, and nothing uses it</div>
  if (kin.feeds.includes(id)) return <div className="said kin-word">is used by it</div>
  return kin.takes.includes(id) ? <div className="said kin-word">uses it</div> : null
}

/** A pick that is gone, asked for again with all other settings kept. */
function PickAgain({ step, report, edit }: { step: RecipeStep; report: StepReport | undefined; edit: Props['edit'] }) {
  const lost = report && !report.ok ? lostOf(step, report.error) : null
  if (!lost) return null
  const label = fieldsOf(stepOf(step.kind)!.settings).find((f) => f.key === lost.key)?.info.label ?? lost.key
  return (
    <button type="button" className="btn btn-quiet btn-sm my-1" onClick={() => edit(step, lost)}>
      Pick again: {label.toLowerCase()}
    </button>
  )
}

function Dot({ kind }: { kind: string }) {
  return (
    <span className="dot">
      <ToolIcon kind={kind} size={12} strokeWidth={2} />
    </span>
  )
}

function Said({
  report,
  off,
  running,
}: {
  report: StepReport | undefined
  off: boolean | undefined
  running: string | null
}) {
  if (off) return <div className="said">switched off</div>
  if (!report) return <div className="said">{running ?? 'waiting'}</div>
  if (!report.ok)
    return (
      <div className="said" role="alert">
        {report.error?.message} {report.error?.tryThis}
      </div>
    )
  return (
    <>
      <div className="said">{report.said}</div>
      {report.warnings.map((w) => (
        <div key={w} className="said" style={{ color: isLoss(report.facts) ? 'var(--brick)' : 'var(--ochre)' }}>
          {w}
        </div>
      ))}
    </>
  )
}
