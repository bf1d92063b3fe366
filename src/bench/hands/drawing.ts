/**
 * Shapes drawn over the view: by a drag (box, lasso, circle, line) or corner by corner (polygon, line, outline); clicking the first corner
 * closes. Field hands hold one of these; corners are taken back one by one.
 */
import { createStore, type StoreApi } from 'zustand/vanilla'
import type { BenchView, Grip, Pointer, Screen } from './hand'

export type DrawMode = 'box' | 'lasso' | 'circle' | 'polygon' | 'line' | 'outline'
export interface DrawnShape {
  points: readonly Screen[]
  closed: boolean
}

/** Pixels within which a click means a corner that is there already. */
const closeBy = 9
const far = (a: Screen, b: Screen) => Math.hypot(a[0] - b[0], a[1] - b[1])

/** The corners a drag makes. */
export function dragged(mode: DrawMode, from: Screen, path: readonly Screen[]): Screen[] {
  const to = path[path.length - 1] ?? from
  if (mode === 'box') return [from, [to[0], from[1]], to, [from[0], to[1]]]
  if (mode === 'circle') {
    const r = far(from, to)
    return Array.from({ length: 48 }, (_, i): Screen => {
      const a = (2 * Math.PI * i) / 48
      return [from[0] + r * Math.cos(a), from[1] + r * Math.sin(a)]
    })
  }
  if (mode === 'line') return [from, to]
  // Freehand: corners closer than two pixels carry nothing.
  return path.reduce<Screen[]>((out, p) => (far(out[out.length - 1], p) < 2 ? out : [...out, p]), [from])
}

/** Which shapes stand corner by corner, and which may. */
const byCorners = (mode: DrawMode) => mode === 'polygon' || mode === 'line' || mode === 'outline'
const byDrag = (mode: DrawMode) => mode !== 'polygon'

export class Drawing {
  readonly shape: StoreApi<{ now: DrawnShape | null }> = createStore(() => ({ now: null }))
  private corners: Screen[] = []
  constructor(
    /** What is drawn at the moment; null: nothing. */
    private readonly mode: (b: BenchView) => DrawMode | null,
    private readonly done: (corners: Screen[], b: BenchView) => void,
  ) {}

  private show(points: readonly Screen[] | null, closed = false): void {
    this.shape.setState({ now: points ? { points, closed } : null })
  }

  clear(): boolean {
    const some = this.corners.length > 0
    this.corners = []
    this.show(null)
    return some
  }

  /** Takes back the last corner. */
  back(): boolean {
    if (!this.corners.length) return false
    this.corners.pop()
    this.show(this.corners.length ? [...this.corners] : null)
    return true
  }

  private finish(mode: DrawMode, b: BenchView): void {
    const list = this.corners
    this.clear()
    if (list.length >= (mode === 'line' ? 2 : 3)) this.done(list, b)
  }

  down(p: Pointer, b: BenchView): Grip | null {
    const mode = this.mode(b)
    if (!mode || !byDrag(mode) || this.corners.length) return null
    const from = p.screen
    const path: Screen[] = []
    return {
      move: (q) => {
        path.push(q.screen)
        if (far(from, q.screen) >= 4 || path.length > 3) this.show(dragged(mode, from, path), mode !== 'line')
      },
      up: (q) => {
        this.show(null)
        // A lasso may end where it began; what never left that place is a click.
        if (![...path, q.screen].some((at) => far(from, at) >= 4) || (mode !== 'lasso' && far(from, q.screen) < 4)) {
          if (byCorners(mode)) this.corner(q.screen, mode, b)
          return
        }
        const list = dragged(mode, from, [...path, q.screen])
        if (list.length >= (mode === 'line' ? 2 : 3)) this.done(list, b)
      },
      cancel: () => this.show(null),
    }
  }

  private corner(at: Screen, mode: DrawMode, b: BenchView): void {
    const list = this.corners
    const closes = mode !== 'line' && list.length >= 3 && far(list[0], at) < closeBy
    const again = list.length >= 2 && far(list[list.length - 1], at) < closeBy
    if (closes || again) return this.finish(mode, b)
    list.push(at)
    this.show([...list])
  }

  /** A click: a corner of a shape that stands corner by corner. Gives whether it was used. */
  click(p: Pointer, b: BenchView): boolean {
    const mode = this.mode(b)
    if (!mode || !byCorners(mode)) return false
    this.corner(p.screen, mode, b)
    return true
  }

  move(p: Pointer): void {
    if (this.corners.length) this.show([...this.corners, p.screen])
  }

  key(e: KeyboardEvent, b: BenchView): boolean {
    const mode = this.mode(b)
    if (!mode || !this.corners.length) return false
    if (e.key === 'Enter') this.finish(mode, b)
    else if (e.key === 'Escape') this.back()
    else return false
    return true
  }
}
