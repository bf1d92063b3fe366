/** What lies over the bench: views, shadings, the pick bar, progress, and the offer of an empty bench. */
import { FileInput, ScanLine } from 'lucide-react'
import Link from 'next/link'
import { ProgressBar } from 'react-bootstrap'
import { useStore } from 'zustand'
import type { RunView } from '@/core/recipe/job-state'
import { activeField } from '@/bench/fields/slot'
import { PickBar } from '@/bench/fields/region/pick-bar'
import { Button } from '@/bench/forms/button'
import { QuietTime } from '@/bench/forms/quiet-time'
import { newSection } from '@/bench/looks/section-panel'
import { cancelRun } from '@/bench/state/api'
import type { BenchBody, Progress } from '@/bench/state/job'
import { useBench, type Shading, type ViewName } from '@/bench/state/store'
import { stage } from '@/bench/stage3d/view'
import { useTool } from '@/bench/state/tool'

const views: ViewName[] = ['Front', 'Back', 'Left', 'Right', 'Top', 'Under', 'Corner', 'Fit']
const shadings: [Shading, string][] = [
  ['plain', 'Plain'],
  ['edges', 'Edges on'],
  ['see-through', 'See-through'],
  ['stripes', 'Stripes'],
]

export function ViewButtons({ bodies }: { bodies: readonly BenchBody[] }) {
  const shading = useBench((s) => s.shading)
  const cut = useBench((s) => s.sections.length > 0)
  const stands = useStore(stage, (s) => s.stands)
  const { set, lookAt } = useBench.getState()
  return (
    <>
      <div className="view-buttons shade-buttons" role="group" aria-label="Shading">
        {shadings.map(([s, l]) => (
          <button key={s} type="button" aria-pressed={shading === s} onClick={() => set({ shading: s })}>
            {l}
          </button>
        ))}
        <button
          type="button"
          aria-pressed={cut}
          onClick={() => set({ sections: cut ? [] : [newSection(bodies)], sectionPick: null })}
        >
          Section view
        </button>
      </div>
      <div className="view-buttons" role="group" aria-label="View">
        {views.map((v) => (
          <button key={v} type="button" aria-pressed={stands === v} onClick={() => lookAt(v)}>
            {v}
          </button>
        ))}
      </div>
    </>
  )
}

export function PickBarOver() {
  const field = useTool((s) => activeField(s.tool))
  return field?.info.field === 'region' ? <PickBar field={field.key} /> : null
}

interface RunBoxProps {
  run: RunView | null | undefined
  upload: number | null
  progress: Progress | null
  again(): void
}

export function RunBox({ run, upload, progress, again }: RunBoxProps) {
  const busy = run && (run.state === 'running' || run.state === 'waiting')
  if (upload !== null)
    return (
      <div className="run-box" role="status">
        <span>sending the file</span>
        <ProgressBar now={upload * 100} aria-label="Upload" />
      </div>
    )
  if (run?.state === 'stopped')
    return (
      <div className="run-box" role="status">
        <span className="flex-fill">
          {run.phase === 'held'
            ? 'Changes are held: what is shown is from before.'
            : 'Stopped. Nothing applied is lost.'}
        </span>
        <Button size="sm" onClick={again}>
          {run.phase === 'held' ? 'Run now' : 'Run again'}
        </Button>
      </div>
    )
  if (!busy) return null
  const share = progress?.share ?? 0
  return (
    <div className="run-box" role="status">
      <span style={{ whiteSpace: 'nowrap' }}>{progress?.phase ?? 'starting'}</span>
      <ProgressBar now={share * 100} aria-label="Progress" />
      <span className="figure">{Math.round(share * 100)} %</span>
      <QuietTime heard={`${progress?.phase} ${share}`} />
      <Button size="sm" variant="quiet" onClick={() => void cancelRun(run.id)}>
        Stop
      </Button>
    </div>
  )
}

export function EmptyBench({ open, scan }: { open(): void; scan(): void }) {
  return (
    <div className="empty-bench">
      <div>
        <h2 className="h5">What is on the bench?</h2>
        <p className="soft">Drop a mesh here, or begin with one of these.</p>
        <div className="d-flex gap-2 justify-content-center">
          <Button onClick={open} className="d-flex gap-2 align-items-center">
            <FileInput size={16} />
            Open files
          </Button>
          <Button variant="quiet" onClick={scan} className="d-flex gap-2 align-items-center">
            <ScanLine size={16} />
            Practice scanner
          </Button>
          <Link href="/" className="btn btn-quiet">
            Try the demo
          </Link>
        </div>
      </div>
    </div>
  )
}

export function Notice() {
  const notice = useBench((s) => s.notice)
  const set = useBench((s) => s.set)
  if (!notice) return null
  return (
    <div role="alert" className={`told notice ${notice.kind}`}>
      <span>{notice.text}</span>
      <button type="button" className="btn btn-link btn-sm p-0" onClick={() => set({ notice: null })}>
        OK
      </button>
    </div>
  )
}
