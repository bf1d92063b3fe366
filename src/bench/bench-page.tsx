'use client'
/** The whole bench for one job. */
import dynamic from 'next/dynamic'
import Link from 'next/link'
import { Anchor, FileInput, Moon, Redo2, ScanLine, Search, Sun, Undo2 } from 'lucide-react'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { ProgressBar } from 'react-bootstrap'
import { dependentsOf } from '@/core/recipe/dependents'
import type { Recipe, RecipeStep } from '@/core/recipe/recipe'
import { marksOf } from '@/bench/state/marks'
import { stages, stageTitles } from '@/core/step/step'
import { num } from '@/core/base/say'
import { stepOf } from '@/core/steps/registry'
import { Button } from './forms/button'
import { ToolCard } from './cards/tool-card'
import { recipeWith, stepOfTool, useGhost } from './cards/use-ghost'
import { Find } from './find/find'
import { PickBar } from './picking/pick-bar'
import { Bodies } from './readout/bodies'
import { CheckUpPanel, useCheckUp } from './readout/check-up-panel'
import { Readout } from './readout/readout'
import { RecipePanel } from './recipe/recipe-panel'
import { ComparePanel, MapLegend, newSection, SectionPanel } from './stage3d/look-panels'
import { fieldsOfTool, slotOf } from './stage3d/slots'
import { cancelRun, renameJob, uploadFile } from './state/api'
import { freshId, useBodies, useChanges, useJob, type BenchBody } from './state/job'
import { useBench, type Shading, type ViewName } from './state/store'
import { hintFor, startValues } from './state/tools'
import { Tray } from './tray/tray'
import { useTheme } from './state/theme'

const Scene = dynamic(() => import('./stage3d/scene').then((m) => m.Scene), { ssr: false })

const views: ViewName[] = ['Front', 'Back', 'Left', 'Right', 'Top', 'Under', 'Corner', 'Fit']
const shadings: [Shading, string][] = [
  ['plain', 'Plain'],
  ['edges', 'Edges on'],
  ['see-through', 'See-through'],
  ['stripes', 'Stripes'],
]

