'use client'
/** The whole bench for one job. */
import dynamic from 'next/dynamic'
import Link from 'next/link'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import type { JobState, RunView } from '@/core/recipe/job-state'
import { Find } from '@/bench/find/find'
import type { GhostState } from '@/bench/ghost/ghost-state'
import { ghostTold } from '@/bench/ghost/told'
import { useGhost } from '@/bench/ghost/use-ghost'
import { putDrawingAway } from '@/bench/outline/state'
import { ComparePanel } from '@/bench/looks/compare-panel'
import { KeptLegend } from '@/bench/looks/kept-map'
import { MapLegend } from '@/bench/looks/map-legend'
import { SectionPanel } from '@/bench/looks/section-panel'
import { Bodies } from '@/bench/readout/bodies'
import { Lineage } from '@/bench/readout/lineage'
import { CheckUpPanel, useCheckUp } from '@/bench/readout/check-up-panel'
import { Readout } from '@/bench/readout/readout'
import { RecipePanel } from '@/bench/recipe/recipe-panel'
import { useBodies, useChanges, useJob } from '@/bench/state/job'
import { marksOf, type Mark } from '@/bench/state/marks'
import { useBench } from '@/bench/state/store'
import { useTheme } from '@/bench/state/theme'
import { useTool, type ToolInHand } from '@/bench/state/tool'
import { ToolCard } from '@/bench/tools/tool-card'
import { Tray } from '@/bench/tray/tray'
import { useBringFiles } from './bring-files'
import { FileInput, useDrop } from './file-drop'
import { Foot } from './foot'
import { useFreshBench } from './fresh-bench'
import { useKeys } from './keys'
import { OffMatStrip } from './off-mat-strip'
import { QuestionDialog } from './question'
import { EmptyBench, Notice, PickBarOver, RunBox, ViewButtons } from './stage-overlays'
import { editStep, useApply, useLater, useTake } from './tool-flow'
import { TopBar } from './top-bar'

const Scene = dynamic(() => import('@/bench/stage3d/scene').then((m) => m.Scene), { ssr: false })

const runWords = { waiting: 'running', running: 'running', failed: 'a step failed', stopped: 'stopped', done: 'ready' }

type Job = JobState | undefined

/** What steps, and the ghost, mark on the bench. */
function useMarks(job: Job, tool: ToolInHand | null, report: GhostState['report']): Mark[] {
  return useMemo(
    () => [
      ...marksOf(job?.recipe.steps ?? [], job?.run?.steps ?? []).filter((m) => m.id !== tool?.editing),
      ...(report?.ok && report.facts.markFrom ? [{ id: 'ghost', facts: report.facts, ghost: true, past: false }] : []),
    ],
    [job?.recipe.steps, job?.run?.steps, tool?.editing, report],
  )
}

/** The word at the foot for how the job is. */
const runWord = (run: RunView | null | undefined): string =>
  !run ? '' : run.state === 'stopped' && run.phase === 'held' ? 'held' : runWords[run.state]

/** The job with its bodies, the ghost of the tool in hand, and what belongs to both. */
function useOnBench(id: string) {
  const { job, error, progress } = useJob(id)
  const tool = useTool((s) => s.tool)
  const marker = useBench((s) => s.marker)
  const editingAt = tool?.editing && job ? job.recipe.steps.findIndex((s) => s.id === tool.editing) : -1
  // While an early step is edited the bench shows the bodies as they were before it.
  const bodies = useBodies(job, editingAt >= 0 ? editingAt : marker)
  const ghost = useGhost(job, tool, bodies, marker)
  const told = ghost.report?.facts
  useEffect(() => ghostTold.setState({ facts: told ?? {} }), [told])
  const check = useCheckUp(id, bodies)
  const inHand = tool ? `${tool.kind} ${tool.editing ?? ''}` : ''
  useFreshBench(id, job, check.body?.hash, inHand)
  const later = useLater(job, tool, ghost.step, editingAt)
  const marks = useMarks(job, tool, ghost.report)
  return { job, error, progress, tool, bodies, ghost, check, inHand, later, marks }
}

type OnBench = ReturnType<typeof useOnBench>

