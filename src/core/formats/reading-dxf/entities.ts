/** Entities of a DXF file as the parser names them, with readers of our own where its own go in circles. */
import DxfParser, { type IEntity } from 'dxf-parser'
import type { Place } from '@/core/outline/drawing'

export interface Point {
  x: number
  y: number
  z?: number
}
/** The fields of entities as the parser names them; any may be missing in a damaged file. */
export interface Entity extends IEntity {
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

export function parserOf(): DxfParser {
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

/** Its place in the plane; not a number where the file does not say. */
export const flat = (p: Point | undefined): Place => [p?.x ?? NaN, p?.y ?? NaN]
