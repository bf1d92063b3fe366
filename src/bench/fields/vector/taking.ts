/** The hand that takes a place or direction from a body: hovers faces, edges and corners, and keeps what was clicked. */
import type { TakenAs } from '@/core/find/taken'
import type { FieldInfo } from '@/core/step/fields'
import type { Hand } from '@/bench/hands/hand'
import { hoverSnap } from '@/bench/hands/hover'
import { showMoment } from '@/bench/hands/moment'
import { hoverSort, takenAt } from '@/bench/hands/taken-at'
import { tell, useBench } from '@/bench/state/store'
import { useTool, type ToolInHand } from '@/bench/state/tool'

/** Whether a field may take its numbers from a body. */
export const takes = (info: FieldInfo): boolean => info.field === 'point' || info.field === 'direction'

export const takenWords: Record<TakenAs, string> = { face: 'flat face', axis: 'axis', edge: 'edge', corner: 'corner' }

/** A hand that takes from bodies while the maker chose so, and else works as `plain` does. `pairs`: the direction that goes with a place. */
export function withTaking(plain?: Hand, pairs?: (tool: ToolInHand) => string | undefined): Hand {
  const meant = (b: { tool: ToolInHand | null; field: { key: string } | null }) =>
    b.tool && b.field ? (b.tool.means[b.field.key] as TakenAs | undefined) : undefined
  return {
    hint(b) {
      const as = meant(b)
      return as
        ? `Click the ${takenWords[as]} to take it from: it is followed from then on`
        : (plain?.hint?.(b) ?? null)
    },
    move(p, b) {
      const as = meant(b)
      if (!as) return plain?.move?.(p, b) ?? false
      if (as === 'corner') hoverSnap(p)
      else hoverSort({ p, sort: as === 'edge' ? 'edge' : 'face' })
      return true
    },
    leave: () => showMoment(null),
    async click(p, b) {
      const as = meant(b)
      const { tool, field } = b
      if (!as || !tool || !field) return (await plain?.click?.(p, b)) ?? false
      const found = await takenAt(p, as)
      if (!found) {
        tell('There is no body there.')
        return true
      }
      const also = as === 'corner' ? undefined : pairs?.(tool)
      useTool.getState().pick({ [field.key]: found, ...(also ? { [also]: found } : {}) }, null)
      useTool.getState().change({ means: { ...tool.means, [field.key]: undefined } })
      useBench.getState().set({ selected: found.from })
      return true
    },
  }
}
