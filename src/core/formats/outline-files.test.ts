/** DXF and SVG of outlines, read back by an independent parser and by an XML reader. */
import { describe, expect, it } from '@jest/globals'
import DxfParser from 'dxf-parser'
import { SaxesParser } from 'saxes'
import { drawingPlane, type Drawing } from '@/core/outline/drawing'
import { sampleCurve } from '@/core/outline/sample'
import { writeDxf12, writeDxf2000 } from './dxf'
import { flattened, layerName } from './flat'
import { writeSvg } from './svg'

const drawing: Drawing = {
  points: [
    [0, 0],
    [10, 0],
    [10, 10],
    [10, 5],
    [0, 10],
    [30, 5],
    [20, 0],
    [24, 6],
    [28, -2],
    [32, 4],
    [40, 0],
    [44, 6],
    [50, 3],
    [46, -4],
    [41, -3],
  ],
  curves: [
    { kind: 'line', from: 0, to: 1 },
    { kind: 'arc', from: 1, to: 2, centre: 3, ccw: true },
    { kind: 'arc', from: 2, to: 1, centre: 3, ccw: false },
    { kind: 'circle', centre: 3, radius: 2 },
    { kind: 'ellipse', centre: 5, long: 6, short: 2, turn: 30 },
    { kind: 'spline', control: [6, 7, 8, 9], knots: [0, 0, 0, 0, 1, 1, 1, 1] },
    { kind: 'spline', control: [10, 11, 12, 13, 14], closed: true },
  ],
}
const plane = drawingPlane([100, 0, 7], [0, 0, 1])
const parts = [flattened('gate bracket', plane, drawing, [])]
const text = (b: Uint8Array) => new TextDecoder().decode(b)
interface Entity {
  type: string
  layer: string
  vertices?: { x: number; y: number }[]
  center?: { x: number; y: number }
  radius?: number
  startAngle?: number
  endAngle?: number
  axisRatio?: number
  majorAxisEndPoint?: { x: number; y: number }
  controlPoints?: { x: number; y: number }[]
  knotValues?: number[]
  degreeOfSplineCurve?: number
  shape?: boolean
}
const read = (b: Uint8Array) => {
  const d = new DxfParser().parseSync(text(b))!
  return {
    entities: d.entities as unknown as Entity[],
    header: d.header as Record<string, unknown>,
    layers: Object.keys((d.tables as { layer?: { layers: object } }).layer?.layers ?? {}),
  }
}
const round = (v: number | undefined) => Number(v!.toFixed(6))

describe('DXF', () => {
  it('release 12: lines, arcs and circles as such, the rest as polylines within the tolerance', () => {
    const { entities, header, layers } = read(writeDxf12(parts, 0.01))
    expect(header.$ACADVER).toBe('AC1009')
    expect(layers).toContain('gate_bracket')
    expect(entities.map((e) => e.type)).toEqual(['LINE', 'ARC', 'ARC', 'CIRCLE', 'POLYLINE', 'POLYLINE', 'POLYLINE'])
    expect(entities.every((e) => e.layer === 'gate_bracket')).toBe(true)
    // Where the model's origin falls on the plane is the file's.
    expect(entities[0].vertices!.map((v) => [round(v.x), round(v.y)])).toEqual([
      [100, 0],
      [110, 0],
    ])
    const half = entities[1]
    expect([round(half.center!.x), round(half.center!.y), round(half.radius)]).toEqual([110, 5, 5])
    // Angles in radians as this parser gives them: from straight down, counter-clockwise, to straight up.
    expect(Math.sin(half.startAngle!)).toBeCloseTo(-1, 9)
    expect(Math.sin(half.endAngle!)).toBeCloseTo(1, 9)
    // Drawn the other way round it is the same arc.
    expect(entities[2].startAngle).toBeCloseTo(half.startAngle!, 9)
    expect(entities[4].shape).toBe(true)
    for (const v of entities[5].vertices!) {
      const near = sampleCurve(drawing, drawing.curves[5], 1e-4).map(([x, y]) => Math.hypot(x + 100 - v.x, y - v.y))
      expect(Math.min(...near)).toBeLessThan(0.05)
    }
  })
  it('the later release keeps ellipses and splines, with their control points and knots', () => {
    const bytes = writeDxf2000(parts)
    const { entities, header } = read(bytes)
    expect(header.$INSUNITS).toBe(4)
    expect(entities.map((e) => e.type)).toEqual(['LINE', 'ARC', 'ARC', 'CIRCLE', 'ELLIPSE', 'SPLINE', 'SPLINE'])
    const e = entities[4]
    expect(e.axisRatio).toBeCloseTo(1 / 3, 9)
    expect(Math.hypot(e.majorAxisEndPoint!.x, e.majorAxisEndPoint!.y)).toBeCloseTo(6, 9)
    expect(entities[5].controlPoints!.map((p) => [p.x, p.y])).toEqual([
      [120, 0],
      [124, 6],
      [128, -2],
      [132, 4],
    ])
    expect(entities[5].degreeOfSplineCurve).toBe(3)
    // The round one comes with its first three control points again, and as many knots as that needs.
    expect(entities[6].controlPoints).toHaveLength(8)
    expect(entities[6].knotValues).toHaveLength(12)
    expect(text(writeDxf2000(parts))).toBe(text(bytes))
  })
  it('reference curves where nothing is drawn; names that layers can have', () => {
    const rows = [
      {
        places: [
          [0, 0],
          [5, 0],
          [5, 5],
        ] as [number, number][],
        closed: true,
      },
    ]
    const bare = [flattened('rim', plane, { points: [], curves: [] }, rows)]
    expect(read(writeDxf12(bare, 0.01)).entities).toMatchObject([{ type: 'POLYLINE', shape: true }])
    expect(read(writeDxf2000(bare)).entities).toMatchObject([{ type: 'LWPOLYLINE' }])
    expect(layerName('bow & stern, Ø 3')).toBe('bow_stern_3')
    expect(layerName('é')).toBe('_')
  })
})

describe('SVG', () => {
  it('is at true scale in mm, y upwards as drawn, every curve a path; names are escaped', () => {
    const svg = text(writeSvg([flattened('a<b', plane, drawing, [])]))
    const paths: string[] = []
    let root: Record<string, string> = {}
    let title = ''
    const reader = new SaxesParser()
    reader.on('opentag', (t) => {
      if (t.name === 'svg') root = t.attributes as Record<string, string>
      if (t.name === 'path') paths.push((t.attributes as Record<string, string>).d)
    })
    reader.on('text', (t) => (title += t.trim()))
    reader.write(svg).close()
    expect(title).toBe('a<b')
    expect(paths).toHaveLength(7)
    const [, , w, h] = root.viewBox.split(' ').map(Number)
    expect(root.width).toBe(`${w}mm`)
    expect(root.height).toBe(`${h}mm`)
    expect(paths[0]).toBe('M100 0L110 0')
    // A half round upwards to the right: y is turned over, so counter-clockwise is sweep 0.
    expect(paths[1]).toMatch(/^M110 0A5 5 0 [01] 0 110 -10$/)
    expect(paths[5]).toBe('M120 0C124 -6 128 2 132 -4')
    expect(paths[6].match(/C/g)).toHaveLength(5)
    expect(paths[6].endsWith('Z')).toBe(true)
  })
  it('nothing to draw is still a file', () => {
    expect(text(writeSvg([flattened('x', plane, { points: [], curves: [] }, [])]))).toContain('viewBox="-1 -1 2 2"')
  })
})
