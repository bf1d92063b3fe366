/** What readers of plane files give: drawings on layers, in the file's own unit, y upward. */
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { renumbered } from '@/core/outline/joined'
import { largestCoordinate, tooMuch } from './limits'
import type { Unit } from './units'

export interface FlatLayer {
  readonly name: string
  readonly drawing: Drawing
  /** Rows of very many places: for tracing, not for editing one by one. */
  readonly rows: { readonly places: Place[]; readonly closed: boolean }[]
}

export interface FlatModel {
  readonly format: 'dxf' | 'svg'
  readonly layers: readonly FlatLayer[]
  /** The unit the file states; null where it states none. */
  readonly unit: Unit | null
  /** mm that one of the file's lengths is where it states that by itself, else null. */
  readonly mm: number | null
  readonly notes: string[]
}

/** Curves that a plane file may hold, blocks flattened. */
export const mostCurves = 200_000
/** A run of more straight pieces than this is kept as a reference to trace. */
export const longRun = 4000

/** Collects curves by layer. */
export class FlatCollector {
  private readonly layers = new Map<string, { points: Place[]; curves: Curve[]; rows: FlatLayer['rows'] }>()
  private count = 0

  private layer(name: string) {
    let l = this.layers.get(name)
    if (!l) this.layers.set(name, (l = { points: [], curves: [], rows: [] }))
    return l
  }

  /** Adds a drawing to a layer. False, and nothing is added, where its numbers are none. */
  add(layer: string, d: Drawing): boolean {
    const good = (v: number) => Number.isFinite(v) && Math.abs(v) <= largestCoordinate
    if (!d.points.every((p) => p.every(good))) return false
    if (d.curves.some((c) => (c.kind === 'circle' && !(c.radius > 0)) || (c.kind === 'ellipse' && !(c.short > 0))))
      return false
    this.count += d.curves.length
    if (this.count > mostCurves) throw tooMuch('curves', mostCurves)
    const l = this.layer(layer)
    const base = l.points.length
    for (const p of d.points) l.points.push(p)
    for (const c of d.curves) l.curves.push(renumbered(c, (i) => base + i))
    return true
  }

  /** Adds a run of straight and round pieces: `bulge` is the tangent of a quarter of a piece's angle, 0 for straight. */
  run(layer: string, places: readonly Place[], bulges: readonly number[], closed: boolean): boolean {
    const good = (v: number) => Number.isFinite(v) && Math.abs(v) <= largestCoordinate
    if (places.length < 2 || !places.every((p) => p.every(good))) return false
    if (places.length > longRun && bulges.every((b) => !b)) {
      this.layer(layer).rows.push({ places: [...places], closed })
      return true
    }
    const points: Place[] = [...places]
    const curves: Curve[] = []
    const n = closed ? places.length : places.length - 1
    for (let i = 0; i < n; i++) {
      const from = i,
        to = (i + 1) % places.length
      const [p, q] = [places[from], places[to]]
      const w: Place = [q[0] - p[0], q[1] - p[1]]
      const b = bulges[i] || 0
      if (Math.hypot(...w) === 0) continue
      if (Math.abs(b) < 1e-9 || !Number.isFinite(b)) curves.push({ kind: 'line', from, to })
      else {
        // The centre lies off the chord's middle, to its left for a bulge under a half turn counter-clockwise.
        const k = (1 - b * b) / (4 * b)
        points.push([(p[0] + q[0]) / 2 - k * w[1], (p[1] + q[1]) / 2 + k * w[0]])
        curves.push({ kind: 'arc', from, to, centre: points.length - 1, ccw: b > 0 })
      }
    }
    return this.add(layer, { points, curves })
  }

  result(): FlatLayer[] {
    return [...this.layers]
      .map(([name, l]) => ({ name, drawing: { points: l.points, curves: l.curves }, rows: l.rows }))
      .filter((l) => l.drawing.points.length || l.rows.length)
  }
}
