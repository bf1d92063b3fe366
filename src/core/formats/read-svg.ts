/** Reads SVG (SVG 1.1 and 2, W3C): paths and basic shapes under their transforms, at real size; scripts, styles and links are never followed. */
import { SaxesParser } from 'saxes'
import svgpath from 'svgpath'
import { StepError } from '@/core/base/step-error'
import { plural } from '@/core/base/say'
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { applyFlat, composeFlat, transformed, type Flat } from '@/core/outline/transform'
import { FlatCollector, longRun, type FlatModel } from './flat-model'
import { deepest, mostObjects, tooMuch } from './limits'
import { damaged } from './model'
import type { Unit } from './units'

/** mm of the absolute units of CSS (CSS Values and Units 3, 6.2). */
const css: Record<string, number> = { mm: 1, cm: 10, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6, px: 25.4 / 96, q: 0.25 }

interface Node {
  readonly name: string
  readonly at: Readonly<Record<string, string>>
  readonly children: Node[]
}

function parseXml(text: string): Node {
  const root: Node = { name: '', at: {}, children: [] }
  const stack = [root]
  let count = 0
  const parser = new SaxesParser()
  parser.on('error', (e) => {
    throw damaged(`it is not right as XML: ${e.message.slice(0, 120)}`, `line ${parser.line}`)
  })
  parser.on('opentag', (tag) => {
    if (++count > 20 * mostObjects) throw tooMuch('elements', 20 * mostObjects)
    if (stack.length > deepest) throw damaged('its elements stand too deep in one another', `line ${parser.line}`)
    const node: Node = {
      name: tag.name.replace(/^.*:/, ''),
      at: tag.attributes as Record<string, string>,
      children: [],
    }
    stack[stack.length - 1].children.push(node)
    stack.push(node)
  })
  parser.on('closetag', () => void stack.pop())
  parser.write(text).close()
  const svg = root.children.find((n) => n.name === 'svg')
  if (!svg) throw damaged('it holds no svg element', 'byte 0')
  return svg
}

const number = (v: string | undefined, other = 0): number => {
  const m = /^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)\s*([a-z%]*)/i.exec(v ?? '')
  if (!m) return other
  const unit = m[2].toLowerCase()
  // Inside the drawing lengths count in its own unit, px; others are turned into it.
  return Number(m[1]) * (unit && unit !== 'px' && css[unit] ? css[unit] / css.px : 1)
}

/** A transform attribute as one map. */
function mapOf(text: string | undefined): Flat {
  if (!text?.trim()) return [1, 0, 0, 1, 0, 0]
  const at = (x: number, y: number): Place => {
    let out: Place = [0, 0]
    svgpath(`M${x} ${y}`)
      .transform(text)
      .abs()
      .iterate((s) => {
        if (s[0] === 'M') out = [s[1], s[2]]
      })
    return out
  }
  const [o, p, q] = [at(0, 0), at(1, 0), at(0, 1)]
  return [p[0] - o[0], p[1] - o[1], q[0] - o[0], q[1] - o[1], o[0], o[1]]
}

/** Centre and angles of an elliptical arc (SVG 1.1, appendix F.6.5); null where it is a straight line. */
function arcCentre(p: Place, q: Place, rx: number, ry: number, turn: number, large: boolean, sweep: boolean) {
  if (!rx || !ry || (p[0] === q[0] && p[1] === q[1])) return null
  ;[rx, ry] = [Math.abs(rx), Math.abs(ry)]
  const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
  const dx = (p[0] - q[0]) / 2,
    dy = (p[1] - q[1]) / 2
  const x = cos * dx + sin * dy,
    y = -sin * dx + cos * dy
  const l = (x / rx) ** 2 + (y / ry) ** 2
  if (l > 1) {
    rx *= Math.sqrt(l)
    ry *= Math.sqrt(l)
  }
  const s =
    (large === sweep ? -1 : 1) *
    Math.sqrt(
      Math.max(0, (rx * rx * ry * ry - rx * rx * y * y - ry * ry * x * x) / (rx * rx * y * y + ry * ry * x * x)),
    )
  const cx = (s * rx * y) / ry,
    cy = (-s * ry * x) / rx
  return { centre: [cos * cx - sin * cy + (p[0] + q[0]) / 2, sin * cx + cos * cy + (p[1] + q[1]) / 2] as Place, rx, ry }
}

