/** Reads DXF: the text form; entities of the plane, blocks flattened, layers kept apart. */
import DxfParser, { type IEntity } from 'dxf-parser'
import { StepError } from '@/core/base/step-error'
import { plural } from '@/core/base/say'
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { fitSpline, pieceOf, throughSpline, type Spline } from '@/core/outline/spline'
import { Draft, piecesBetween } from '@/core/outline/split'
import { applyFlat, composeFlat, flatIdentity, transformed, turnFlat, type Flat } from '@/core/outline/transform'
import { FlatCollector, type FlatModel } from './flat-model'
import { damaged } from './model'
import type { Unit } from './units'

/** How deep blocks may stand in one another, and how many places may hold one. */
const deepest = 16
const mostInserts = 20_000

/** Header variable INSUNITS (published DXF reference, from memory). */
const units: Record<number, Unit> = { 1: 'inch', 2: 'foot', 4: 'mm', 5: 'cm', 6: 'm', 13: 'micron' }

interface Point {
  x: number
  y: number
  z?: number
}
/** The fields of entities as the parser names them; any may be missing in a damaged file. */
interface Entity extends IEntity {
  vertices?: (Point & { bulge?: number })[]
  shape?: boolean
  center?: Point
  radius?: number
  startAngle?: number
  endAngle?: number
  majorAxisEndPoint?: Point
  axisRatio?: number
  controlPoints?: Point[]
  fitPoints?: Point[]
  knotValues?: number[]
  weights?: number[]
  degreeOfSplineCurve?: number
  closed?: boolean
  position?: Point
  name?: string
  xScale?: number
  yScale?: number
  rotation?: number
  columnCount?: number
  rowCount?: number
  columnSpacing?: number
  rowSpacing?: number
  is3dPolygonMesh?: boolean
  isPolyfaceMesh?: boolean
  extrusionDirection?: Point
  extrusionDirectionZ?: number
}

interface Group {
  code: number
  value: unknown
}
interface Scanner {
  next(): Group
  isEOF(): boolean
  lastReadGroup: Group
}

/** Groups of an entity up to the next one. */
function each(scanner: Scanner, take: (g: Group) => void): Group {
  let g = scanner.next()
  while (!scanner.isEOF() && g.code !== 0) {
    take(g)
    g = scanner.next()
  }
  return g
}

const num = (g: Group) => Number(g.value)
type Vertex = Point & { bulge?: number }

/** Reads polylines in place of the parser, whose own reading goes in circles where one is damaged. */
class PlainPolyline {
  readonly ForEntityName = 'LWPOLYLINE' as const
  parseEntity(scanner: Scanner, curr: Group) {
    const vertices: Vertex[] = []
    const e: Record<string, unknown> = { type: curr.value, vertices, shape: false, layer: '0' }
    each(scanner, (g) => {
      const last = vertices[vertices.length - 1] as Vertex | undefined
      if (g.code === 10) vertices.push({ x: num(g), y: 0 })
      else if (g.code === 20 && last) last.y = num(g)
      else if (g.code === 42 && last) last.bulge = num(g)
      else if (g.code === 70) e.shape = (num(g) & 1) === 1
      else if (g.code === 8) e.layer = g.value
      else if (g.code === 230) e.extrusionDirectionZ = num(g)
    })
    return e
  }
}
class VertexPolyline {
  readonly ForEntityName = 'POLYLINE' as const
  parseEntity(scanner: Scanner, curr: Group) {
    const vertices: Vertex[] = []
    const e: Record<string, unknown> = { type: curr.value, vertices, shape: false, layer: '0' }
    let g = each(scanner, (h) => {
      if (h.code === 70) {
        e.shape = (num(h) & 1) === 1
        e.is3dPolygonMesh = (num(h) & 16) !== 0
        e.isPolyfaceMesh = (num(h) & 64) !== 0
      } else if (h.code === 8) e.layer = h.value
      else if (h.code === 230) e.extrusionDirectionZ = num(h)
    })
    while (!scanner.isEOF() && g.value === 'VERTEX') {
      const v: Vertex = { x: 0, y: 0 }
      g = each(scanner, (h) => {
        if (h.code === 10) v.x = num(h)
        else if (h.code === 20) v.y = num(h)
        else if (h.code === 30) v.z = num(h)
        else if (h.code === 42) v.bulge = num(h)
      })
      vertices.push(v)
    }
    if (!scanner.isEOF() && g.value === 'SEQEND') each(scanner, () => {})
    return e
  }
}
/** Passes over an entity that draws no plane curve. */
const passing = (name: string) =>
  class {
    readonly ForEntityName = name
    parseEntity(scanner: Scanner, curr: Group) {
      each(scanner, () => {})
      return { type: curr.value }
    }
  }

