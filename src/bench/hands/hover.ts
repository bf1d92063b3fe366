/** Hovering that several hands share: where the pointer is, and what a click there would snap to. */
import { num } from '@/core/base/say'
import { movePointer } from '@/bench/state/pointer'
import type { Pointer } from './hand'
import { latest, showMoment } from './moment'

const words = { centre: 'centre of bore', corner: 'corner', edge: 'edge' } as const

/** Tells the place under the pointer. */
export const hoverHit = latest(async (p: Pointer) => {
  const hit = await p.hit()
  movePointer({ at: hit?.point ?? null, body: hit?.name ?? null, words: '' })
})

/** Tells the place, and shows the corner, edge or centre that is meant. */
export const hoverSnap = latest(async (p: Pointer) => {
  const hit = await p.snap()
  movePointer({ at: hit?.snap?.point ?? hit?.point ?? null, body: hit?.name ?? null, words: '' })
  showMoment(hit?.snap ? { label: { at: hit.snap.point, text: words[hit.snap.kind] } } : null)
})

/** Tells the closed area of an outline under the pointer, and shows it. */
export const hoverArea = latest(async (p: Pointer) => {
  const hit = await p.area()
  movePointer({ at: hit?.at ?? null, body: hit?.name ?? null, words: hit ? `area ${num(hit.area, 2)} mm²` : '' })
  showMoment(hit ? { triangles: hit.triangles, lines: hit.lines } : null)
})