export function BenchPage({ id }: { id: string }) {
  const onBench = useOnBench(id)
  const { job, error, progress, tool, bodies, ghost, check } = onBench
  const finding = useBench((s) => s.finding)
  const { revise, travel, rerun, rename } = useChanges(job)
  const files = useBringFiles(id)
  const { dropping, onto } = useDrop(files.bring)
  const picker = useRef<HTMLInputElement>(null)
  const [ready, setReady] = useState(false)
  const onLoaded = useCallback(() => setReady(true), [])
  const openFiles = useCallback(() => picker.current?.click(), [])
  const take = useTake(job, bodies, openFiles)
  const apply = useApply(job, revise)
  useKeys({ apply, travel: (go) => travel.mutate(go), stopGhost: ghost.stop })
  if (error && !job) return <NoJob why={error.message} />
  const run = job?.run
  const busy = run && (run.state === 'running' || run.state === 'waiting')
  const again = () => rerun.mutate()
  return (
    <main className="bench" data-ready={ready && !busy ? 'yes' : 'no'} {...onto}>
      <FileInput ref={picker} bring={files.bring} />
      <TopBar
        job={job}
        waiting={travel.isPending}
        rename={(title) => rename.mutate(title)}
        travel={(go) => travel.mutate(go)}
      />
      {job ? (
        <RecipePanel
          job={job}
          bodies={bodies}
          ghost={ghost}
          progress={progress.run}
          change={(recipe, label) => revise.mutate({ recipe, label })}
          edit={editStep}
          again={again}
        />
      ) : (
        <aside className="recipe" />
      )}
      <section className="stage" aria-label="Bench">
        <div className="stage-frame">
          <View {...onBench} onLoaded={onLoaded} />
          {job && !bodies.length && !tool && !busy && (
            <EmptyBench open={openFiles} scan={() => take('bring-in/practice-scan')} />
          )}
          {dropping && (
            <div className="drop-over">Drop to bring in: STL, OBJ, PLY, OFF, 3MF, STEP, DXF, SVG · up to 512 MB</div>
          )}
          {job && !tool && <OffMatStrip job={job} bodies={bodies} revise={revise} />}
          <RunBox run={run} upload={files.upload} progress={progress.run} again={again} />
        </div>
        <PickBarOver />
        <Tray take={take} />
      </section>
      <aside className="side" aria-label="Bodies and tool">
        <Bodies bodies={bodies} />
        {job && <Lineage job={job} bodies={bodies} edit={editStep} />}
        <InHand {...onBench} id={id} applying={revise.isPending} apply={apply} />
        <CheckUpPanel check={check} />
        <ReadoutOf bodies={bodies} tool={tool} />
      </aside>
      <Foot run={runWord(run)} />
      {finding && <Find steps={job?.recipe.steps ?? []} bodies={bodies} take={take} edit={editStep} />}
      <Notice />
      <QuestionDialog />
    </main>
  )
}

function NoJob({ why }: { why: string }) {
  return (
    <main className="jobs">
      <p className="told bad">{why}</p>
      <Link href="/">All jobs</Link>
    </main>
  )
}

/** The bench with its bodies, and over it the ways to look. */
function View({ bodies, ghost, check, marks, onLoaded }: OnBench & { onLoaded(): void }) {
  const { dark } = useTheme()
  return (
    <>
      <Scene bodies={bodies} ghost={ghost} faults={check.faults} marks={marks} dark={dark} onLoaded={onLoaded} />
      <SectionPanel bodies={bodies} />
      <ComparePanel bodies={bodies} />
      <MapLegend />
      <KeptLegend />
      <ViewButtons bodies={bodies} />
    </>
  )
}

/** The card of the tool in hand. */
function InHand(p: OnBench & { id: string; applying: boolean; apply(): void }) {
  const { tool, ghost } = p
  if (!tool) return null
  const away = () => {
    ghost.stop()
    useTool.getState().take(null)
  }
  return (
    <ToolCard
      key={p.inHand}
      job={p.id}
      tool={tool}
      bodies={p.bodies}
      ghost={ghost}
      progress={p.progress.ghost}
      applying={p.applying}
      later={p.later}
      onApply={p.apply}
      onCancel={() => {
        if (!putDrawingAway(away)) away()
      }}
    />
  )
}

/** What is told of the body that is picked, or that the tool is at. */
function ReadoutOf({ bodies, tool }: Pick<OnBench, 'bodies' | 'tool'>) {
  const selected = useBench((s) => s.selected)
  return <Readout body={bodies.find((b) => b.name === (selected ?? tool?.values.body)) ?? bodies.at(0)} />
}
