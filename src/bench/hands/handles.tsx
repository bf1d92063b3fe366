/** The handles of the tool in hand, on its ghost. */
import { useStore } from 'zustand'
import { num } from '@/core/base/say'
import { isTaken } from '@/core/find/taken'
import { Label } from '@/bench/draw/labels'
import { ghostTold } from '@/bench/ghost/told'
import { benchBodies, useJobBodies } from '@/bench/state/bodies'
import { useTool, withDefaults, type ToolInHand, type Values } from '@/bench/state/tool'
import { toolOf } from '@/bench/tools/registry'
import { gripHandle, Handle, handleAt, handleState, type HandleSpec } from './handle'
import type { Hand } from './hand'

/** The handles of a tool as it stands. */
export function handlesOf(tool: ToolInHand | null): readonly HandleSpec[] {
  const { facts } = ghostTold.getState()
  // What is taken from bodies lies where the ghost says.
  const taken = (facts.taken ?? {}) as Values
  const values = tool && withDefaults(tool)
  const numbers =
    values && Object.fromEntries(Object.entries(values).map(([k, v]) => [k, isTaken(v) ? (taken[k] ?? v) : v]))
  return (tool && numbers && toolOf(tool.kind)?.handles?.(numbers, benchBodies(), facts)) ?? []
}

export const handlesHand: Hand = {
  move(p, b) {
    const h = handleAt(p, handlesOf(b.tool), b)
    if (handleState.getState().hot !== (h?.key ?? null)) {
      handleState.setState({ hot: h?.key ?? null })
      b.redraw()
    }
    return !!h
  },
  down(p, b) {
    const h = handleAt(p, handlesOf(b.tool), b)
    if (!h) return null
    handleState.setState({ held: h.key, hot: h.key })
    return gripHandle(h, p, b, (v, first) => useTool.getState().drag(h.set(v), first))
  },
  leave: () => handleState.setState({ hot: null }),
  Over: function HandlesOver() {
    const tool = useTool((s) => s.tool)
    useJobBodies((list) => list)
    useStore(ghostTold, (s) => s.facts)
    const hot = useStore(handleState, (s) => s.held ?? s.hot)
    return handlesOf(tool).map((h) => <Handle key={h.key} handle={h} hot={hot === h.key} />)
  },
  Flat: function HandlesFlat() {
    const tool = useTool((s) => s.tool)
    const hot = useStore(handleState, (s) => s.held ?? s.hot)
    const h = handlesOf(tool).find((x) => x.key === hot)
    return h ? (
      <Label at={h.at} className="chip picked beside">
        {h.label} <b className="figure">{num(h.value, 3)}</b> {h.sort === 'ring' ? '°' : 'mm'}
      </Label>
    ) : null
  },
}
