/** What of a body is meant by a click, as settings keep it; and what is shown while hovering it. */
import { num } from '@/core/base/say'
import type { Taken, TakenAs } from '@/core/find/taken'
import type { PartSort } from '@/core/kinds/kind'
import { partWords } from '@/core/kinds/pointed-part'
import type { Pointer } from './hand'
import { latest, showMoment } from './moment'
import { movePointer } from '@/bench/state/pointer'

/** A place as settings keep it. */
const tidy = (v: readonly number[]) => v.map((x) => Number(x.toFixed(4))) as [number, number, number]

/** Shows the face or edge under the pointer. */
export const hoverSort = latest(async ({ p, sort }: { p: Pointer; sort: PartSort | 'any' }) => {
  const found = await p.part(sort)
  const hit = found ? null : await p.hit()
  movePointer({
    at: found?.at ?? hit?.point ?? null,
    body: found?.name ?? hit?.name ?? null,
    words: found ? partWords(found.sort, found.part, (v) => num(v)) : '',
  })
  showMoment(found ? { triangles: found.triangles, lines: found.lines } : null)
})
export const hoverPart = (p: Pointer): void => hoverSort({ p, sort: 'any' })

/** The face, axis, edge or corner of a body under the pointer, named where the body names its parts; null where there is no body. */
export async function takenAt(p: Pointer, as: TakenAs): Promise<Taken | null> {
  if (as === 'corner') {
    const hit = await p.snap()
    return hit && { from: hit.name, as, at: tidy(hit.snap?.point ?? hit.point) }
  }
  const part = await p.part(as === 'edge' ? 'edge' : 'face')
  if (part) return { from: part.name, as, at: tidy(part.at), ...(part.part.name ? { name: part.part.name } : {}) }
  const hit = await (as === 'edge' ? p.snap() : p.hit())
  return hit && { from: hit.name, as, at: tidy(hit.snap?.point ?? hit.point) }
}
