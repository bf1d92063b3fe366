/** DXF and SVG brought in: closed forms, what was written by our own writers, and what cannot be read. */
import { describe, expect, it } from '@jest/globals'
import { isOutline, type OutlineBody } from '@/core/bodies/body'
import { quiet } from '@/core/base/work'
import { outlineFigures } from '@/core/kinds/outline'
import { drawingPlane, type Drawing } from '@/core/outline/drawing'
import { runStep } from '@/testing/run-step'
import { dxfSample, svgSample } from '../../../fuzz/samples'
import { formatOf } from './registry'
import { writeDxf12, writeDxf2000 } from './dxf'
import { flattened } from './flat'
import { readDxf } from './reading-dxf/read-dxf'
import { readSvg } from './reading-svg/read-svg'
import { writeSvg } from './svg'

const bytes = (text: string) => new TextEncoder().encode(text)
const dxf = (...pairs: string[]) => bytes(`${pairs.join('\n')}\n`)
const entities = (...pairs: string[]) => listed(pairs)
const listed = (pairs: readonly string[]) =>
  bytes(`0\nSECTION\n2\nENTITIES\n${pairs.join('\n')}${pairs.length ? '\n' : ''}0\nENDSEC\n0\nEOF\n`)
const svg = (inner: string, head = 'width="100mm" height="100mm" viewBox="0 0 100 100"') =>
  bytes(`<svg xmlns="http://www.w3.org/2000/svg" ${head}>${inner}</svg>`)

async function bring(file: Uint8Array, name: string, set: Record<string, unknown> = {}) {
  const r = await runStep('bring-in/file', { file: name, name: 'drawn', ...set }, {}, quiet, { [name]: file })
  const bodies = Object.values(r.bodies).filter((b): b is OutlineBody => !!b && isOutline(b))
  return { ...r, bodies, figures: bodies.map(outlineFigures) }
}

