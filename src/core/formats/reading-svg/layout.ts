/** Lays the shapes of an SVG file into the plane, groups and uses under their transforms. */
import type { Drawing } from '@/core/outline/drawing'
import { applyFlat, composeFlat, transformed, type Flat } from '@/core/outline/transform'
import { FlatCollector, longRun } from '../flat-model'
import { mostObjects, tooMuch } from '../limits'
import { shapeOf } from './shapes'
import { mapOf, number, type Node } from './xml'

/** Elements that draw nothing by themselves. */
const silent = new Set([
  'defs',
  'symbol',
  'clipPath',
  'mask',
  'pattern',
  'marker',
  'metadata',
  'title',
  'desc',
  'style',
  'namedview',
  'linearGradient',
  'radialGradient',
  'filter',
  'stop',
  'animate',
  'set',
])
const grouping = new Set(['svg', 'g', 'a', 'switch'])
/** How deep uses may stand in one another. */
const deepestUse = 8

const isHidden = (n: Node) => n.at.display === 'none' || /display\s*:\s*none/.test(n.at.style ?? '')
/** An element's own place, which some have beside their transform. */
const placeOf = (n: Node): Flat => [1, 0, 0, 1, number(n.at.x), number(n.at.y)]

export class Layout {
  readonly drawn = new FlatCollector()
  /** Elements by name that are no curves. */
  readonly left = new Map<string, number>()
  /** Shapes that could not be read to the end, or have no size. */
  bad = 0
  /** Links out of the file, or in a ring. */
  outside = 0
  private uses = 0
  private readonly byId = new Map<string, Node>()

  constructor(private readonly svg: Node) {
    const index = (n: Node) => {
      if (n.at.id) this.byId.set(n.at.id, n)
      n.children.forEach(index)
    }
    index(svg)
  }

  /** Lays the whole file down. Throws StepError `too-large` where shapes are used in too many places. */
  lay(map: Flat): void {
    this.walk(this.svg, map, '', 0)
  }

  private walk(n: Node, map: Flat, layer: string, depth: number): void {
    if (isHidden(n)) return
    const own = n === this.svg ? map : composeFlat(map, mapOf(n.at.transform))
    if (grouping.has(n.name)) {
      const at = n.name === 'svg' && n !== this.svg ? composeFlat(own, placeOf(n)) : own
      const label = Object.entries(n.at).find(([k]) => k.endsWith(':label'))?.[1]
      const name = n.name === 'g' && layer === '' ? (label ?? n.at.id ?? layer) : layer
      for (const c of n.children) this.walk(c, at, name, depth)
    } else if (n.name === 'use') this.use(n, own, layer, depth)
    else this.layShape(n, own, layer || 'drawing')
  }

  private use(n: Node, map: Flat, layer: string, depth: number): void {
    const href = n.at.href ?? n.at['xlink:href'] ?? ''
    const target = href.startsWith('#') ? this.byId.get(href.slice(1)) : undefined
    if (!target || depth >= deepestUse) {
      this.outside++
      return
    }
    if (++this.uses > mostObjects) throw tooMuch('uses of shapes', mostObjects)
    const at = composeFlat(map, placeOf(n))
    for (const c of target.name === 'symbol' ? target.children : [target]) this.walk(c, at, layer, depth + 1)
  }

  private layShape(n: Node, map: Flat, layer: string): void {
    const shape = shapeOf(n)
    if (!shape) {
      if (!silent.has(n.name)) this.left.set(n.name, (this.left.get(n.name) ?? 0) + 1)
      return
    }
    if (shape.error) this.bad++
    for (const d of shape.drawings) if (!this.layDrawing(d, map, layer)) this.bad++
  }

  private layDrawing(d: Drawing, map: Flat, layer: string): boolean {
    if (d.curves.length <= longRun || d.curves.some((c) => c.kind !== 'line'))
      return this.drawn.add(layer, transformed(d, map))
    const ends = d.curves.map((c) => (c as { to: number }).to)
    const places = [d.points[0], ...ends.map((i) => d.points[i])]
    const closed = ends[ends.length - 1] === 0
    const row = (closed ? places.slice(0, -1) : places).map((p) => applyFlat(map, p))
    const straight = row.map(() => 0)
    return this.drawn.run(layer, row, straight, closed)
  }
}