/** A path's curves in its own coordinates. */
function pathDrawings(d: string): { drawings: Drawing[]; error: boolean } {
  const drawings: Drawing[] = []
  let points: Place[] = [],
    curves: Curve[] = []
  let start = 0
  const path = svgpath(d).abs().unshort()
  const flush = () => {
    if (curves.length) drawings.push({ points, curves })
    points = []
    curves = []
  }
  const put = (p: Place) => points.push(p) - 1
  let at = 0
  path.iterate((s, _i, x, y) => {
    const end = (p: Place, make: (from: number, to: number) => Curve[]) => {
      if (!points.length) start = at = put([x, y])
      const home = points[start]
      const to = p[0] === home[0] && p[1] === home[1] && curves.length ? start : put(p)
      curves.push(...make(at, to))
      at = to
    }
    const line = (p: Place) =>
      p[0] === x && p[1] === y ? undefined : end(p, (from, to) => [{ kind: 'line', from, to }])
    const cubic = (a: Place, b: Place, p: Place) =>
      end(p, (from, to) => [{ kind: 'spline', control: [from, put(a), put(b), to], knots: [0, 0, 0, 0, 1, 1, 1, 1] }])
    switch (s[0]) {
      case 'M':
        flush()
        start = at = put([s[1], s[2]])
        break
      case 'L':
        line([s[1], s[2]])
        break
      case 'H':
        line([s[1], y])
        break
      case 'V':
        line([x, s[1]])
        break
      case 'C':
        cubic([s[1], s[2]], [s[3], s[4]], [s[5], s[6]])
        break
      case 'Q': {
        // Degree raised exactly.
        const [c, p]: [Place, Place] = [
          [s[1], s[2]],
          [s[3], s[4]],
        ]
        cubic(
          [x + (2 / 3) * (c[0] - x), y + (2 / 3) * (c[1] - y)],
          [p[0] + (2 / 3) * (c[0] - p[0]), p[1] + (2 / 3) * (c[1] - p[1])],
          p,
        )
        break
      }
      case 'A': {
        const p: Place = [s[6], s[7]]
        const a = arcCentre([x, y], p, s[1], s[2], s[3], !!s[4], !!s[5])
        if (!a || ![...a.centre, a.rx, a.ry].every(Number.isFinite)) {
          line(p)
          break
        }
        if (Math.abs(a.rx - a.ry) < 1e-9 * a.rx) {
          end(p, (from, to) => [{ kind: 'arc', from, to, centre: put(a.centre), ccw: !!s[5] }])
          break
        }
        // An arc of an ellipse: of a circle, stretched and turned.
        const turn = (s[3] * Math.PI) / 180
        const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
        const map: Flat = [cos * a.rx, sin * a.rx, -sin * a.ry, cos * a.ry, a.centre[0], a.centre[1]]
        const back = (q: Place): Place => {
          const [u, v] = [q[0] - a.centre[0], q[1] - a.centre[1]]
          return [(cos * u + sin * v) / a.rx, (-sin * u + cos * v) / a.ry]
        }
        const own = transformed(
          {
            points: [back([x, y]), back(p), [0, 0]],
            curves: [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: !!s[5] }],
          },
          map,
        )
        end(p, (from, to) =>
          own.curves.flatMap((c): Curve[] => {
            if (c.kind !== 'spline' || !c.control) return []
            const inner = c.control.slice(1, -1).map((i) => put(own.points[i]))
            const forward = c.control[0] === 0
            return [
              {
                ...c,
                control: forward ? [from, ...inner, to] : [to, ...inner, from],
              },
            ]
          }),
        )
        break
      }
      case 'Z':
      case 'z':
        if (points.length && at !== start) {
          const [p, q] = [points[at], points[start]]
          if (p[0] !== q[0] || p[1] !== q[1]) curves.push({ kind: 'line', from: at, to: start })
          at = start
        }
        break
    }
  })
  flush()
  return { drawings: drawings.map(wholeCircles), error: !!(path as unknown as { err?: string }).err }
}

