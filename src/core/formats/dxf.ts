/** Writes drawings as DXF: release 12 for old machines, with polylines for what it does not know, and a later one that keeps splines. */
import { certainty, defineFormat } from './format'
import { readDxf } from './reading-dxf/read-dxf'
import { DxfWriter, LWPolylineFlags, point2d, point3d, Units } from '@tarikjabiri/dxf'
import type { Place } from '@/core/outline/drawing'
import { sampleCurve, splineOf } from '@/core/outline/sample'
import { layerName, type FlatPart } from './flat'

const degrees = (a: number) => (a * 180) / Math.PI
const angleOf = (p: Place, m: Place) => degrees(Math.atan2(p[1] - m[1], p[0] - m[0]))

/** Text of a DXF file of release 12 (AC1009; the published DXF reference, from memory): group codes and values line by line. */
export function writeDxf12(parts: readonly FlatPart[], chord: number): Uint8Array {
  const out: string[] = []
  const put = (...pairs: (string | number)[]) => {
    for (let i = 0; i < pairs.length; i += 2) {
      const v = pairs[i + 1]
      out.push(
        String(pairs[i]),
        typeof v === 'number' && !Number.isInteger(v) ? v.toFixed(9).replace(/0+$/, '0') : String(v),
      )
    }
  }
  put(
    0,
    'SECTION',
    2,
    'HEADER',
    9,
    '$ACADVER',
    1,
    'AC1009',
    9,
    '$INSUNITS',
    70,
    4,
    9,
    '$MEASUREMENT',
    70,
    1,
    0,
    'ENDSEC',
  )
  put(0, 'SECTION', 2, 'TABLES', 0, 'TABLE', 2, 'LAYER', 70, parts.length)
  for (const p of parts) put(0, 'LAYER', 2, layerName(p.name), 70, 0, 62, 7, 6, 'CONTINUOUS')
  put(0, 'ENDTAB', 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES')
  for (const { name, drawing, rows } of parts) {
    const layer = layerName(name)
    const polyline = (row: readonly Place[], closed: boolean) => {
      put(0, 'POLYLINE', 8, layer, 66, 1, 10, 0, 20, 0, 30, 0, 70, closed ? 1 : 0)
      for (const [u, v] of row) put(0, 'VERTEX', 8, layer, 10, u, 20, v, 30, 0)
      put(0, 'SEQEND', 8, layer)
    }
    for (const c of drawing.curves) {
      const at = (i: number) => drawing.points[i]
      if (c.kind === 'line') {
        const [a, b] = [at(c.from), at(c.to)]
        put(0, 'LINE', 8, layer, 10, a[0], 20, a[1], 30, 0, 11, b[0], 21, b[1], 31, 0)
      } else if (c.kind === 'circle') {
        const m = at(c.centre)
        put(0, 'CIRCLE', 8, layer, 10, m[0], 20, m[1], 30, 0, 40, c.radius)
      } else if (c.kind === 'arc') {
        const m = at(c.centre)
        const [a, b] = c.ccw ? [at(c.from), at(c.to)] : [at(c.to), at(c.from)]
        const r = Math.hypot(a[0] - m[0], a[1] - m[1])
        put(0, 'ARC', 8, layer, 10, m[0], 20, m[1], 30, 0, 40, r, 50, angleOf(a, m), 51, angleOf(b, m))
      } else {
        const row = sampleCurve(drawing, c, chord)
        const closed = c.kind === 'ellipse' || !!c.closed
        polyline(closed ? row.slice(0, -1) : row, closed)
      }
    }
    for (const r of rows) polyline(r.places, r.closed)
  }
  put(0, 'ENDSEC', 0, 'EOF')
  return new TextEncoder().encode(out.join('\r\n') + '\r\n')
}

/** Text of a DXF file of a release that knows ellipses and splines. */
export function writeDxf2000(parts: readonly FlatPart[]): Uint8Array {
  const dxf = new DxfWriter()
  dxf.setUnits(Units.Millimeters)
  for (const { name, drawing, rows } of parts) {
    const layerName_ = layerName(name)
    if (layerName_ !== '0' && !dxf.tables.layerTable.exist(layerName_)) dxf.addLayer(layerName_, 7, 'Continuous')
    dxf.setCurrentLayerName(layerName_)
    const p3 = ([u, v]: Place) => point3d(u, v, 0)
    for (const c of drawing.curves) {
      const at = (i: number) => drawing.points[i]
      switch (c.kind) {
        case 'line':
          dxf.addLine(p3(at(c.from)), p3(at(c.to)))
          break
        case 'circle':
          dxf.addCircle(p3(at(c.centre)), c.radius)
          break
        case 'arc': {
          const m = at(c.centre)
          const [a, b] = c.ccw ? [at(c.from), at(c.to)] : [at(c.to), at(c.from)]
          dxf.addArc(p3(m), Math.hypot(a[0] - m[0], a[1] - m[1]), angleOf(a, m), angleOf(b, m))
          break
        }
        case 'ellipse': {
          const t = (c.turn * Math.PI) / 180
          dxf.addEllipse(
            p3(at(c.centre)),
            point3d(c.long * Math.cos(t), c.long * Math.sin(t), 0),
            c.short / c.long,
            0,
            2 * Math.PI,
          )
          break
        }
        case 'spline': {
          const s = splineOf(drawing, c)
          if (!s) break
          // One that runs round is opened: its first control points come again at its end, with even knots.
          const control = s.closed ? [...s.control, ...s.control.slice(0, 3)] : s.control
          const knots = s.closed ? Array.from({ length: control.length + 4 }, (_, i) => i - 3) : [...s.knots]
          dxf.addSpline({ controlPoints: control.map(p3), degreeCurve: 3, knots })
        }
      }
    }
    for (const r of rows)
      dxf.addLWPolyline(
        r.places.map(([u, v]) => ({ point: point2d(u, v) })),
        { flags: r.closed ? LWPolylineFlags.Closed : LWPolylineFlags.None },
      )
  }
  return new TextEncoder().encode(dxf.stringify())
}

export const dxfFormat = defineFormat({
  name: 'dxf',
  title: 'DXF',
  endings: ['dxf'],
  holds: 'outlines',
  unit: 'stated',
  carries: 'layers, a body each',
  sniff: ({ text }) =>
    /^[ -~]{0,14}Binary DXF/.test(text) || /^\s*(999\r?\n[^\n]*\n\s*)*0\s*\r?\n\s*SECTION\s/.test(text)
      ? certainty.heading
      : certainty.none,
  read: readDxf,
  write: (parts, { release, chord }) => (release === 'R12' ? writeDxf12(parts, chord) : writeDxf2000(parts)),
})