describe('DXF', () => {
  it('blocks in rows, bulges, arcs across 0°, ellipse arcs and splines, in inches', async () => {
    const r = await bring(dxf(...dxfSample), 'part.dxf')
    expect(r.facts).toMatchObject({ format: 'dxf', unit: 'inch', stated: 'inch' })
    const { curves } = r.bodies[0].drawing
    const count = (k: string) => curves.filter((c) => c.kind === k).length
    expect([count('circle'), count('line'), count('arc'), count('spline')]).toEqual([6, 3, 2, 2])
    const c = curves.find((k) => k.kind === 'circle') as { radius: number }
    expect(c.radius).toBeCloseTo(0.2 * 25.4, 9)
    // The bulge of 1 is a half circle over a side of 2 inches, outside of the triangle: 3 + π / 2 square inches.
    const plate = r.figures[0].areas.find((a) => a > 2 * 645)!
    expect(plate / 25.4 ** 2).toBeCloseTo(3 + Math.PI / 2, 9)
    expect(r.warnings!.join()).toContain('1 MTEXT')
    expect((r.facts.layers as { name: string }[]).map((l) => l.name)).toEqual(['bores', 'plate', 'curve'])
    const apart = await bring(dxf(...dxfSample), 'part.dxf', { parts: 'apart', unit: 'mm' })
    expect(Object.keys(apart.bodies)).toHaveLength(3)
    expect((apart.bodies[0].drawing.curves[0] as { radius: number }).radius).toBeCloseTo(0.2, 12)
  })
  it('what is written as R12 and R2000 comes back with the same areas', async () => {
    const drawing: Drawing = {
      points: [
        [0, 0],
        [30, 0],
        [30, 20],
        [0, 20],
        [30, 10],
        [8, 10],
        [18, 10],
        [13, 14],
        [13, 6],
        [23, 13],
        [24, 6],
      ],
      curves: [
        { kind: 'line', from: 0, to: 1 },
        { kind: 'arc', from: 1, to: 2, centre: 4, ccw: true },
        { kind: 'line', from: 2, to: 3 },
        { kind: 'line', from: 3, to: 0 },
        { kind: 'circle', centre: 5, radius: 3 },
        { kind: 'ellipse', centre: 6, long: 4, short: 2, turn: 30 },
      ],
    }
    const parts = [flattened('plate', drawingPlane([0, 0, 0], [0, 0, 1]), drawing, [])]
    const area = 600 + 50 * Math.PI - 9 * Math.PI - 8 * Math.PI
    for (const [file, name, digits] of [
      [writeDxf2000(parts), 'a.dxf', 6],
      [writeDxf12(parts, 1e-5), 'b.dxf', 3],
      [writeSvg(parts), 'c.svg', 2],
    ] as const) {
      const r = await bring(file, name)
      expect(r.figures[0].areas.reduce((s, a) => s + a, 0)).toBeCloseTo(area, digits)
      expect(r.figures[0].open).toBe(0)
    }
  })
  it('rational splines follow their circle, other degrees their curve', () => {
    // A quarter circle as a rational quadratic (Piegl & Tiller 7.3): every place 1 from the centre.
    const rational = entities(
      ...['0', 'SPLINE', '8', '0', '70', '4', '71', '2', '72', '6', '73', '3'],
      ...['40', '0', '40', '0', '40', '0', '40', '1', '40', '1', '40', '1'],
      ...[
        '41',
        '1',
        '41',
        String(Math.SQRT1_2),
        '41',
        '1',
        '10',
        '1',
        '20',
        '0',
        '10',
        '1',
        '20',
        '1',
        '10',
        '0',
        '20',
        '1',
      ],
    )
    const d = readDxf(rational).layers[0].drawing
    const c = d.curves[0] as { control: number[] }
    const middle = d.points[c.control[Math.floor(c.control.length / 2)]]
    expect(Math.hypot(...middle)).toBeGreaterThan(0.99)
    expect(Math.hypot(...middle)).toBeLessThan(1.01)
  })
  it('says what is wrong with what it cannot read', () => {
    const why = (file: Uint8Array) => {
      try {
        readDxf(file)
        return ''
      } catch (e) {
        return (e as Error).message
      }
    }
    expect(why(dxf(...dxfSample.slice(0, 60)))).toMatch(/cut off before its end/)
    expect(why(bytes('Xxxxxx Binary DXF\r\n\u001a\u0000'))).toMatch(/binary DXF/)
    expect(why(entities())).toMatch(/draws no line/)
    expect(why(entities('0', '3DFACE', '8', '0', '10', '0', '20', '0', '30', '0'))).toMatch(/draws no line/)
    const self = dxf(
      ...[
        '0',
        'SECTION',
        '2',
        'BLOCKS',
        '0',
        'BLOCK',
        '2',
        'a',
        '10',
        '0',
        '20',
        '0',
        '0',
        'INSERT',
        '2',
        'a',
        '10',
        '0',
        '20',
        '0',
        '0',
        'ENDBLK',
        '0',
        'ENDSEC',
      ],
      ...[
        '0',
        'SECTION',
        '2',
        'ENTITIES',
        '0',
        'INSERT',
        '2',
        'a',
        '10',
        '0',
        '20',
        '0',
        '0',
        'LINE',
        '10',
        '0',
        '20',
        '0',
        '11',
        '1',
        '21',
        '0',
        '0',
        'ENDSEC',
        '0',
        'EOF',
      ],
    )
    expect(readDxf(self).notes.join()).toMatch(/stands in itself/)
  })
  it('a polyline of very many vertices is kept to trace', async () => {
    const many = 100_000
    const pairs = ['0', 'LWPOLYLINE', '8', '0', '90', String(many), '70', '1']
    for (let i = 0; i < many; i++) {
      const a = (2 * Math.PI * i) / many
      pairs.push('10', (50 * Math.cos(a)).toFixed(6), '20', (50 * Math.sin(a)).toFixed(6))
    }
    const r = await bring(listed(pairs), 'many.dxf')
    expect(r.facts).toMatchObject({ curves: 0, references: 1 })
    expect(r.figures[0].areas[0]).toBeCloseTo(2500 * Math.PI, 2)
  })
})

