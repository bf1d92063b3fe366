/** Writes drawings as SVG at true scale in mm (W3C, Scalable Vector Graphics 1.1): one group a body, a path for each curve. */
import { certainty, defineFormat } from './format'
import { readSvg } from './reading-svg/read-svg'
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { sampleCurve, splineOf } from '@/core/outline/sample'
import { at, endOf } from '@/core/outline/spline'
import { layerName, type FlatPart } from './flat'

const n = (v: number) => String(Number(v.toFixed(6)))

/** A curve as path data, y downwards. */
function path(d: Drawing, c: Curve): string {
  const p = ([u, v]: Place) => `${n(u)} ${n(-v)}`
  const point = (i: number) => d.points[i]
  switch (c.kind) {
    case 'line':
      return `M${p(point(c.from))}L${p(point(c.to))}`
    case 'arc': {
      const [a, b, m] = [point(c.from), point(c.to), point(c.centre)]
      const r = n(Math.hypot(a[0] - m[0], a[1] - m[1]))
      const cross = (a[0] - m[0]) * (b[1] - m[1]) - (a[1] - m[1]) * (b[0] - m[0])
      // More than a half round, the way it runs.
      const large = c.ccw ? cross < 0 : cross > 0
      return `M${p(a)}A${r} ${r} 0 ${large ? 1 : 0} ${c.ccw ? 0 : 1} ${p(b)}`
    }
    case 'circle':
    case 'ellipse': {
      const [long, short, turn] =
        c.kind === 'circle' ? [c.radius, c.radius, 0] : [c.long, c.short, (c.turn * Math.PI) / 180]
      const m = point(c.centre)
      const end = (s: number): Place => [m[0] + s * long * Math.cos(turn), m[1] + s * long * Math.sin(turn)]
      const arc = (to: Place) => `A${n(long)} ${n(short)} ${n((-turn * 180) / Math.PI)} 0 0 ${p(to)}`
      return `M${p(end(1))}${arc(end(-1))}${arc(end(1))}Z`
    }
    case 'spline': {
      const s = splineOf(d, c)
      if (!s) return ''
      const ends = s.closed ? Array.from({ length: endOf(s) + 1 }, (_, i) => i) : [...new Set(s.knots)]
      let out = `M${p(at(s, ends[0]))}`
      for (let i = 0; i + 1 < ends.length; i++) {
        // A cubic between two knots is told by four of its places.
        const [a, b] = [ends[i], ends[i + 1] - (s.closed && i + 2 === ends.length ? 1e-12 : 0)]
        const q = [0, 1, 2, 3].map((k) => at(s, a + ((b - a) * k) / 3))
        const mix = (w: readonly number[]): Place =>
          [0, 1].map((k) => w.reduce((sum, f, j) => sum + f * q[j][k], 0)) as unknown as Place
        out += `C${p(mix([-5 / 6, 3, -3 / 2, 1 / 3]))} ${p(mix([1 / 3, -3 / 2, 3, -5 / 6]))} ${p(q[3])}`
      }
      return out + (s.closed ? 'Z' : '')
    }
  }
}

const escaped = (s: string) => s.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;')

/** Text of an SVG file whose unit is the millimetre, with a margin of 1 mm. */
export function writeSvg(parts: readonly FlatPart[]): Uint8Array {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const { drawing, rows } of parts)
    for (const row of [...drawing.curves.map((c) => sampleCurve(drawing, c, 0.01)), ...rows.map((r) => r.places)])
      for (const [u, v] of row) {
        x0 = Math.min(x0, u)
        x1 = Math.max(x1, u)
        y0 = Math.min(y0, v)
        y1 = Math.max(y1, v)
      }
  if (x0 > x1) [x0, y0, x1, y1] = [0, 0, 0, 0]
  const [w, h] = [x1 - x0 + 2, y1 - y0 + 2]
  const groups = parts.map(({ name, drawing, rows }) => {
    const all = [
      ...drawing.curves.map((c) => path(drawing, c)),
      ...rows.map((r) => `M${r.places.map(([u, v]) => `${n(u)} ${n(-v)}`).join('L')}${r.closed ? 'Z' : ''}`),
    ].filter(Boolean)
    return `<g id="${layerName(name)}"><title>${escaped(name)}</title>${all.map((d) => `<path d="${d}"/>`).join('')}</g>`
  })
  return new TextEncoder().encode(
    `<svg xmlns="http://www.w3.org/2000/svg" version="1.1" width="${n(w)}mm" height="${n(h)}mm" viewBox="${n(x0 - 1)} ${n(-y1 - 1)} ${n(w)} ${n(h)}" fill="none" stroke="#000" stroke-width="0.1">\n${groups.join('\n')}\n</svg>\n`,
  )
}

export const svgFormat = defineFormat({
  name: 'svg',
  title: 'SVG',
  endings: ['svg'],
  holds: 'outlines',
  unit: 'stated',
  carries: 'groups, a body each',
  sniff: ({ text }) =>
    /<svg[\s>]/.test(text) && /^\s*(\uFEFF|ï»¿)?\s*</.test(text) ? certainty.heading : certainty.none,
  read: readSvg,
  write: (parts) => writeSvg(parts),
})