/** Two arcs that close on each other round one centre are a circle. */
function wholeCircles(d: Drawing): Drawing {
  const [a, b] = d.curves
  if (d.curves.length !== 2 || a.kind !== 'arc' || b.kind !== 'arc' || a.ccw !== b.ccw) return d
  if (a.from !== b.to || a.to !== b.from) return d
  const [m, n, p] = [d.points[a.centre], d.points[b.centre], d.points[a.from]]
  const r = Math.hypot(p[0] - m[0], p[1] - m[1])
  return Math.hypot(m[0] - n[0], m[1] - n[1]) > 1e-6 * r
    ? d
    : { points: [m], curves: [{ kind: 'circle', centre: 0, radius: r }] }
}

function shape(n: Node): { drawings: Drawing[]; error: boolean } | null {
  const v = (k: string, other = 0) => number(n.at[k], other)
  const one = (drawing: Drawing) => ({ drawings: [drawing], error: false })
  switch (n.name) {
    case 'path':
      return pathDrawings(n.at.d ?? '')
    case 'line':
      return pathDrawings(`M${v('x1')} ${v('y1')}L${v('x2')} ${v('y2')}`)
    case 'circle':
      return one({ points: [[v('cx'), v('cy')]], curves: [{ kind: 'circle', centre: 0, radius: v('r') }] })
    case 'ellipse':
      return one({
        points: [[v('cx'), v('cy')]],
        curves: [{ kind: 'ellipse', centre: 0, long: v('rx'), short: v('ry'), turn: 0 }],
      })
    case 'polyline':
    case 'polygon': {
      const p = (n.at.points ?? '').trim().split(/[\s,]+/)
      const pairs = Array.from({ length: p.length >> 1 }, (_, i) => `${p[2 * i]} ${p[2 * i + 1]}`)
      return pairs.length < 2
        ? { drawings: [], error: true }
        : pathDrawings(`M${pairs.join('L')}${n.name === 'polygon' ? 'Z' : ''}`)
    }
    case 'rect': {
      const [x, y, w, h] = ['x', 'y', 'width', 'height'].map((k) => v(k))
      if (!(w > 0) || !(h > 0)) return { drawings: [], error: true }
      let rx = n.at.rx === undefined ? v('ry') : v('rx'),
        ry = n.at.ry === undefined ? v('rx') : v('ry')
      rx = Math.min(rx, w / 2)
      ry = Math.min(ry, h / 2)
      if (!rx || !ry) return pathDrawings(`M${x} ${y}H${x + w}V${y + h}H${x}Z`)
      const a = (px: number, py: number) => `A${rx} ${ry} 0 0 1 ${px} ${py}`
      return pathDrawings(
        `M${x + rx} ${y}H${x + w - rx}${a(x + w, y + ry)}V${y + h - ry}${a(x + w - rx, y + h)}H${x + rx}${a(x, y + h - ry)}V${y + ry}${a(x + rx, y)}Z`,
      )
    }
    default:
      return null
  }
}

/** Elements that draw nothing by themselves. */
const silent = new Set([
  'defs', 'symbol', 'clipPath', 'mask', 'pattern', 'marker', 'metadata', 'title', 'desc', 'style', 'namedview',
  'linearGradient', 'radialGradient', 'filter', 'stop', 'animate', 'set',
]) // prettier-ignore
const grouping = new Set(['svg', 'g', 'a', 'switch'])

