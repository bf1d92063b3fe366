/** The card of one step: what it did and how long it took, what it says, and what can be done with it. */
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
import type { JobState } from '@/core/recipe/job-state'
import type { StepReport } from '@/core/recipe/evaluate'
import { cannotMove } from '@/core/recipe/dependents'
import type { Recipe, RecipeStep } from '@/core/recipe/recipe'
import { fieldsOf } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'
import { blobUrl } from '@/bench/state/api'
import { isLoss } from '@/core/gauge/loyalty'
import { KeptButton } from '@/bench/looks/kept-map'
import { bodiesAt, type Progress } from '@/bench/state/job'
import { tell, useBench } from '@/bench/state/store'
import { ToolIcon } from '@/bench/tools/registry'
import { Kin, kinWord, type KinShown } from './kin'
import { lostOf, type Lost } from './lost'
import { takeAlong } from './parcel'
import { pastOf, subjectOf, timeText } from './step-words'

interface Props {
  readonly job: JobState
  /** Which step it is. */
  readonly index: number
  readonly report: StepReport | undefined
  readonly progress: Progress | null
  readonly kin: KinShown | null
  /** Its tool is in hand. */
  readonly current: boolean
  /** It stands behind the marker. */
  readonly later: boolean
  change(recipe: Recipe, label: string): void
  /** Takes a step's tool in hand; `lost`: with a pick to be made anew. */
  edit(step: RecipeStep, lost?: Lost): void
}

const titleOf = (step: RecipeStep) => stepOf(step.kind)?.title ?? step.kind

/** What a card's buttons do to the recipe. */
function changesOf({ job: { recipe }, index, change }: Pick<Props, 'job' | 'index' | 'change'>) {
  const { steps } = recipe
  const step = steps[index]
  const put = (next: RecipeStep[], label: string) => change({ ...recipe, steps: next }, label)
  const altered = (by: Partial<RecipeStep>) => steps.map((s, k) => (k === index ? { ...s, ...by } : s))
  return {
    move(to: number) {
      const why = cannotMove(recipe, index, to)
      if (why) return tell(`This step cannot go there: ${why}.`)
      const next = [...steps]
      next.splice(index, 1)
      next.splice(to, 0, step)
      put(next, `Move ${titleOf(step)}`)
    },
    rename: () =>
      useBench.getState().set({
        question: {
          ask: 'name',
          title: 'Rename this step',
          label: 'Name of this step',
          value: step.title ?? '',
          done: (title) => put(altered({ title: title.trim() || undefined }), 'Rename step'),
        },
      }),
    toggle: () => put(altered({ off: step.off ? undefined : true }), step.off ? 'Switch on' : 'Switch off'),
    remove: () =>
      put(
        steps.filter((_, k) => k !== index),
        `Delete ${titleOf(step)}`,
      ),
  }
}

export function StepCard(props: Props) {
  const { job, index, report, progress, kin, current, later, edit } = props
  const step = job.recipe.steps[index]
  const running = progress?.step === step.id
  const failed = report && !report.ok
  return (
    <li
      className={`step ${step.off ? 'off' : ''} ${failed ? 'failed' : ''} ${current ? 'current' : ''} ${later ? 'later' : ''} ${kinWord(kin, step.id)}`}
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
        {report && !step.off && <span className="ms figure">{timeText(report.ms)}</span>}
      </div>
      <Said report={report} off={step.off} running={running ? (progress?.phase ?? 'under way') : null} />
      {kin && <Kin kin={kin} id={step.id} />}
      {!step.off && <PickAgain step={step} report={report} edit={edit} />}
      {report?.ok && !step.off && (
        <KeptButton
          name={String(step.set.body)}
          before={bodiesAt(job, index).find((b) => b.name === step.set.body)?.hash}
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
      <Tools {...props} />
    </li>
  )
}

function Tools({ job, index, kin, change }: Props) {
  const { set } = useBench.getState()
  const { steps } = job.recipe
  const step = steps[index]
  const { move, rename, toggle, remove } = changesOf({ job, index, change })
  return (
    <div className="tools">
      <Act title="Rename" label="Rename step" icon={Pencil} act={rename} />
      <Act
        title={step.off ? 'Switch on' : 'Switch off'}
        label={step.off ? 'Switch step on' : 'Switch step off'}
        icon={step.off ? Eye : EyeOff}
        act={toggle}
      />
      <Act title="Move up" label="Move step up" icon={ArrowUp} off={index === 0} act={() => move(index - 1)} />
      <Act
        title="Move down"
        label="Move step down"
        icon={ArrowDown}
        off={index === steps.length - 1}
        act={() => move(index + 1)}
      />
      <Act
        title="New steps after this one"
        label="Put the marker after this step"
        icon={LocateFixed}
        act={() => set({ marker: index + 1 === steps.length ? null : index + 1 })}
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
      <Act title="Delete" label="Delete step" icon={Trash2} act={remove} />
    </div>
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

export function Dot({ kind }: { kind: string }) {
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
