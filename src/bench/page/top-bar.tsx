/** The head of the page: the job's name, the stages, Find, undo and redo. */
import { Anchor, Moon, Redo2, Search, Sun, Undo2 } from 'lucide-react'
import Link from 'next/link'
import type { JobState } from '@/core/recipe/job-state'
import { stages, stageTitles } from '@/core/step/step'
import { useBench } from '@/bench/state/store'
import { useTheme } from '@/bench/state/theme'

interface Props {
  job: JobState | undefined
  waiting: boolean
  rename(title: string): void
  travel(go: 'undo' | 'redo'): void
}

export function TopBar({ job, waiting, rename, travel }: Props) {
  const stage = useBench((s) => s.stage)
  const { set, setStage } = useBench.getState()
  const { dark, toggleTheme } = useTheme()
  const ask = () =>
    set({
      question: {
        ask: 'name',
        title: 'Rename this job',
        label: 'Name of this job',
        value: job?.title ?? '',
        done: (t) => {
          if (t.trim()) rename(t.trim())
        },
      },
    })
  return (
    <header className="top">
      <h1 className="job-title m-0">
        <Link href="/" aria-label="All jobs" className="icon-button">
          <Anchor size={18} strokeWidth={1.8} />
        </Link>
        <button type="button" title={job ? `${job.title} (click to rename)` : undefined} onClick={ask}>
          {job?.title ?? '…'}
        </button>
      </h1>
      <ol className="stages" aria-label="Stages">
        {stages.map((s, i) => (
          <li key={s}>
            <button type="button" aria-current={stage === s ? 'step' : undefined} onClick={() => setStage(s)}>
              <small>{i + 1}</small>
              {stageTitles[s]}
            </button>
          </li>
        ))}
      </ol>
      <div className="top-end">
        <button type="button" className="find-button" onClick={() => set({ finding: true })}>
          <Search size={15} aria-hidden="true" />
          Find <kbd>/</kbd>
        </button>
        <button
          type="button"
          className="icon-button"
          disabled={!job?.undo || waiting}
          title={job?.undo ? `Undo: ${job.undo}` : 'Nothing to undo'}
          aria-label="Undo"
          onClick={() => travel('undo')}
        >
          <Undo2 size={18} />
        </button>
        <button
          type="button"
          className="icon-button"
          disabled={!job?.redo || waiting}
          title={job?.redo ? `Redo: ${job.redo}` : 'Nothing to redo'}
          aria-label="Redo"
          onClick={() => travel('redo')}
        >
          <Redo2 size={18} />
        </button>
        <button
          type="button"
          className="icon-button"
          title={dark ? 'Light' : 'Dark'}
          aria-label={dark ? 'Light theme' : 'Dark theme'}
          onClick={toggleTheme}
        >
          {dark ? <Sun size={17} /> : <Moon size={17} />}
        </button>
      </div>
    </header>
  )
}
