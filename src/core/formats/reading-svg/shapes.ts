/** The basic shapes (SVG 1.1, 9) as curves, in their own coordinates. */
import type { Drawing } from '@/core/outline/drawing'
import { pathDrawings, type Drawn } from './path-curves'
import { number, type Node } from './xml'

const nothing: Drawn = { drawings: [], error: true }
const one = (drawing: Drawing): Drawn => ({ drawings: [drawing], error: false })

/** Null for an element that is no shape. */
export function shapeOf(n: Node): Drawn | null {
  const v = (k: string, other = 0) => number(n.at[k], other)
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
      return polyline(n, '')
    case 'polygon':
      return polyline(n, 'Z')
    case 'rect':
      return rectangle(n)
    default:
      return null
  }
}

function polyline(n: Node, end: string): Drawn {
  const p = (n.at.points ?? '').trim().split(/[\s,]+/)
  const pairs = Array.from({ length: p.length >> 1 }, (_, i) => `${p[2 * i]} ${p[2 * i + 1]}`)
  return pairs.length < 2 ? nothing : pathDrawings(`M${pairs.join('L')}${end}`)
}

function rectangle(n: Node): Drawn {
  const v = (k: string) => number(n.at[k])
  const [x, y, w, h] = ['x', 'y', 'width', 'height'].map(v)
  if (!(w > 0) || !(h > 0)) return nothing
  // One radius stands for both.
  const rx = Math.min(n.at.rx === undefined ? v('ry') : v('rx'), w / 2),
    ry = Math.min(n.at.ry === undefined ? v('rx') : v('ry'), h / 2)
  if (!rx || !ry) return pathDrawings(`M${x} ${y}H${x + w}V${y + h}H${x}Z`)
  const corner = (px: number, py: number) => `A${rx} ${ry} 0 0 1 ${px} ${py}`
  return pathDrawings(
    [
      `M${x + rx} ${y}H${x + w - rx}${corner(x + w, y + ry)}`,
      `V${y + h - ry}${corner(x + w - rx, y + h)}`,
      `H${x + rx}${corner(x, y + h - ry)}`,
      `V${y + ry}${corner(x + rx, y)}Z`,
    ].join(''),
  )
}
