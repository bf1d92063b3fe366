/** Ways of drawing: how many places each takes, what comes of them, and what a typed number means. */
import {
  Circle,
  CircleDot,
  Copy,
  CornerDownRight,
  Diameter,
  Eclipse,
  FlipHorizontal2,
  Grip,
  Hexagon,
  Minus,
  MousePointer2,
  Move,
  PencilLine,
  PencilRuler,
  Pill,
  RectangleHorizontal,
  RefreshCw,
  Rainbow,
  Scissors,
  SquareDashed,
  Type,
  SquareSplitHorizontal,
  Spline,
  Tangent,
  Target,
  Torus,
  UnfoldHorizontal,
  Waves,
  type LucideIcon,
} from 'lucide-react'
import type { Dimension } from '@/core/outline/constraint'
import {
  drawArcAround,
  drawArcThrough,
  drawCircle,
  drawEllipse,
  drawLettering,
  drawLine,
  drawPoint,
  drawPolygon,
  drawRectangle,
  drawSlot,
  drawSpline,
  drawTangentArc,
  type Anchor,
} from '@/core/outline/draw'
import { drawRing } from '@/core/outline/concentric'
import { endsOf, type Drawing, type Place } from '@/core/outline/drawing'
import type { Lettering, LetteringFont } from '@/core/outline/lettering-schema'
import type { StretchKind } from '@/core/trace/stretch'
import type { Snap } from '@/core/outline/snap'

export interface WayOptions {
  sides: number
  radius: number
  distance: number
  count: number
  gap: number
  angle: number
  factor: number
  tolerance: number
  text: string
  size: number
  font: LetteringFont
  align: Lettering['align']
}

export type WayId =
  | 'pick'
  | 'plane'
  | 'over'
  | 'point'
  | 'line'
  | 'arc'
  | 'arc-centre'
  | 'arc-tangent'
  | 'circle'
  | 'ring'
  | 'ellipse'
  | 'rectangle'
  | 'slot'
  | 'polygon'
  | 'spline'
  | 'control'
  | 'trim'
  | 'extend'
  | 'split'
  | 'fillet'
  | 'chamfer'
  | 'offset'
  | 'mirror'
  | 'rows'
  | 'circle-copies'
  | 'concentric'
  | 'shift'
  | 'construction'
  | FitId
  | 'lettering'

/** Ways that fit a curve to the reference behind. */
export const fits = {
  'fit-line': 'line',
  'fit-arc': 'arc',
  'fit-circle': 'circle',
  'fit-ellipse': 'ellipse',
  'fit-spline': 'spline',
  'fit-closed': 'closed spline',
} as const satisfies Record<string, StretchKind>
export type FitId = keyof typeof fits
export const isFit = (id: WayId): id is FitId => id in fits
/** Fits that take the whole row at one click. */
export const takesWhole = (id: FitId) => id === 'fit-circle' || id === 'fit-ellipse' || id === 'fit-closed'

/** Groups of the tray: none has more ways than one row of it holds. */
export const wayGroups = ['Draw', 'Shapes', 'Trace', 'Change', 'Copy'] as const
export type WayGroup = (typeof wayGroups)[number]

export interface Way {
  readonly id: WayId
  readonly word: string
  readonly icon: LucideIcon
  readonly group: WayGroup
  /** How many places it takes; 0: it works on a curve, point or pick. */
  readonly places: number | 'many'
  /** What the next click does, by how many places there are. */
  readonly hints: readonly string[]
  /** The drawing with what the places tell; null where they tell nothing. */
  make?(d: Drawing, p: readonly Anchor[], o: WayOptions, last: Snap | null): Drawing | null
  /** What typed numbers mean, and the last place and dimensions they give. */
  readonly typed?: {
    readonly word: string
    place(p: readonly Anchor[], numbers: readonly number[], at: Place): Place | null
    dimensions?(before: Drawing, after: Drawing, numbers: readonly number[]): Dimension[]
  }
}