function parserOf(): DxfParser {
  const parser = new DxfParser()
  const own = [
    PlainPolyline,
    VertexPolyline,
    ...['3DFACE', 'SOLID', 'DIMENSION', 'MTEXT', 'TEXT', 'ATTDEF'].map(passing),
  ]
  for (const handler of own)
    parser.registerEntityHandler(handler as unknown as Parameters<DxfParser['registerEntityHandler']>[0])
  return parser
}

/** The weights of rational splines, which the parser passes over: it hands the code to whoever asks for a kind of entity. */
function weightsOf(text: string): number[][] {
  const out: number[][] = []
  const lines = text.split(/\r\n|\r|\n/)
  let current: number[] | null = null
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = lines[i].trim()
    if (code === '0') {
      current = lines[i + 1].trim() === 'SPLINE' ? [] : null
      if (current) out.push(current)
    } else if (code === '41' && current) current.push(Number(lines[i + 1]))
  }
  return out
}

/** Ranges of group codes that the parser has a type for; what else stands in a file says nothing of its drawing. */
const ranges = [
  [0, 59], [60, 79], [90, 99], [100, 100], [102, 102], [105, 105], [110, 149], [160, 179], [210, 239], [270, 299], [300, 399],
  [400, 459], [460, 481], [999, 1071],
] // prettier-ignore

/** The text in pairs of code and value that the parser knows. Throws `damaged-file` at a code that is no number. */
function checked(text: string): string {
  const lines = text.split(/\r\n|\r|\n/)
  const out: string[] = []
  for (let i = 0; i + 1 < lines.length; i += 2) {
    if (!/^\s*-?\d{1,5}\s*$/.test(lines[i])) {
      if (!lines.slice(i).some((l) => l.trim())) break
      throw damaged(`"${lines[i].slice(0, 20)}" stands where a group code should`, `line ${i + 1}`, 'Export it again.')
    }
    const code = Number(lines[i])
    if (ranges.some(([a, b]) => code >= a && code <= b)) out.push(lines[i].trim(), lines[i + 1])
    if (code === 0 && lines[i + 1].trim() === 'EOF') return `${out.join('\n')}\n`
  }
  throw damaged('it is cut off before its end', `line ${lines.length}`, 'Export it again.')
}

/** Names of entities in the text with how many there are, sections ENTITIES and BLOCKS. */
function namesIn(text: string): Map<string, number> {
  const out = new Map<string, number>()
  let inside = false
  const lines = text.split(/\r\n|\r|\n/)
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = lines[i].trim(),
      value = lines[i + 1].trim()
    if (code === '2' && lines[i - 1]?.trim() === 'SECTION') inside = value === 'ENTITIES' || value === 'BLOCKS'
    else if (code === '0') {
      if (value === 'ENDSEC') inside = false
      else if (inside) out.set(value, (out.get(value) ?? 0) + 1)
    }
  }
  return out
}

const flat = (p: Point | undefined): Place => [p?.x ?? NaN, p?.y ?? NaN]

/** Place of a rational B-spline of any degree (de Boor in homogeneous coordinates; Piegl & Tiller 4.1). */
function rationalAt(control: Place[], weights: number[], knots: number[], degree: number, t: number): Place {
  let k = degree
  while (k < control.length - 1 && t >= knots[k + 1]) k++
  const d = Array.from({ length: degree + 1 }, (_, i) => {
    const j = k - degree + i
    return [control[j][0] * weights[j], control[j][1] * weights[j], weights[j]]
  })
  for (let r = 1; r <= degree; r++)
    for (let j = degree; j >= r; j--) {
      const i = k - degree + j
      const span = knots[i + degree - r + 1] - knots[i]
      const a = span > 0 ? (t - knots[i]) / span : 0
      d[j] = d[j].map((v, c) => (1 - a) * d[j - 1][c] + a * v)
    }
  return [d[degree][0] / d[degree][2], d[degree][1] / d[degree][2]]
}

