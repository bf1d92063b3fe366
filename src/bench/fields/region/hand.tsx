/** Picking an area of a body: grow, brush, box, lasso, polygon, circle or whole pieces. */
import { useEffect, useMemo, useRef, useState } from 'react'
import { useStore } from 'zustand'
import type { Pick, Region } from '@/core/find/region'
import { Overlay } from '@/bench/draw/overlays'
import { Drawing } from '@/bench/hands/drawing'
import { DrawnShapeView } from '@/bench/hands/drawn-shape'
import type { BenchView, Hand } from '@/bench/hands/hand'
import { hoverHit } from '@/bench/hands/hover'
import { latest } from '@/bench/hands/moment'
import { viewLoop } from '@/bench/hands/view-loop'
import { picking } from '@/bench/picking/client'
import { stage } from '@/bench/stage3d/view'
import { useJobBodies } from '@/bench/state/bodies'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { activeField } from '../slot'
import { brush } from './brush'
import { FitOver, useLiveFit } from './live-fit'

/** Adds a pick; on another body than before the picks begin anew. */
function add(pick: Pick, name: string, b: Held): void {
  if (!b.tool || !b.field) return
  const old =
    b.tool.values.body === name || !b.tool.values.body ? ((b.tool.values[b.field.key] as Region | undefined) ?? []) : []
  useTool.getState().pick({ body: name, [b.field.key]: [...old, pick] }, b.field.key)
}
type Held = { tool: BenchView['tool']; field: BenchView['field'] }

/** The tool as it is by now: several picks may be answered out of one move. */
const now = (): Held => {
  const { tool } = useTool.getState()
  return { tool, field: tool && activeField(tool) }
}

const drawing = new Drawing(
  (b) => {
    const { way } = useBench.getState().pick
    return b.field?.info.field === 'region' &&
      (way === 'box' || way === 'lasso' || way === 'circle' || way === 'polygon')
      ? way
      : null
  },
  (corners, b) => {
    const { mode, through } = useBench.getState().pick
    const { line, ...view } = viewLoop(corners, b)
    if (b.target) add({ pick: 'loop', mode, ...view, loop: line, through }, b.target.name, now())
  },
)

export const regionHand: Hand = {
  hint: () => 'Pick an area on the body: click, or drag with Brush, Box, Lasso or Circle',
  move(p) {
    drawing.move(p)
    hoverHit(p)
    return true
  },
  down: (p, b) =>
    useBench.getState().pick.way === 'brush' ? brush(b, (pick, name) => add(pick, name, now())) : drawing.down(p, b),
  async click(p, b) {
    if (drawing.click(p, b)) return true
    const { way, mode, follow, angle } = useBench.getState().pick
    if (way !== 'grow' && way !== 'piece' && way !== 'face') return true
    const hit = await p.hit()
    if (hit)
      add(
        way === 'grow' ? { pick: 'grow', mode, at: hit.point, follow, angle } : { pick: way, mode, at: hit.point },
        hit.name,
        now(),
      )
    return true
  },
  key: (e, b) => drawing.key(e, b),
  undo: () => drawing.back(),
  leave: () => void drawing.clear(),
  Flat: () => <DrawnShapeView drawing={drawing} />,
  Over: RegionOver,
}

/** The picked triangles, or how far each lies off the shape that is fitted to them. */
function RegionOver() {
  const tool = useTool((s) => s.tool)
  const painting = useTool((s) => s.painting)
  const field = tool && activeField(tool)
  const made = field?.info.field === 'region' ? (tool!.values[field.key] as Region | undefined) : undefined
  const region = useMemo(() => (painting ? [...(made ?? []), painting] : made), [made, painting])
  const hash = useJobBodies((list) => list.find((b) => b.name === tool?.values.body)?.hash)
  const [points, setPoints] = useState<Float32Array | null>(null)
  const wanted = useRef(region)
  wanted.current = region
  const [ask] = useState(() =>
    latest(async (a: { hash: string; region: Region }) => {
      const r = await picking().region(a.hash, a.region)
      // Cleared meanwhile.
      if (!wanted.current?.length) return
      setPoints(r.points)
      useTool.setState({ picked: r.count })
    }),
  )
  useEffect(() => {
    if (region?.length && hash) return ask({ hash, region })
    setPoints(null)
    useTool.setState({ picked: 0 })
  }, [region, hash, ask])
  // Once the ghost is there, it is what matters.
  const ghosted = useStore(stage, (s) => s.ghosted)
  const fit = useTool((s) => s.fit)
  useLiveFit(field?.info.fitted ? tool : null, hash, region)
  if (!region?.length || !hash) return null
  if (fit?.points.length) return <FitOver fit={fit} />
  return points && !ghosted ? <Overlay points={points} colour="#8a2f63" /> : null
}