const far = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1])
const toward = (a: Place, b: Place, l: number): Place | null => {
  const f = far(a, b)
  return f > 1e-9 ? [a[0] + ((b[0] - a[0]) * l) / f, a[1] + ((b[1] - a[1]) * l) / f] : [a[0] + l, a[1]]
}
const dimension = (kind: Dimension['kind'], curve: number, value: number): Dimension => ({
  kind,
  points: [],
  curves: [curve],
  value,
})
/** How far a place lies beside the line of two others. */
const beside = (a: Place, b: Place, p: Place) =>
  Math.abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / (far(a, b) || 1)

/** The curve that ends at a point, the last drawn. */
export const curveAt = (d: Drawing, point: number): number =>
  d.curves.findLastIndex((c) => !!endsOf(c)?.includes(point))

export const ways: readonly Way[] = [
  {
    id: 'pick',
    word: 'Pick',
    icon: MousePointer2,
    group: 'Draw',
    places: 0,
    hints: ['Click curves or points to pick them, drag them to move; click a figure to change it'],
  },
  {
    id: 'plane',
    word: 'On a face',
    icon: SquareDashed,
    group: 'Draw',
    places: 0,
    hints: ['Click a flat face to draw on it'],
  },
  {
    id: 'over',
    word: 'Edge',
    icon: PencilRuler,
    group: 'Trace',
    places: 0,
    hints: ['Click an edge or a face of a body: its lines lie behind the drawing and follow the body'],
  },
  {
    id: 'line',
    word: 'Line',
    icon: Minus,
    group: 'Draw',
    places: 2,
    hints: ['Click where the line begins', 'Click where it ends, or type its length (and its angle); Esc ends the run'],
    make: (d, [a, b], _o, last) =>
      drawLine(d, a, b, last?.kind === 'horizontal' || last?.kind === 'vertical' ? last.kind : null),
    typed: {
      word: 'length, angle',
      place: ([a], [l, turn], at) =>
        turn === undefined
          ? toward(a.at, at, l)
          : [a.at[0] + l * Math.cos((turn * Math.PI) / 180), a.at[1] + l * Math.sin((turn * Math.PI) / 180)],
      dimensions: (_b, d, [l, turn]) => [
        dimension('length', d.curves.length - 1, l),
        ...(turn === undefined || turn % 90 === 0
          ? []
          : [dimension('angle', d.curves.length - 1, ((turn % 360) + 360) % 360)]),
      ],
    },
  },
  {
    id: 'arc',
    word: 'Arc',
    icon: Rainbow,
    group: 'Draw',
    places: 3,
    hints: ['Click where the arc begins', 'Click where it ends', 'Click a place it runs through'],
    make: (d, [a, b, c]) => drawArcThrough(d, a, b, c.at),
  },
  {
    id: 'arc-centre',
    word: 'Arc by centre',
    icon: Eclipse,
    group: 'Draw',
    places: 3,
    hints: ['Click the centre', 'Click where the arc begins', 'Click where it ends: the shorter way round'],
    make: (d, [m, a, b]) =>
      drawArcAround(
        d,
        m,
        a,
        b,
        (a.at[0] - m.at[0]) * (b.at[1] - m.at[1]) - (a.at[1] - m.at[1]) * (b.at[0] - m.at[0]) > 0,
      ),
  },
  {
    id: 'arc-tangent',
    word: 'Arc on',
    icon: Tangent,
    group: 'Draw',
    places: 2,
    hints: ['Click the end of a line or arc to go on from', 'Click where the arc ends'],
    make: (d, [a, b]) => {
      const curve = a.point === undefined ? -1 : curveAt(d, a.point)
      return curve < 0 ? null : drawTangentArc(d, curve, a.point!, b)
    },
  },
  {
    id: 'circle',
    word: 'Circle',
    icon: Circle,
    group: 'Draw',
    places: 2,
    hints: ['Click the centre', 'Click how far it reaches, or type its diameter'],
    make: (d, [m, a]) => drawCircle(d, m, far(m.at, a.at)),
    typed: {
      word: 'diameter',
      place: ([m], [v], at) => toward(m.at, at, v / 2),
      dimensions: (_b, d, [v]) => [dimension('diameter', d.curves.length - 1, v)],
    },
  },
  {
    id: 'ring',
    word: 'Ring',
    icon: Torus,
    group: 'Shapes',
    places: 3,
    hints: [
      'Click the centre of the ring; on a centre that is there it stays concentric',
      'Click how far its first circle reaches',
      'Click how far its second circle reaches, or type its diameter',
    ],
    make: (d, [m, a, b]) => drawRing(d, m, [far(m.at, a.at), far(m.at, b.at)]),
    typed: {
      word: 'diameter',
      place: ([m], [v], at) => toward(m.at, at, v / 2),
      dimensions: (_b, d, [v]) => [dimension('diameter', d.curves.length - 1, v)],
    },
  },
  {
    id: 'ellipse',
    word: 'Ellipse',
    icon: CircleDot,
    group: 'Shapes',
    places: 3,
    hints: ['Click the centre', 'Click an end of it', 'Click how far it reaches to the side'],
    make: (d, [m, a, b]) => drawEllipse(d, m, a.at, beside(m.at, a.at, b.at)),
  },
  {
    id: 'rectangle',
    word: 'Rectangle',
    icon: RectangleHorizontal,
    group: 'Draw',
    places: 2,
    hints: ['Click a corner', 'Click the opposite corner, or type width and height'],
    make: (d, [a, b]) => drawRectangle(d, a, b),
    typed: {
      word: 'width, height',
      place: ([a], [w, h], at) => [
        a.at[0] + (at[0] < a.at[0] ? -1 : 1) * w,
        a.at[1] + (at[1] < a.at[1] ? -1 : 1) * (h ?? w),
      ],
      dimensions: (b, _d, [w, h]) => [
        dimension('length', b.curves.length, w),
        dimension('length', b.curves.length + 1, h ?? w),
      ],
    },
  },
  {
    id: 'slot',
    word: 'Slot',
    icon: Pill,
    group: 'Shapes',
    places: 3,
    hints: ['Click the first centre', 'Click the second centre', 'Click how wide it is, or type its width'],
    make: (d, [a, b, c]) => drawSlot(d, a, b, beside(a.at, b.at, c.at)),
    typed: {
      word: 'width',
      place: ([a, b], [v]) => {
        const l = far(a.at, b.at) || 1
        return [b.at[0] - ((b.at[1] - a.at[1]) * v) / 2 / l, b.at[1] + ((b.at[0] - a.at[0]) * v) / 2 / l]
      },
      dimensions: (b, _d, [v]) => [dimension('radius', b.curves.length + 1, v / 2)],
    },
  },
  {
    id: 'polygon',
    word: 'Polygon',
    icon: Hexagon,
    group: 'Shapes',
    places: 2,
    hints: ['Click the centre', 'Click a corner, or type the diameter over corners'],
    make: (d, [m, a], o) => drawPolygon(d, m, a, o.sides),
    typed: {
      word: 'diameter over corners',
      place: ([m], [v], at) => toward(m.at, at, v / 2),
      dimensions: (_b, d, [v]) => [dimension('diameter', d.curves.length - 1, v)],
    },
  },
  {
    id: 'spline',
    word: 'Spline',
    icon: Spline,
    group: 'Shapes',
    places: 'many',
    hints: ['Click places it runs through', 'Go on; Enter ends it, a click on its first place closes it'],
    make: (d, p) => closedOrOpen(d, p, 'through'),
  },
  {
    id: 'control',
    word: 'Spline by control',
    icon: Waves,
    group: 'Shapes',
    places: 'many',
    hints: ['Click control points, four at least', 'Go on; Enter ends it, a click on the first closes it'],
    make: (d, p) => closedOrOpen(d, p, 'control'),
  },
  {
    id: 'point',
    word: 'Point',
    icon: Grip,
    group: 'Shapes',
    places: 1,
    hints: ['Click where the point goes'],
    make: (d, [a]) => drawPoint(d, a),
  },
  {
    id: 'lettering',
    word: 'Lettering',
    icon: Type,
    group: 'Shapes',
    places: 1,
    hints: [
      'Click where the words stand; what they say and how large is in the card. A click on a circle or arc lays them round it',
    ],
    make: (d, [a], o) => drawLettering(d, a, { text: o.text, size: o.size, font: o.font, align: o.align }),
  },
  {
    id: 'fit-line',
    word: 'Line',
    icon: Minus,
    group: 'Trace',
    places: 0,
    hints: [
      'Click the reference where the stretch begins',
      'Click where it ends: the short way, or with Shift the long way round',
    ],
  },
  {
    id: 'fit-arc',
    word: 'Arc',
    icon: Rainbow,
    group: 'Trace',
    places: 0,
    hints: [
      'Click the reference where the stretch begins',
      'Click where it ends: the short way, or with Shift the long way round',
    ],
  },
  {
    id: 'fit-circle',
    word: 'Circle',
    icon: Circle,
    group: 'Trace',
    places: 0,
    hints: ['Click a closed reference: the circle nearest to all of it'],
  },
  {
    id: 'fit-ellipse',
    word: 'Ellipse',
    icon: CircleDot,
    group: 'Trace',
    places: 0,
    hints: ['Click a closed reference: the ellipse nearest to all of it'],
  },
  {
    id: 'fit-spline',
    word: 'Spline',
    icon: Spline,
    group: 'Trace',
    places: 0,
    hints: [
      'Click the reference where the stretch begins',
      'Click where it ends: the short way, or with Shift the long way round',
    ],
  },
  {
    id: 'fit-closed',
    word: 'Closed spline',
    icon: Waves,
    group: 'Trace',
    places: 0,
    hints: ['Click a closed reference: one smooth spline all round it'],
  },
  {
    id: 'trim',
    word: 'Trim',
    icon: Scissors,
    group: 'Change',
    places: 0,
    hints: ['Click the piece to take away: it goes up to what crosses it'],
  },
  {
    id: 'extend',
    word: 'Extend',
    icon: UnfoldHorizontal,
    group: 'Change',
    places: 0,
    hints: ['Click a line or arc near the end that is to go on to the next curve'],
  },
  {
    id: 'split',
    word: 'Split',
    icon: SquareSplitHorizontal,
    group: 'Change',
    places: 0,
    hints: ['Click a curve where it is to be cut'],
  },
  {
    id: 'fillet',
    word: 'Round corner',
    icon: CornerDownRight,
    group: 'Change',
    places: 0,
    hints: ['Click corners to round them; the radius is in the card'],
  },
  {
    id: 'chamfer',
    word: 'Cut corner',
    icon: Diameter,
    group: 'Change',
    places: 0,
    hints: ['Click corners of two lines to cut them off'],
  },
  {
    id: 'offset',
    word: 'Offset',
    icon: RefreshCw,
    group: 'Change',
    places: 0,
    hints: ['Click curves, then on the side they are to be offset to'],
  },
  {
    id: 'mirror',
    word: 'Mirror',
    icon: FlipHorizontal2,
    group: 'Copy',
    places: 0,
    hints: ['With curves picked, click the line to mirror in'],
  },
  {
    id: 'rows',
    word: 'In rows',
    icon: Copy,
    group: 'Copy',
    places: 0,
    hints: ['With curves picked, set count and gap in the card'],
  },
  {
    id: 'circle-copies',
    word: 'In a circle',
    icon: RefreshCw,
    group: 'Copy',
    places: 0,
    hints: ['With curves picked, click the point to turn them about'],
  },
  {
    id: 'concentric',
    word: 'Concentric',
    icon: Target,
    group: 'Copy',
    places: 0,
    hints: ['Click circles, then copy them farther out or in; how far is in the card'],
  },
  {
    id: 'shift',
    word: 'Move, turn, scale',
    icon: Move,
    group: 'Copy',
    places: 0,
    hints: ['With curves picked, set it in the card'],
  },
  {
    id: 'construction',
    word: 'Construction',
    icon: PencilLine,
    group: 'Change',
    places: 0,
    hints: ['Click curves to make them construction lines, or curves again'],
  },
]

function closedOrOpen(d: Drawing, p: readonly Anchor[], sort: 'through' | 'control'): Drawing | null {
  const [first, last] = [p[0], p[p.length - 1]]
  const closed = p.length > 3 && first.at[0] === last.at[0] && first.at[1] === last.at[1]
  return drawSpline(d, closed ? p.slice(0, -1) : p, sort, closed)
}

export const wayOf = (id: WayId): Way => ways.find((w) => w.id === id)!
