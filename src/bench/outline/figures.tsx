/** The dimensions of a drawing: their lines, and figures that a click changes and a drag places. */
import { useRef, useState } from 'react'
import { num } from '@/core/base/say'
import { type Dimension } from '@/core/outline/constraint'
import { type Drawing, type DrawingPlane, type Place, toPlane } from '@/core/outline/drawing'
import { dimensionWord } from '@/core/outline/words'
import { benchView, useCanvasBox } from '@/bench/stage3d/view'
import { marksOf } from './dimension-marks'
import { pathOf, type Part } from './path-of'
import { drawingNow, holdBy, lay, outline, useOutline } from './state'

const unitOf = (c: Dimension) => (c.kind === 'angle' ? '°' : '')
const lead = (c: Dimension) => (c.kind === 'diameter' ? '⌀ ' : c.kind === 'radius' ? 'R ' : '')

/** What a dimension measures, as its figure shows it; one that only measures stands in brackets. */
export function figureOf(c: Dimension, measured: number | undefined): string {
  const v = measured === undefined ? '' : num(measured, 3)
  const text = `${lead(c)}${v}${unitOf(c)}`
  return c.driven || c.value === undefined ? `(${text})` : c.name ? `${c.name} = ${text}` : text
}

/** The place of the drawing's plane that the pointer is over. */
function pointerOn(plane: DrawingPlane, e: { clientX: number; clientY: number }): Place | null {
  const ray = benchView()?.toRay([e.clientX, e.clientY])
  if (!ray) return null
  const n = plane.normal
  const slope = ray.direction.reduce((s, v, k) => s + v * n[k], 0)
  const t = plane.at.reduce((s, v, k) => s + (v - ray.origin[k]) * n[k], 0) / slope
  return toPlane(plane, [0, 1, 2].map((k) => ray.origin[k] + t * ray.direction[k]) as [number, number, number])
}

/** Puts the figure of a dimension at a place. */
function placeFigure(index: number, [x, y]: Place): void {
  const now = drawingNow()
  const place: [number, number] = [Number(x.toFixed(3)), Number(y.toFixed(3))]
  lay({ ...now, dimensions: now.dimensions?.map((k, j) => (j === index ? { ...k, place } : k)) })
}

export function Figures({ d, at, px, plane }: Part & { plane: DrawingPlane }) {
  const writing = useOutline((s) => s.writing)
  const sign = useOutline((s) => s.sign)
  const box = useCanvasBox()
  const [shifted, setShifted] = useState<{ index: number; place: Place } | null>(null)
  const list = d.dimensions ?? []
  if (!list.length || !box) return null
  const shown = list.map((c, i) =>
    marksOf(d, shifted?.index === i ? { ...c, place: [shifted.place[0], shifted.place[1]] } : c, px),
  )
  const picked = (i: number) => sign?.of === 'dimension' && sign.index === i
  return (
    <>
      <svg className="drawing figures-over">
        {shown.map((m, i) => (
          <g key={i} className={`dimension${picked(i) ? ' picked' : ''}`}>
            {m.lines.map((row, k) => (
              <path key={k} d={pathOf(row, at)} />
            ))}
            {m.ends.map((e, k) => {
              const [x, y] = at(e)
              return <circle key={k} cx={x} cy={y} r={2.2} />
            })}
          </g>
        ))}
      </svg>
      {list.map((c, i) => {
        const [x, y] = at(shown[i].at)
        const style = { transform: `translate(${x}px, ${y}px) translate(-50%, -50%)` }
        if (writing === i) return <FigureInput key={i} index={i} c={c} style={style} />
        return (
          <Figure
            key={i}
            d={d}
            index={i}
            picked={picked(i)}
            style={style}
            drag={(e) => {
              const place = pointerOn(plane, e)
              if (place) setShifted({ index: i, place })
            }}
            drop={(moved) => {
              if (moved && shifted) placeFigure(i, shifted.place)
              setShifted(null)
            }}
          />
        )
      })}
    </>
  )
}

interface FigureProps {
  d: Drawing
  index: number
  picked: boolean
  style: { transform: string }
  drag(e: { clientX: number; clientY: number }): void
  drop(moved: boolean): void
}

/** The figure of a dimension: a click changes it, a drag places it. */
function Figure({ d, index, picked, style, drag, drop }: FigureProps) {
  const measured = useOutline((s) => s.analysis?.found.measures[index])
  const held = useRef<{ x: number; y: number; moved: boolean } | null>(null)
  const c = d.dimensions![index]
  return (
    <button
      type="button"
      className={`dimension-figure figure${c.driven ? ' driven' : ''}${picked ? ' picked' : ''}`}
      style={style}
      title={`${dimensionWord(d, c)}${typeof c.value === 'string' ? `: ${c.value}` : ''}; click to change, drag to place`}
      onPointerDown={(e) => {
        held.current = { x: e.clientX, y: e.clientY, moved: false }
        e.currentTarget.setPointerCapture(e.pointerId)
      }}
      onPointerMove={(e) => {
        const g = held.current
        if (!g) return
        if (!g.moved && Math.hypot(e.clientX - g.x, e.clientY - g.y) < 4) return
        g.moved = true
        drag(e)
      }}
      onPointerUp={() => {
        const g = held.current
        held.current = null
        drop(!!g?.moved)
      }}
      onClick={() => {
        outline.setState({ sign: { of: 'dimension', index }, points: [], curves: [] })
        if (!c.driven) outline.setState({ writing: index })
      }}
    >
      {figureOf(c, measured)}
    </button>
  )
}

/** The figure of a dimension while it is typed. */
function FigureInput({ index, c, style }: { index: number; c: Dimension; style: { transform: string } }) {
  const [text, setText] = useState(String(typeof c.value === 'number' ? Number(c.value.toFixed(5)) : (c.value ?? '')))
  const put = () => {
    const t = text.trim()
    outline.setState({ writing: null })
    if (!t || t === String(c.value)) return
    const value = /^-?\d+([.,]\d*)?$/.test(t) ? Number(t.replace(',', '.')) : t
    void holdBy((d) => ({ ...d, dimensions: d.dimensions?.map((k, i) => (i === index ? { ...k, value } : k)) }))
  }
  return (
    <input
      className="dimension-input figure"
      style={style}
      aria-label={`New value of ${dimensionWord(drawingNow(), c)}`}
      value={text}
      autoFocus
      onFocus={(e) => e.currentTarget.select()}
      onChange={(e) => setText(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Enter') put()
        if (e.key === 'Escape') outline.setState({ writing: null })
      }}
      onBlur={put}
    />
  )
}