/** Reads an SVG file. Throws StepError `damaged-file` with the line at fault, `empty` where it draws nothing, `too-large`. */
export function readSvg(bytes: Uint8Array): FlatModel {
  const svg = parseXml(new TextDecoder('utf-8', { fatal: false }).decode(bytes))
  const out = new FlatCollector()
  const notes: string[] = []
  const left = new Map<string, number>()
  let bad = 0,
    outside = 0,
    uses = 0
  const byId = new Map<string, Node>()
  const index = (n: Node) => {
    if (n.at.id) byId.set(n.at.id, n)
    n.children.forEach(index)
  }
  index(svg)
  const hidden = (n: Node) => n.at.display === 'none' || /display\s*:\s*none/.test(n.at.style ?? '')

  const walk = (n: Node, map: Flat, layer: string, depth: number) => {
    if (hidden(n)) return
    const own = n === svg ? map : composeFlat(map, mapOf(n.at.transform))
    if (grouping.has(n.name)) {
      const at = n.name === 'svg' && n !== svg ? composeFlat(own, [1, 0, 0, 1, number(n.at.x), number(n.at.y)]) : own
      const label = Object.entries(n.at).find(([k]) => k.endsWith(':label'))?.[1]
      const name = n.name === 'g' && layer === '' ? (label ?? n.at.id ?? layer) : layer
      for (const c of n.children) walk(c, at, name, depth)
      return
    }
    if (n.name === 'use') {
      const href = n.at.href ?? n.at['xlink:href'] ?? ''
      const target = href.startsWith('#') ? byId.get(href.slice(1)) : undefined
      if (!target || depth >= 8) {
        outside++
        return
      }
      if (++uses > mostObjects) throw tooMuch('uses of shapes', mostObjects)
      const at = composeFlat(own, [1, 0, 0, 1, number(n.at.x), number(n.at.y)])
      if (target.name === 'symbol') for (const c of target.children) walk(c, at, layer, depth + 1)
      else walk(target, at, layer, depth + 1)
      return
    }
    const s = shape(n)
    if (!s) {
      if (!silent.has(n.name)) left.set(n.name, (left.get(n.name) ?? 0) + 1)
      return
    }
    if (s.error) bad++
    for (const d of s.drawings) {
      if (d.curves.length > longRun && d.curves.every((c) => c.kind === 'line')) {
        const places = [d.points[0], ...d.curves.map((c) => d.points[(c as { to: number }).to])]
        const closed = (d.curves[d.curves.length - 1] as { to: number }).to === 0
        const row = (closed ? places.slice(0, -1) : places).map((p) => applyFlat(own, p))
        if (
          !out.run(
            layer || 'drawing',
            row,
            row.map(() => 0),
            closed,
          )
        )
          bad++
      } else if (!out.add(layer || 'drawing', transformed(d, own))) bad++
    }
  }

  // Real size: the width in the world over the width in the drawing's own numbers (SVG 1.1, 7.7).
  const box = (svg.at.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number)
  const view = box.length === 4 && box.every(Number.isFinite) && box[2] > 0 && box[3] > 0 ? box : null
  const size = (k: 'width' | 'height') => {
    const m = /^\s*([\d.]+(?:e[+-]?\d+)?)\s*([a-z%]*)\s*$/i.exec(svg.at[k] ?? '')
    return m && m[2] !== '%' ? { value: Number(m[1]), unit: m[2].toLowerCase() } : null
  }
  const [w, h] = [size('width'), size('height')]
  const stated = [w, h].find((s) => s && s.unit && s.unit !== 'px' && css[s.unit])
  const mmOf = (s: NonNullable<typeof w>) => s.value * (css[s.unit || 'px'] ?? css.px)
  let scale = css.px
  if (view && (w ?? h)) {
    const ratios = [w && mmOf(w) / view[2], h && mmOf(h) / view[3]].filter((r): r is number => !!r && r > 0)
    // Where both are given and differ, the drawing keeps its shape and fits in.
    if (ratios.length) scale = Math.min(...ratios)
  }
  const [ox, oy] = view ? [view[0], view[1]] : [0, 0]
  const high = view ? view[3] : (h?.value ?? 0)
  // y runs down on paper and up here; the lower left corner of the sheet is the origin.
  walk(svg, [1, 0, 0, -1, -ox, oy + high], '', 0)

  const scripts = left.get('script')
  left.delete('script')
  if (scripts) notes.push(`${plural(scripts, 'script')} in the file ${scripts === 1 ? 'was' : 'were'} not run.`)
  if (outside)
    notes.push(
      `${plural(outside, 'link')} out of the file or in a ring ${outside === 1 ? 'was' : 'were'} not followed.`,
    )
  if (left.size) notes.push(`Left out, as they are no curves: ${[...left].map(([n, k]) => `${k} ${n}`).join(', ')}.`)
  if (bad) notes.push(`${plural(bad, 'shape')} could not be read to the end, or had no size.`)
  const layers = out.result()
  if (!layers.length)
    throw new StepError('empty', 'The file draws no path, line, circle, ellipse, rectangle or polygon.', {
      tryThis: left.has('text') ? 'Turn its text into paths before exporting.' : 'Export the shapes themselves.',
    })
  const unit: Unit | null = stated
    ? (({ mm: 'mm', cm: 'cm', in: 'inch' } as Record<string, Unit>)[stated.unit] ?? 'mm')
    : null
  return { format: 'svg', layers, unit, mm: scale, notes }
}
