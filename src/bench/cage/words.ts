/** What an edit of a cage says of itself, in a few figures. */
import { num, plural } from '@/core/base/say'
import type { CageEdit, Target } from '@/core/cage/edit/schema'

export function toldOf(e: CageEdit): string {
  const t = e as Target
  const on = [
    t.points?.length ? plural(t.points.length, 'point') : '',
    t.edges?.length ? plural(t.edges.length, 'edge') : '',
    t.faces?.length ? plural(t.faces.length, 'face') : '',
  ].filter(Boolean)
  const by = ((): string => {
    switch (e.do) {
      case 'move':
        return `${num(Math.hypot(...e.by), 2)} mm`
      case 'push':
      case 'thicken':
        return `${num(e.distance, 2)} mm`
      case 'extrude':
        return `${num(e.distance ?? Math.hypot(...(e.by ?? [0, 0, 0])), 2)} mm`
      case 'turn':
        return `${num(e.angle, 1)}°`
      case 'scale':
        return e.by.every((v) => v === e.by[0]) ? `× ${num(e.by[0], 3)}` : e.by.map((v) => num(v, 2)).join(' × ')
      case 'sharpen':
        return e.sharpness === 'always' ? 'always' : num(e.sharpness, 1)
      case 'loop':
      case 'slide':
        return `${num(100 * e.share, 0)} %`
      case 'weld':
        return `${num(e.within, 3)} mm`
      case 'mirror':
        return `${e.axis} ${e.keep}`
      default:
        return ''
    }
  })()
  return [...on, by].filter(Boolean).join(' · ')
}