const drawingOf = (s: Spline): Drawing => ({
  points: [...s.control],
  curves: [{ kind: 'spline', control: s.control.map((_, i) => i), knots: [...s.knots] }],
})

function splineDrawing(e: Entity, weights: number[]): Drawing | null {
  const control = (e.controlPoints ?? []).map(flat)
  const degree = e.degreeOfSplineCurve ?? 3
  const knots = e.knotValues ?? []
  if (control.length < 2 && (e.fitPoints?.length ?? 0) >= 2) {
    const s = throughSpline(e.fitPoints!.map(flat), !!e.closed)
    if (!s) return null
    return s.closed
      ? { points: [...s.control], curves: [{ kind: 'spline', control: s.control.map((_, i) => i), closed: true }] }
      : drawingOf(s)
  }
  const n = control.length
  if (degree < 1 || degree > 25 || n <= degree || knots.length !== n + degree + 1) return null
  const [from, to] = [knots[degree], knots[n]]
  if (!(to > from) || knots.some((k, i) => !Number.isFinite(k) || (i > 0 && k < knots[i - 1]))) return null
  const rational = weights.length === n && weights.some((w) => Math.abs(w - weights[0]) > 1e-12)
  if (degree === 1 && !rational)
    return { points: control, curves: control.slice(1).map((_, i) => ({ kind: 'line', from: i, to: i + 1 })) }
  if (degree === 3 && !rational) {
    let double = false
    for (let i = 4; i < n; i++) if (knots[i] === knots[i + 2]) double = true
    if (!double) return drawingOf(pieceOf({ control, knots, closed: false }, from, to))
  }
  // Another degree, or rational: a cubic that follows it.
  const w = weights.length === n ? weights : control.map(() => 1)
  const many = Math.min(4000, 24 * n)
  const row = Array.from({ length: many + 1 }, (_, i) =>
    rationalAt(control, w, knots, degree, i === many ? to - 1e-12 * (to - from) : from + ((to - from) * i) / many),
  )
  const fit = fitSpline(row, Math.min(many, 8 * n), false)
  return fit ? drawingOf(fit.spline) : null
}

function curveOf(e: Entity, weights: number[]): Drawing | null {
  switch (e.type) {
    case 'LINE': {
      const [p, q] = [flat(e.vertices?.[0]), flat(e.vertices?.[1])]
      return p[0] === q[0] && p[1] === q[1] ? null : { points: [p, q], curves: [{ kind: 'line', from: 0, to: 1 }] }
    }
    case 'CIRCLE':
      return { points: [flat(e.center)], curves: [{ kind: 'circle', centre: 0, radius: Number(e.radius) }] }
    case 'ARC': {
      // The parser gives angles in radians.
      const m = flat(e.center),
        r = Number(e.radius),
        [a, b] = [Number(e.startAngle), Number(e.endAngle)]
      if (!(r > 0)) return null
      if (Math.abs(b - a) < 1e-12 || Math.abs(Math.abs(b - a) - 2 * Math.PI) < 1e-12)
        return { points: [m], curves: [{ kind: 'circle', centre: 0, radius: r }] }
      const at = (t: number): Place => [m[0] + r * Math.cos(t), m[1] + r * Math.sin(t)]
      return { points: [at(a), at(b), m], curves: [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }] }
    }
    case 'ELLIPSE': {
      const m = flat(e.center),
        long = flat(e.majorAxisEndPoint)
      const l = Math.hypot(...long)
      const curve: Curve = {
        kind: 'ellipse',
        centre: 0,
        long: l,
        short: l * Number(e.axisRatio),
        turn: (Math.atan2(long[1], long[0]) * 180) / Math.PI,
      }
      const whole: Drawing = { points: [m], curves: [curve] }
      const share = (v: number) => v / (2 * Math.PI)
      const from = share(e.startAngle ?? 0),
        to = share(e.endAngle ?? 2 * Math.PI)
      if (!Number.isFinite(from) || !Number.isFinite(to)) return null
      // Angles beyond a turn mean what is left of them.
      const a = from - Math.floor(from)
      const b = Math.abs(to - from) === 1 ? a + 1 : to - Math.floor(to)
      if (!(l > 0) || !(curve.short > 0)) return null
      if (Math.abs(Math.abs(b - a) - 1) < 1e-9 || a === b) return whole
      const last = b > a ? b : b + 1
      const draft = new Draft(whole)
      const at = (t: number) => {
        const u = 2 * Math.PI * t
        const [x, y] = [l * Math.cos(u), curve.short * Math.sin(u)]
        return draft.point([m[0] + (long[0] * x - long[1] * y) / l, m[1] + (long[1] * x + long[0] * y) / l])
      }
      const ends = [at(a), at(last)]
      const [piece] = piecesBetween(draft, whole, curve, [a, last], ends)
      return piece ? { points: draft.points, curves: [piece] } : null
    }
    case 'SPLINE':
      return splineDrawing(e, weights)
    case 'POINT':
      return { points: [flat(e.position)], curves: [] }
    default:
      return null
  }
}

