'use client'
/** The whole bench for one job. */
import dynamic from 'next/dynamic'
import Link from 'next/link'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { acceptedEndings } from '@/core/formats/registry'
import { dependentsOf } from '@/core/recipe/dependents'
import type { Recipe, RecipeStep } from '@/core/recipe/recipe'
import { stepOf } from '@/core/steps/registry'
import { Find } from '@/bench/find/find'
import { recipeWith, stepOfTool } from '@/bench/ghost/ghost-state'
import { ghostTold } from '@/bench/ghost/told'
import { useGhost } from '@/bench/ghost/use-ghost'
import { putDrawingAway } from '@/bench/outline/state'
import { ComparePanel } from '@/bench/looks/compare-panel'
import { KeptLegend } from '@/bench/looks/kept-map'
import { MapLegend } from '@/bench/looks/map-legend'
import { SectionPanel } from '@/bench/looks/section-panel'
import { Bodies } from '@/bench/readout/bodies'
import { Lineage } from '@/bench/readout/lineage'
import type { Lost } from '@/bench/recipe/lost'
import { CheckUpPanel, useCheckUp } from '@/bench/readout/check-up-panel'
import { Readout } from '@/bench/readout/readout'
import { RecipePanel } from '@/bench/recipe/recipe-panel'
import { freshId, useBodies, useChanges, useJob } from '@/bench/state/job'
import { marksOf } from '@/bench/state/marks'
import { fresh, tell, useBench } from '@/bench/state/store'
import { useTheme } from '@/bench/state/theme'
import { useTool } from '@/bench/state/tool'
import { layValues } from '@/bench/state/values'
import { toolOf } from '@/bench/tools/registry'
import { startValues } from '@/bench/tools/start'
import { ToolCard } from '@/bench/tools/tool-card'
import { Tray } from '@/bench/tray/tray'
import { useBringFiles } from './bring-files'
import { Foot } from './foot'
import { useKeys } from './keys'
import { QuestionDialog } from './question'
import { EmptyBench, Notice, PickBarOver, RunBox, ViewButtons } from './stage-overlays'
import { TopBar } from './top-bar'

const Scene = dynamic(() => import('@/bench/stage3d/scene').then((m) => m.Scene), { ssr: false })

const runWords = { waiting: 'running', running: 'running', failed: 'a step failed', stopped: 'stopped', done: 'ready' }