describe('SVG', () => {
  it('has real size by width over viewBox, y upward, in any unit', async () => {
    const r = await bring(svg('<rect x="10" y="80" width="20" height="10"/>'), 'a.svg')
    expect(r.bodies[0].drawing.points).toEqual([
      [10, 20],
      [30, 20],
      [30, 10],
      [10, 10],
    ])
    const inch = readSvg(svg('<circle r="5"/>', 'width="2in" height="1in" viewBox="0 0 100 50"'))
    expect([inch.unit, inch.mm]).toEqual(['inch', 0.508])
    const bare = readSvg(svg('<circle r="5"/>', ''))
    expect(bare.unit).toBeNull()
    expect(bare.mm).toBeCloseTo(25.4 / 96, 12)
  })
  it('transforms of every sort and every sort of path, by area', async () => {
    const area = async (inner: string) =>
      (await bring(svg(inner), 'a.svg')).figures[0].areas.map((a) => Number(a.toFixed(4)))
    expect(await area('<g transform="translate(20,10) rotate(33)"><rect width="20" height="40" rx="5"/></g>')).toEqual([
      Number((800 - 25 * (4 - Math.PI)).toFixed(4)),
    ])
    expect(await area('<circle r="10" transform="scale(2,0.5)"/>')).toEqual([Number((100 * Math.PI).toFixed(4))])
    expect(await area('<path d="M10 10 A 8 8 0 1 0 26 10 A 8 8 0 1 0 10 10 Z"/>')).toEqual([
      Number((64 * Math.PI).toFixed(4)),
    ])
    expect(await area('<path d="m0 0h10v10h-10z"/><path d="M20 20 l 10 0 l 0 10 z"/>')).toEqual([100, 50])
    // A parabola's segment is two thirds of its box: q raised to a cubic exactly.
    expect(await area('<path d="M0 0 Q 6 12 12 0 Z"/>')).toEqual([48])
    expect(await area('<rect width="9" height="9" transform="skewX(30)"/>')).toEqual([81])
    expect(await area('<ellipse rx="6" ry="2" transform="rotate(20)"/>')).toEqual([Number((12 * Math.PI).toFixed(4))])
  })
  it('runs no script, follows no link, and says what it left out', () => {
    const { notes, layers } = readSvg(bytes(svgSample))
    expect(notes.join(' ')).toMatch(/script in the file was not run/)
    expect(notes.join(' ')).toMatch(/link .* was not followed/)
    expect(notes.join(' ')).toMatch(/1 text/)
    expect(layers.map((l) => l.name)).toEqual(['plate', 'drawing'])
    expect(() => readSvg(svg('<text>only words</text>'))).toThrow(/draws no path/)
    expect(() => readSvg(bytes('<svg><g></svg>'))).toThrow(/not right as XML/)
    expect(() => readSvg(svg('<g>'.repeat(200) + '</g>'.repeat(200)))).toThrow(/too deep/)
    const ring = svg('<g id="a"><circle r="1"/><use href="#a"/></g>')
    expect(readSvg(ring).notes.join()).toMatch(/not followed/)
  })
  it('is told from its content', () => {
    expect(formatOf(svg(''), 'x')?.name).toBe('svg')
    expect(formatOf(entities(), 'x')?.name).toBe('dxf')
    expect(formatOf(dxf('999', 'made by hand', '0', 'SECTION'), 'x')?.name).toBe('dxf')
    expect(formatOf(bytes('0\nsomething'), 'x.dxf')?.name).toBe('dxf')
  })
})
