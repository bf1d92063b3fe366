/** What the hands at work draw, among the bodies and over the picture. */
import { useShallow } from 'zustand/react/shallow'
import { useStore } from 'zustand'
import { activeField } from '@/bench/fields/slot'
import type { Hand } from '@/bench/hands/hand'
import { useTool } from '@/bench/state/tool'
import { handsOf } from './router'
import { stage } from './view'

/** The hands at work; the same list while they stay the same. */
const useHands = (): Hand[] => useTool(useShallow((s) => handsOf({ tool: s.tool, field: activeField(s.tool) })))

export function HandsOver() {
  return useHands().map(({ Over }, i) => Over && <Over key={i} />)
}

export function HandsFlat() {
  const there = useStore(stage, (s) => s.root !== null)
  const hands = useHands()
  return there ? hands.map(({ Flat }, i) => Flat && <Flat key={i} />) : null
}