export function BenchPage({ id }: { id: string }) {
  const { job, error, progress } = useJob(id)
  const tool = useTool((s) => s.tool)
  const marker = useBench((s) => s.marker)
  const finding = useBench((s) => s.finding)
  const selected = useBench((s) => s.selected)
  const { set } = useBench.getState()
  const { take: hold } = useTool.getState()
  useEffect(() => layValues(job?.recipe.values), [job?.recipe.values])
  const editingAt = tool?.editing && job ? job.recipe.steps.findIndex((s) => s.id === tool.editing) : -1
  // While an early step is edited the bench shows the bodies as they were before it.
  const bodies = useBodies(job, editingAt >= 0 ? editingAt : marker)
  const ghost = useGhost(job, tool, bodies, marker)
  const told = ghost.report?.facts
  useEffect(() => ghostTold.setState({ facts: told ?? {} }), [told])
  const check = useCheckUp(id, bodies)
  const { revise, travel, rerun, rename } = useChanges(job)
  const { upload, bring } = useBringFiles(id)
  const { dark } = useTheme()
  const [dropping, setDropping] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const [ready, setReady] = useState(false)
  const onLoaded = useCallback(() => setReady(true), [])
  const openFiles = useCallback(() => picker.current?.click(), [])

  // A fresh page starts with nothing in hand.
  useEffect(() => {
    useBench.setState(fresh)
    useTool.getState().take(null)
  }, [id])
  useEffect(() => {
    if (marker !== null && job && marker > job.recipe.steps.length) set({ marker: null })
  }, [marker, job, set])
  useEffect(() => set({ fault: null }), [check.body?.hash, set])
  // Figures and maps of a tool belong to it; so does the place it was asked for.
  const inHand = tool ? `${tool.kind} ${tool.editing ?? ''}` : ''
  useEffect(() => set({ map: null, kept: null }), [inHand, set])
  useEffect(() => {
    document.title = job ? `${job.title} · Glue Bench` : 'Glue Bench'
  }, [job])

  const take = useCallback(
    (kind: string) => {
      const { selected: picked } = useBench.getState()
      if (toolOf(kind)?.start?.({ bodies, selected: picked, openFiles })) return
      hold({ kind, values: startValues(kind, bodies, picked, job) })
    },
    [bodies, hold, job, openFiles],
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
    (step: RecipeStep, lost?: Lost) => {
      hold({ kind: step.kind, values: { ...(lost?.values ?? step.set) }, editing: step.id })
      // The field whose pick is gone takes the next click.
      if (lost) useTool.getState().change({ slot: lost.key })
    },
    [hold],
  )

  const apply = useCallback(() => {
    const now = useTool.getState().tool
    if (!job || !now) return
    const old = job.recipe.steps.find((s) => s.id === now.editing)
    const { step, problem } = stepOfTool(now, now.editing ?? freshId(job.recipe), old)
    if (!step) return tell(`Something is missing: ${problem}.`)
    const { steps } = job.recipe
    const at = marker ?? steps.length
    const recipe: Recipe = {
      ...job.recipe,
      steps: old ? steps.map((s) => (s.id === step.id ? step : s)) : [...steps.slice(0, at), step, ...steps.slice(at)],
    }
    const title = stepOf(now.kind)?.title ?? now.kind
    revise.mutate(
      { recipe, label: old ? `Change ${title}` : title },
      {
        onSuccess: () => {
          hold(null)
          if (!old && marker !== null) set({ marker: marker + 1 })
          if (typeof step.set.name === 'string') set({ selected: step.set.name, part: null })
        },
      },
    )
  }, [job, marker, revise, set, hold])

  const drop = () => {
    const away = () => {
      ghost.stop()
      hold(null)
    }
    if (!putDrawingAway(away)) away()
  }
  useKeys({ apply, travel: (go) => travel.mutate(go), stopGhost: ghost.stop })

  const later = useMemo(() => {
    if (!job || !tool || !ghost.step) return 0
    if (editingAt >= 0) return dependentsOf(job.recipe, editingAt).length
    if (marker === null) return 0
    const upTo = recipeWith(job, tool, ghost.step, marker)
    return dependentsOf({ ...upTo, steps: [...upTo.steps, ...job.recipe.steps.slice(marker)] }, marker).length
  }, [job, tool, ghost.step, editingAt, marker])

  const marks = useMemo(
    () => [
      ...marksOf(job?.recipe.steps ?? [], job?.run?.steps ?? []).filter((m) => m.id !== tool?.editing),
      ...(ghost.report?.ok && ghost.report.facts.markFrom
        ? [{ id: 'ghost', facts: ghost.report.facts, ghost: true, past: false }]
        : []),
    ],
    [job?.recipe.steps, job?.run?.steps, tool?.editing, ghost.report],
  )
  if (error && !job)
    return (
      <main className="jobs">
        <p className="told bad">{error.message}</p>
        <Link href="/">All jobs</Link>
      </main>
    )
  const run = job?.run
  const busy = run && (run.state === 'running' || run.state === 'waiting')
  return (
    <main
      className="bench"
      data-ready={ready && !busy ? 'yes' : 'no'}
      onDragOver={(e) => {
        if (!e.dataTransfer.types.includes('Files')) return
        e.preventDefault()
        setDropping(true)
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
        accept={acceptedEndings}
        onChange={(e) => {
          if (e.target.files?.length) void bring(e.target.files)
          e.target.value = ''
        }}
        data-testid="file-input"
      />
      <TopBar
        job={job}
        waiting={travel.isPending}
        rename={(title) => rename.mutate(title)}
        travel={(go) => travel.mutate(go)}
      />
      {job ? (
        <RecipePanel
          job={job}
          ghost={ghost}
          progress={progress.run}
          change={(recipe, label) => revise.mutate({ recipe, label })}
          edit={edit}
          again={() => rerun.mutate()}
          bodies={bodies}
        />
      ) : (
        <aside className="recipe" />
      )}
      <section className="stage" aria-label="Bench">
        <div className="stage-frame">
          <Scene bodies={bodies} ghost={ghost} faults={check.faults} marks={marks} dark={dark} onLoaded={onLoaded} />
          <SectionPanel bodies={bodies} />
          <ComparePanel bodies={bodies} />
          <MapLegend />
          <KeptLegend />
          <ViewButtons bodies={bodies} />
          {job && !bodies.length && !tool && !busy && (
            <EmptyBench open={openFiles} scan={() => take('bring-in/practice-scan')} />
          )}
          {dropping && (
            <div className="drop-over">Drop to bring in: STL, OBJ, PLY, OFF, 3MF, STEP, DXF, SVG · up to 512 MB</div>
          )}
          <RunBox run={run} upload={upload} progress={progress.run} again={() => rerun.mutate()} />
        </div>
        <PickBarOver />
        <Tray take={take} />
      </section>
      <aside className="side" aria-label="Bodies and tool">
        <Bodies bodies={bodies} />
        {job && <Lineage job={job} bodies={bodies} edit={edit} />}
        {tool && (
          <ToolCard
            key={inHand}
            job={id}
            tool={tool}
            bodies={bodies}
            ghost={ghost}
            progress={progress.ghost}
            applying={revise.isPending}
            later={later}
            onApply={apply}
            onCancel={drop}
          />
        )}
        <CheckUpPanel check={check} />
        <Readout body={bodies.find((b) => b.name === (selected ?? tool?.values.body)) ?? bodies.at(0)} />
      </aside>
      <Foot run={run ? (run.state === 'stopped' && run.phase === 'held' ? 'held' : runWords[run.state]) : ''} />
      {finding && <Find steps={job?.recipe.steps ?? []} bodies={bodies} take={take} edit={edit} />}
      <Notice />
      <QuestionDialog />
    </main>
  )
}