const skip = new Set(['VERTEX', 'SEQEND', 'BLOCK', 'ENDBLK', 'ATTRIB', 'ATTDEF', 'VIEWPORT'])

/**
 * Reads a DXF file. What it cannot draw is listed in the notes.
 * Throws StepError `damaged-file` for one that is cut off or binary, `empty` where it draws nothing, `too-large`.
 */
export function readDxf(bytes: Uint8Array): FlatModel {
  const raw = new TextDecoder('utf-8', { fatal: false }).decode(bytes)
  if (/^[ -~]{0,14}Binary DXF/.test(raw.slice(0, 32)))
    throw damaged('it is a binary DXF, which is not read', 'byte 0', 'Export it as DXF in text form.')
  const text = checked(raw)
  let parsed: ReturnType<DxfParser['parseSync']>
  try {
    parsed = parserOf().parseSync(text)
  } catch (error) {
    const cut = !/^\s*EOF\s*$/m.test(text.slice(-200))
    throw damaged(
      cut
        ? 'it is cut off before its end'
        : `it cannot be read as DXF: ${String((error as Error).message ?? error).slice(0, 120)}`,
      cut ? `byte ${bytes.length}` : 'unknown place',
      'Export it again.',
    )
  }
  if (!parsed) throw damaged('it holds no sections', 'byte 0', 'Export it again.')
  const out = new FlatCollector()
  const found = namesIn(text)
  const weights = /\n\s*41\s*\r?\n/.test(text) && found.has('SPLINE') ? weightsOf(text) : []
  const drawn = new Map<string, number>()
  const bad = new Map<string, number>()
  let lifted = 0,
    inserts = 0,
    missing = 0,
    splines = 0
  const blocks = new Map(Object.entries(parsed.blocks ?? {}))
  /** Weights are told by the order of splines in the file: blocks come before entities. */
  const weightsByEntity = new Map<IEntity, number[]>()
  for (const b of blocks.values())
    for (const e of b.entities ?? []) if (e.type === 'SPLINE') weightsByEntity.set(e, weights[splines++] ?? [])
  for (const e of parsed.entities ?? []) if (e.type === 'SPLINE') weightsByEntity.set(e, weights[splines++] ?? [])

  const walk = (list: readonly IEntity[], map: Flat, layer: string | null, depth: number) => {
    for (const entity of list) {
      const e = entity as Entity
      const on = layer && (!e.layer || e.layer === '0') ? layer : (e.layer ?? '0')
      if (e.type === 'INSERT') {
        const block = blocks.get(e.name ?? '')
        if (!block || depth >= deepest) {
          missing++
          continue
        }
        const [sx, sy] = [e.xScale ?? 1, e.yScale ?? 1]
        const base = flat(block.position ?? { x: 0, y: 0 })
        const mirrored: Flat = (e.extrusionDirection?.z ?? 1) < 0 ? [-1, 0, 0, 1, 0, 0] : flatIdentity
        const place = flat(e.position)
        const columns = Math.max(1, Math.min(1000, e.columnCount ?? 1)),
          rows = Math.max(1, Math.min(1000, e.rowCount ?? 1))
        for (let i = 0; i < columns; i++)
          for (let j = 0; j < rows; j++) {
            if (++inserts > mostInserts)
              throw new StepError('too-large', `The file places more than ${mostInserts} blocks: that is refused.`, {
                tryThis: 'Export only the parts that are needed.',
              })
            const local = composeFlat(
              turnFlat(e.rotation ?? 0),
              composeFlat(
                [sx, 0, 0, sy, i * (e.columnSpacing ?? 0), j * (e.rowSpacing ?? 0)],
                [1, 0, 0, 1, -base[0], -base[1]],
              ),
            )
            walk(
              (block.entities ?? []) as IEntity[],
              composeFlat(map, composeFlat(mirrored, composeFlat([1, 0, 0, 1, place[0], place[1]], local))),
              on,
              depth + 1,
            )
          }
        continue
      }
      // Seen from behind, the first direction of an entity runs the other way.
      const behind = (e.extrusionDirectionZ ?? e.extrusionDirection?.z ?? 1) < 0
      const own: Flat =
        behind && e.type !== 'LINE' && e.type !== 'POINT' && e.type !== 'SPLINE' && e.type !== 'ELLIPSE'
          ? composeFlat(map, [-1, 0, 0, 1, 0, 0])
          : map
      const z = e.center?.z ?? e.vertices?.[0]?.z ?? e.controlPoints?.[0]?.z ?? 0
      if (z) lifted++
      let ok = false
      if ((e.type === 'LWPOLYLINE' || e.type === 'POLYLINE') && !e.is3dPolygonMesh && !e.isPolyfaceMesh) {
        const places = (e.vertices ?? []).map(flat)
        const bulges = (e.vertices ?? []).map((v) => v.bulge ?? 0)
        if (own === flatIdentity) ok = out.run(on, places, bulges, !!e.shape)
        else {
          const local = new FlatCollector()
          if (local.run(on, places, bulges, !!e.shape))
            for (const l of local.result()) {
              ok = out.add(on, transformed(l.drawing, own)) || ok
              for (const r of l.rows)
                ok =
                  out.run(
                    on,
                    r.places.map((p) => applyFlat(own, p)),
                    r.places.map(() => 0),
                    r.closed,
                  ) || ok
            }
        }
      } else {
        const d = curveOf(e, weightsByEntity.get(e) ?? [])
        ok = !!d && out.add(on, own === flatIdentity ? d : transformed(d, own))
        if (!d && !['LINE', 'CIRCLE', 'ARC', 'ELLIPSE', 'SPLINE', 'POINT'].includes(e.type)) continue
      }
      const count = ok ? drawn : bad
      count.set(e.type, (count.get(e.type) ?? 0) + 1)
    }
  }
  walk((parsed.entities ?? []) as IEntity[], flatIdentity, null, 0)

  const known = new Set(['LINE', 'CIRCLE', 'ARC', 'ELLIPSE', 'SPLINE', 'POINT', 'LWPOLYLINE', 'POLYLINE', 'INSERT'])
  const notes: string[] = []
  const unknown = [...found].filter(([n]) => !known.has(n) && !skip.has(n))
  if (unknown.length)
    notes.push(`Left out, as they are no plane curves: ${unknown.map(([n, k]) => `${k} ${n}`).join(', ')}.`)
  if (bad.size)
    notes.push(`Left out, as they have no size or no numbers: ${[...bad].map(([n, k]) => `${k} ${n}`).join(', ')}.`)
  if (missing)
    notes.push(`${plural(missing, 'block')} could not be placed: it is not in the file, or stands in itself.`)
  if (lifted) notes.push(`${plural(lifted, 'curve')} stood off the plane; they lie in it now.`)
  const layers = out.result()
  if (!layers.length)
    throw new StepError('empty', 'The file draws no line, arc, circle, ellipse, polyline or spline.', {
      tryThis: notes[0] ?? 'Export the drawing itself, not a layout of it.',
    })
  const code = Number((parsed.header as Record<string, unknown> | undefined)?.$INSUNITS ?? 0)
  return { format: 'dxf', layers, unit: units[code] ?? null, mm: null, notes }
}