export function BenchPage({ id }: { id: string }) {
  const { job, error, progress } = useJob(id)
  const bench = useBench()
  const { set, takeTool, setStage, lookAt } = useBench.getState()
  const { tool, marker, stage, finding, notice, selected } = bench
  const editingAt = tool?.editing && job ? job.recipe.steps.findIndex((s) => s.id === tool.editing) : -1
  // While an early step is edited the bench shows the bodies as they were before it.
  const bodies = useBodies(job, editingAt >= 0 ? editingAt : marker)
  const ghost = useGhost(job, tool)
  const check = useCheckUp(id, bodies)
  const { revise, travel, rerun } = useChanges(job)
  const { dark, toggleTheme } = useTheme()
  const [upload, setUpload] = useState<number | null>(null)
  const [dropping, setDropping] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const [ready, setReady] = useState(false)
  const onLoaded = useCallback(() => setReady(true), [])

  // A fresh page starts with nothing in hand.
  useEffect(() => {
    useBench.setState({
      tool: null,
      marker: null,
      selected: null,
      checkUpOf: null,
      fault: null,
      looks: {},
      notice: null,
      sections: [],
      comparison: null,
      map: null,
    })
  }, [id])
  useEffect(() => {
    if (marker !== null && job && marker > job.recipe.steps.length) set({ marker: null })
  }, [marker, job, set])
  useEffect(() => {
    set({ fault: null })
  }, [check.body?.hash, set])
  useEffect(() => {
    document.title = job ? `${job.title} · Glue Bench` : 'Glue Bench'
  }, [job])

  const take = useCallback(
    (kind: string) => {
      if (kind === 'bring-in/file') {
        picker.current?.click()
        return
      }
      if (kind === 'mend/check-up') {
        const body =
          bodies.find((b) => b.name === useBench.getState().selected && b.summary?.kind === 'mesh') ??
          bodies.find((b) => b.summary?.kind === 'mesh')
        if (body) set({ checkUpOf: body.name, fault: null })
      }
      takeTool({
        kind,
        values: startValues(kind, bodies, useBench.getState().selected, job),
        editing: null,
        slot: null,
      })
    },
    [bodies, job, set, takeTool],
  )

  // The list of jobs may ask for a tool.
  const asked = useRef(false)
  useEffect(() => {
    const kind = new URLSearchParams(location.search).get('tool')
    if (!job || asked.current || !kind || !stepOf(kind)) return
    asked.current = true
    history.replaceState(null, '', location.pathname)
    take(kind)
  }, [job, take])

  const edit = useCallback(
    (step: RecipeStep) => takeTool({ kind: step.kind, values: { ...step.set }, editing: step.id, slot: null }),
    [takeTool],
  )

  const apply = useCallback(() => {
    if (!job || !tool) return
    const old = job.recipe.steps.find((s) => s.id === tool.editing)
    const made = stepOfTool(tool, tool.editing ?? freshId(job.recipe), old)
    if (!made.step) return set({ notice: { text: `Something is missing: ${made.problem}.`, kind: 'bad' } })
    const step = made.step
    const { steps } = job.recipe
    const at = marker ?? steps.length
    const recipe: Recipe = {
      ...job.recipe,
      steps: old ? steps.map((s) => (s.id === step.id ? step : s)) : [...steps.slice(0, at), step, ...steps.slice(at)],
    }
    const title = stepOf(tool.kind)?.title ?? tool.kind
    revise.mutate(
      { recipe, label: old ? `Change ${title}` : title },
      {
        onSuccess: () => {
          takeTool(null)
          if (!old && marker !== null) set({ marker: marker + 1 })
          if (typeof step.set.name === 'string') set({ selected: step.set.name })
        },
      },
    )
  }, [job, marker, revise, set, takeTool, tool])

  const bring = useCallback(
    async (files: FileList | File[]) => {
      const list = [...files]
      for (const [i, file] of list.entries()) {
        try {
          setUpload(0)
          const { name } = await uploadFile(id, file, setUpload)
          const free = freeBodyName(name.replace(/\.[^.]+$/, ''), bodies)
          setStage('bring-in')
          takeTool({ kind: 'bring-in/file', values: { file: name, name: free }, editing: null, slot: null })
          if (i + 1 < list.length)
            set({
              notice: {
                text: `${list.length - 1} more files wait: bring this one in first, then drop them again.`,
                kind: 'good',
              },
            })
        } catch (e) {
          set({ notice: { text: e instanceof Error ? e.message : 'The upload failed.', kind: 'bad' } })
        } finally {
          setUpload(null)
        }
        break
      }
    },
    [bodies, id, set, setStage, takeTool],
  )

  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const on = e.target as HTMLElement
      const typing = !!on.closest('input:not([type=checkbox]):not([type=radio]):not([type=range]), textarea, select')
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k') {
        e.preventDefault()
        set({ finding: true })
      } else if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && !typing) {
        e.preventDefault()
        travel.mutate(e.shiftKey ? 'redo' : 'undo')
      } else if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'y' && !typing) {
        e.preventDefault()
        travel.mutate('redo')
      } else if (e.key === 'Escape') {
        const s = useBench.getState()
        // One level at a time: Find, then the picks of the slot, then the tool, then the check-up.
        if (s.finding) set({ finding: false })
        else if (s.tool) {
          ghost.stop()
          takeTool(null)
        } else if (s.checkUpOf) set({ checkUpOf: null, fault: null })
        else set({ selected: null })
      } else if (!typing && !e.ctrlKey && !e.metaKey && !e.altKey) {
        if (e.key === '/') {
          e.preventDefault()
          set({ finding: true })
        } else if (/^[1-8]$/.test(e.key)) setStage(stages[Number(e.key) - 1])
        else if (e.key.toLowerCase() === 'f') lookAt('Fit')
        else if (e.key === 'Enter' && useBench.getState().tool && on === document.body) apply()
      }
    }
    window.addEventListener('keydown', key)
    return () => window.removeEventListener('keydown', key)
  }, [apply, ghost, lookAt, set, setStage, takeTool, travel])

  const later = useMemo(() => {
    if (!job || !tool || !ghost.step) return 0
    if (editingAt >= 0) return dependentsOf(job.recipe, editingAt).length
    if (marker === null) return 0
    return dependentsOf(
      {
        ...recipeWith(job, tool, ghost.step, marker),
        steps: [...recipeWith(job, tool, ghost.step, marker).steps, ...job.recipe.steps.slice(marker)],
      },
      marker,
    ).length
  }, [job, tool, ghost.step, editingAt, marker])

  const slot = slotOf(tool)
  const marks = useMemo(
    () => [
      ...marksOf(job?.recipe.steps ?? [], job?.run?.steps ?? []).filter((m) => m.id !== tool?.editing),
      ...(tool?.kind === 'prove/measure' && ghost.report?.ok && ghost.report.facts.markFrom
        ? [{ id: 'ghost', facts: ghost.report.facts, ghost: true, past: false }]
        : []),
    ],
    [job?.recipe.steps, job?.run?.steps, tool?.kind, tool?.editing, ghost.report],
  )
  const run = job?.run
  const busy = run && (run.state === 'running' || run.state === 'waiting')
  if (error && !job)
    return (
      <main className="jobs">
        <p className="told bad">{error.message}</p>
        <Link href="/">All jobs</Link>
      </main>
    )
  const runWords = !run
    ? ''
    : busy
      ? 'running'
      : run.state === 'failed'
        ? 'a step failed'
        : run.state === 'stopped'
          ? 'stopped'
          : 'ready'
  return (
    <main
      className="bench"
      data-ready={ready && !busy ? 'yes' : 'no'}
      onDragOver={(e) => {
        if (e.dataTransfer.types.includes('Files')) {
          e.preventDefault()
          setDropping(true)
        }
      }}
      onDragLeave={(e) => {
        if (e.currentTarget === e.target || !e.relatedTarget) setDropping(false)
      }}
      onDrop={(e) => {
        e.preventDefault()
        setDropping(false)
        if (e.dataTransfer.files.length) void bring(e.dataTransfer.files)
      }}
    >
      <input
        ref={picker}
        type="file"
        className="d-none"
        aria-label="Open files"
        accept=".stl,.obj,.ply,.off,.3mf,.step,.stp"
        onChange={(e) => {
          if (e.target.files?.length) void bring(e.target.files)
          e.target.value = ''
        }}
        data-testid="file-input"
      />
      <header className="top">
        <h1 className="job-title m-0">
          <Link href="/" aria-label="All jobs" className="icon-button">
            <Anchor size={18} strokeWidth={1.8} />
          </Link>
          <button
            type="button"
            title="Rename this job"
            onClick={() => {
              const t = window.prompt('Name of this job', job?.title ?? '')
              if (t?.trim()) void renameJob(id, t.trim()).then(() => location.reload())
            }}
          >
            {job?.title ?? '…'}
          </button>
        </h1>
        <ol className="stages" aria-label="Stages">
          {stages.map((s, i) => (
            <li key={s}>
              <button type="button" aria-current={stage === s ? 'step' : undefined} onClick={() => setStage(s)}>
                <small>{i + 1}</small>
                {s === 'send-out' ? 'Send out' : stageTitles[s]}
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
            disabled={!job?.undo || travel.isPending}
            title={job?.undo ? `Undo: ${job.undo}` : 'Nothing to undo'}
            aria-label="Undo"
            onClick={() => travel.mutate('undo')}
          >
            <Undo2 size={18} />
          </button>
          <button
            type="button"
            className="icon-button"
            disabled={!job?.redo || travel.isPending}
            title={job?.redo ? `Redo: ${job.redo}` : 'Nothing to redo'}
            aria-label="Redo"
            onClick={() => travel.mutate('redo')}
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
      {job ? (
        <RecipePanel
          job={job}
          ghost={ghost}
          progress={progress.run}
          change={(recipe, label) => revise.mutate({ recipe, label })}
          edit={edit}
        />
      ) : (
        <aside className="recipe" />
      )}
      <section className="stage" aria-label="Bench">
        <div style={{ position: 'relative', flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
          <Scene bodies={bodies} ghost={ghost} faults={check.faults} marks={marks} dark={dark} onLoaded={onLoaded} />
          <SectionPanel bodies={bodies} />
          <ComparePanel bodies={bodies} />
          <MapLegend />
          <div className="view-buttons shade-buttons" role="group" aria-label="Shading">
            {shadings.map(([s, l]) => (
              <button key={s} type="button" aria-pressed={bench.shading === s} onClick={() => set({ shading: s })}>
                {l}
              </button>
            ))}
            <button
              type="button"
              aria-pressed={bench.sections.length > 0}
              onClick={() => set({ sections: bench.sections.length ? [] : [newSection(bodies)], sectionPick: null })}
            >
              Section view
            </button>
          </div>
          <div className="view-buttons" role="group" aria-label="View">
            {views.map((v) => (
              <button
                key={v}
                type="button"
                aria-pressed={bench.view.name === v && v !== 'Fit'}
                onClick={() => lookAt(v)}
              >
                {v}
              </button>
            ))}
          </div>
          {slot?.info.field === 'region' && <PickBar field={slot.key} />}
          {job && !bodies.length && !tool && !busy && (
            <EmptyBench open={() => picker.current?.click()} scan={() => take('bring-in/practice-scan')} />
          )}
          {dropping && <div className="drop-over">Drop to bring in: STL, OBJ, PLY, OFF, 3MF, STEP · up to 512 MB</div>}
          {(busy || upload !== null || run?.state === 'stopped') && (
            <div className="run-box" role="status">
              {upload !== null ? (
                <>
                  <span>sending the file</span>
                  <ProgressBar now={upload * 100} aria-label="Upload" />
                </>
              ) : run?.state === 'stopped' ? (
                <>
                  <span className="flex-fill">Stopped. Nothing applied is lost.</span>
                  <Button size="sm" onClick={() => rerun.mutate()}>
                    Run again
                  </Button>
                </>
              ) : (
                <>
                  <span style={{ whiteSpace: 'nowrap' }}>{progress.run?.phase ?? 'starting'}</span>
                  <ProgressBar now={(progress.run?.share ?? 0) * 100} aria-label="Progress" />
                  <span className="figure">{Math.round((progress.run?.share ?? 0) * 100)} %</span>
                  <Button size="sm" variant="quiet" onClick={() => void cancelRun(run!.id)}>
                    Stop
                  </Button>
                </>
              )}
            </div>
          )}
        </div>
        <Tray take={take} />
      </section>
      <aside className="side" aria-label="Bodies and tool">
        <Bodies bodies={bodies} />
        {tool && (
          <ToolCard
            key={`${tool.kind}${tool.editing ?? ''}`}
            job={id}
            tool={tool}
            bodies={bodies}
            ghost={ghost}
            progress={progress.ghost}
            applying={revise.isPending}
            later={later}
            onApply={apply}
            onCancel={() => {
              ghost.stop()
              takeTool(null)
            }}
          />
        )}
        <CheckUpPanel check={check} />
        <Readout body={bodies.find((b) => b.name === (selected ?? tool?.values.body)) ?? bodies.at(0)} />
      </aside>
      <footer className="foot">
        <span className="hint">{hintFor(tool, slot, fieldsOfTool)}</span>
        <span className="figure" data-testid="cursor">
          {bench.cursor
            ? `x ${num(bench.cursor[0], 1)}  y ${num(bench.cursor[1], 1)}  z ${num(bench.cursor[2], 1)}`
            : ''}
        </span>
        <span>mm</span>
        <span data-testid="run-state">{runWords}</span>
      </footer>
      {finding && <Find steps={job?.recipe.steps ?? []} bodies={bodies} take={take} edit={edit} />}
      {notice && (
        <div
          role="alert"
          className={`told ${notice.kind}`}
          style={{
            position: 'fixed',
            left: '50%',
            bottom: 96,
            transform: 'translateX(-50%)',
            zIndex: 1050,
            maxWidth: 560,
            boxShadow: '0 6px 20px rgb(0 0 0 / 15%)',
            display: 'flex',
            gap: 12,
            border: '1px solid currentColor',
          }}
        >
          <span>{notice.text}</span>
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => set({ notice: null })}>
            OK
          </button>
        </div>
      )}
    </main>
  )
}

function freeBodyName(wanted: string, bodies: readonly BenchBody[]): string {
  let name = wanted || 'body'
  for (let i = 2; bodies.some((b) => b.name === name); i++) name = `${wanted} ${i}`
  return name
}

function EmptyBench({ open, scan }: { open(): void; scan(): void }) {
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
