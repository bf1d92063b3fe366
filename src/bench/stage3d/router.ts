/** Routes pointer and keys to the hands there are. It knows no tool: section, handles, active field, tool, look are asked in this order. */
import type { BenchView, Grip, Hand, Pointer } from '@/bench/hands/hand'
import { handlesHand } from '@/bench/hands/handles'
import { lookHand } from '@/bench/hands/look'
import { showMoment } from '@/bench/hands/moment'
import { sectionHand } from '@/bench/hands/section'
import { handOf } from '@/bench/fields/registry'
import { movePointer } from '@/bench/state/pointer'
import { toolOf } from '@/bench/tools/registry'
import { benchView, pointerOf, stage } from './view'

/** The hands at work, the first to be asked first. */
export function handsOf(b: Pick<BenchView, 'tool' | 'field'>): Hand[] {
  const field = b.field ? handOf(b.field.info) : undefined
  const tool = b.tool ? toolOf(b.tool.kind)?.hand : undefined
  return [sectionHand, ...(b.tool ? [handlesHand] : []), ...(field ? [field] : []), ...(tool ? [tool] : []), lookHand]
}

/** A click is a press that came up within this many pixels. */
const still = 4

/** What the next click does, in the words of the hand that would take it. */
export function hintOf(b: BenchView): string {
  for (const h of handsOf(b)) {
    const words = h.hint?.(b)
    if (words) return words
  }
  return ''
}

/** Gives a key to the hands. */
export function handKey(e: KeyboardEvent): boolean {
  const b = benchView()
  return !!b && handsOf(b).some((h) => h.key?.(e, b))
}

/** Takes back, or does again, what a hand holds. */
export function handTravel(go: 'undo' | 'redo'): boolean {
  const b = benchView()
  return !!b && handsOf(b).some((h) => h[go]?.(b))
}

function capture(element: HTMLElement, pointer: number): void {
  try {
    element.setPointerCapture(pointer)
  } catch {
    // A pointer that is gone already cannot be held.
  }
}

/** Gives a click to the hands, until one has used it. */
async function click(p: Pointer): Promise<void> {
  const b = benchView()
  if (!b) return
  for (const h of handsOf(b)) {
    const used = h.click?.(p, b)
    if (used && (await used)) return
  }
}

/** Listens to an element; gives what stops it. */
export function routePointer(element: HTMLElement): () => void {
  let grip: Grip | null = null
  let down: { x: number; y: number } | null = null
  // Clicks are answered one after the other, each by the hand that is at work by then: quick ones fill fields in their order.
  let clicks = Promise.resolve()
  let last: Hand[] = []

  const hold = (g: Grip | null) => {
    grip = g
    const { controls } = stage.getState()
    if (controls) controls.enabled = !g
  }
  const onDown = (e: PointerEvent) => {
    if (e.button !== 0 || !(e.target instanceof Element) || !e.target.closest('canvas')) return
    const p = pointerOf(e),
      b = benchView()
    if (!p || !b) return
    down = { x: e.clientX, y: e.clientY }
    for (const h of handsOf(b)) {
      const g = h.down?.(p, b)
      if (!g) continue
      hold(g)
      capture(element, e.pointerId)
      return
    }
  }
  const onMove = (e: PointerEvent) => {
    const p = pointerOf(e)
    if (!p) return
    if (grip) return grip.move(p)
    if (e.buttons) return
    const b = benchView()
    if (!b) return
    const now = handsOf(b)
    for (const h of last) if (!now.includes(h)) h.leave?.(b)
    last = now
    now.some((h) => h.move?.(p, b))
  }
  const onUp = (e: PointerEvent) => {
    if (e.button !== 0) return
    const p = pointerOf(e)
    const start = down
    down = null
    if (grip) {
      const g = grip
      hold(null)
      if (p) g.up(p)
      return
    }
    if (!p || !start || Math.hypot(e.clientX - start.x, e.clientY - start.y) >= still) return
    clicks = clicks.then(() => click(p)).catch((error: unknown) => console.error(error))
  }
  const onCancel = () => {
    down = null
    grip?.cancel()
    hold(null)
  }
  const onLeave = () => {
    if (grip) return
    movePointer({ at: null, body: null, words: '' })
    showMoment(null)
    const b = benchView()
    if (b) for (const h of last) h.leave?.(b)
  }
  const over = new AbortController()
  // Before the view's own controls, which look at the same events.
  const first = { capture: true, signal: over.signal }
  element.addEventListener('pointerdown', onDown, first)
  element.addEventListener('pointermove', onMove, first)
  element.addEventListener('pointerup', onUp, first)
  element.addEventListener('pointercancel', onCancel, { signal: over.signal })
  element.addEventListener('pointerleave', onLeave, { signal: over.signal })
  element.addEventListener('contextmenu', (e) => e.preventDefault(), { signal: over.signal })
  return () => {
    over.abort()
    hold(null)
  }
}
