/** Picking an area of a body: grow, brush, box, lasso, polygon, circle or whole pieces. */
import { useEffect, useState } from 'react'
import { useStore } from 'zustand'
import type { Pick, Region } from '@/core/find/region'
import type { Vec3 } from '@/core/math/vec'
import { Overlay } from '@/bench/draw/overlays'
import { Drawing } from '@/bench/hands/drawing'
import { DrawnShapeView } from '@/bench/hands/drawn-shape'
import type { BenchView, Grip, Hand } from '@/bench/hands/hand'
import { hoverHit } from '@/bench/hands/hover'
import { viewLoop } from '@/bench/hands/view-loop'
import { picking } from '@/bench/picking/client'
import { stage } from '@/bench/stage3d/view'
import { useJobBodies } from '@/bench/state/bodies'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { activeField } from '../slot'

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

function brush(b: BenchView): Grip {
  const path: Vec3[] = []
  let name = b.target?.name
  let asking = Promise.resolve()
  const take = (p: Parameters<Grip['move']>[0]) => {
    asking = asking.then(async () => {
      const hit = await p.hit()
      if (!hit) return
      name ??= hit.name
      if (hit.name === name) path.push(hit.point)
    })
  }
  let waiting = false
  return {
    move(p) {
      if (waiting) return
      waiting = true
      take(p)
      void asking.finally(() => (waiting = false))
    },
    up(p) {
      take(p)
      void asking.then(() => {
        const { mode, radius } = useBench.getState().pick
        if (path.length && name) add({ pick: 'brush', mode, path, radius }, name, now())
      })
    },
    cancel() {},
  }
}

export const regionHand: Hand = {
  hint: () => 'Pick an area on the body: click, or drag with Brush, Box, Lasso or Circle',
  move(p) {
    drawing.move(p)
    hoverHit(p)
    return true
  },
  down: (p, b) => (useBench.getState().pick.way === 'brush' ? brush(b) : drawing.down(p, b)),
  async click(p, b) {
    if (drawing.click(p, b)) return true
    const { way, mode, follow, angle } = useBench.getState().pick
    if (way !== 'grow' && way !== 'piece') return true
    const hit = await p.hit()
    if (hit)
      add(
        way === 'grow' ? { pick: 'grow', mode, at: hit.point, follow, angle } : { pick: 'piece', mode, at: hit.point },
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

/** The picked triangles. */
function RegionOver() {
  const tool = useTool((s) => s.tool)
  const field = tool && activeField(tool)
  const region = field?.info.field === 'region' ? (tool!.values[field.key] as Region | undefined) : undefined
  const hash = useJobBodies((list) => list.find((b) => b.name === tool?.values.body)?.hash)
  const [points, setPoints] = useState<Float32Array | null>(null)
  useEffect(() => {
    if (!region?.length || !hash) {
      setPoints(null)
      useTool.setState({ picked: 0 })
      return
    }
    let live = true
    picking()
      .region(hash, region)
      .then(
        (r) => {
          if (!live) return
          setPoints(r.points)
          useTool.setState({ picked: r.count })
        },
        () => {},
      )
    return () => {
      live = false
    }
  }, [region, hash])
  // Once the ghost is there, it is what matters.
  const ghosted = useStore(stage, (s) => s.ghosted)
  return points && !ghosted ? <Overlay points={points} colour="#8a2f63" /> : null
}
