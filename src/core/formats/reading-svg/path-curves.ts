/** The curves of a path (SVG 1.1, 8.3), in its own coordinates. */
import svgpath from 'svgpath'
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { transformed, type Flat } from '@/core/outline/transform'

/** What a shape draws, and whether something of it could not be read. */
export interface Drawn {
  readonly drawings: readonly Drawing[]
  readonly error: boolean
}

/** `d`: the attribute of a path. */
export function pathDrawings(d: string): Drawn {
  const path = svgpath(d).abs().unshort()
  const pen = new Pen()
  path.iterate((segment, _i, x, y) => pen.draw(segment, [x, y]))
  return { drawings: pen.done().map(wholeCircles), error: !!(path as unknown as { err?: string }).err }
}

type Segment = readonly [string, ...number[]]

/** Draws the segments of a path; each run that is not broken off is a drawing. */
class Pen {
  private readonly drawings: Drawing[] = []
  private points: Place[] = []
  private curves: Curve[] = []
  /** The point at which the run began, and that at which it is now. */
  private start = 0
  private at = 0

  done(): readonly Drawing[] {
    this.breakOff()
    return this.drawings
  }

  /** `from`: where the segment begins. */
  draw(s: Segment, from: Place): void {
    const [x, y] = from
    switch (s[0]) {
      case 'M':
        this.breakOff()
        this.start = this.at = this.put([s[1], s[2]])
        break
      case 'L':
        this.line(from, [s[1], s[2]])
        break
      case 'H':
        this.line(from, [s[1], y])
        break
      case 'V':
        this.line(from, [x, s[1]])
        break
      case 'C':
        this.cubic(from, [s[1], s[2]], [s[3], s[4]], [s[5], s[6]])
        break
      case 'Q':
        this.quadratic(from, [s[1], s[2]], [s[3], s[4]])
        break
      case 'A':
        this.arc(from, s)
        break
      case 'Z':
      case 'z':
        this.close()
        break
    }
  }

  private breakOff(): void {
    if (this.curves.length) this.drawings.push({ points: this.points, curves: this.curves })
    this.points = []
    this.curves = []
  }

  private put(p: Place): number {
    return this.points.push(p) - 1
  }

  /** Adds curves up to a place, which may be where the run began. */
  private goOn(from: Place, to: Place, make: (from: number, to: number) => Curve[]): void {
    if (!this.points.length) this.start = this.at = this.put(from)
    const home = this.points[this.start]
    const end = to[0] === home[0] && to[1] === home[1] && this.curves.length ? this.start : this.put(to)
    this.curves.push(...make(this.at, end))
    this.at = end
  }

  private line(from: Place, to: Place): void {
    if (to[0] === from[0] && to[1] === from[1]) return
    this.goOn(from, to, (i, j) => [{ kind: 'line', from: i, to: j }])
  }

  private cubic(from: Place, a: Place, b: Place, to: Place): void {
    this.goOn(from, to, (i, j) => [
      { kind: 'spline', control: [i, this.put(a), this.put(b), j], knots: [0, 0, 0, 0, 1, 1, 1, 1] },
    ])
  }

  /** Its degree is raised exactly. */
  private quadratic([x, y]: Place, c: Place, to: Place): void {
    this.cubic(
      [x, y],
      [x + (2 / 3) * (c[0] - x), y + (2 / 3) * (c[1] - y)],
      [to[0] + (2 / 3) * (c[0] - to[0]), to[1] + (2 / 3) * (c[1] - to[1])],
      to,
    )
  }

  private arc(from: Place, s: Segment): void {
    const to: Place = [s[6], s[7]]
    const ccw = !!s[5]
    const a = arcCentre(from, to, s[1], s[2], s[3], !!s[4], ccw)
    if (!a || ![...a.centre, a.rx, a.ry].every(Number.isFinite)) this.line(from, to)
    else if (Math.abs(a.rx - a.ry) < 1e-9 * a.rx)
      this.goOn(from, to, (i, j) => [{ kind: 'arc', from: i, to: j, centre: this.put(a.centre), ccw }])
    else this.ellipticArc(from, to, a, s[3], ccw)
  }

  /** An arc of an ellipse: of a circle, stretched and turned. `turn` in degrees. */
  private ellipticArc(from: Place, to: Place, { centre, rx, ry }: ArcCentre, turn: number, ccw: boolean): void {
    const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
    const map: Flat = [cos * rx, sin * rx, -sin * ry, cos * ry, centre[0], centre[1]]
    const back = (q: Place): Place => {
      const [u, v] = [q[0] - centre[0], q[1] - centre[1]]
      return [(cos * u + sin * v) / rx, (-sin * u + cos * v) / ry]
    }
    const circle: Drawing = {
      points: [back(from), back(to), [0, 0]],
      curves: [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw }],
    }
    const own = transformed(circle, map)
    this.goOn(from, to, (i, j) =>
      own.curves.flatMap((c): Curve[] => {
        if (c.kind !== 'spline' || !c.control) return []
        const inner = c.control.slice(1, -1).map((k) => this.put(own.points[k]))
        return [{ ...c, control: c.control[0] === 0 ? [i, ...inner, j] : [j, ...inner, i] }]
      }),
    )
  }

  private close(): void {
    const { points, at, start } = this
    if (!points.length || at === start) return
    const [p, q] = [points[at], points[start]]
    if (p[0] !== q[0] || p[1] !== q[1]) this.curves.push({ kind: 'line', from: at, to: start })
    this.at = start
  }
}

interface ArcCentre {
  readonly centre: Place
  readonly rx: number
  readonly ry: number
}

/** Centre and angles of an elliptical arc (SVG 1.1, appendix F.6.5); null where it is a straight line. */
function arcCentre(
  p: Place,
  q: Place,
  rx: number,
  ry: number,
  turn: number,
  large: boolean,
  sweep: boolean,
): ArcCentre | null {
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
