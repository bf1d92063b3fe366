/** The drawing over the picture: areas, references, curves coloured by what can move, points, signs and figures. */
import { useEffect, useMemo, useRef, useState } from 'react'
import { num } from '@/core/base/say'
import type { Dimension } from '@/core/outline/constraint'
import { type Drawing, type DrawingPlane, type Place, toPlane } from '@/core/outline/drawing'
import { isTaken, type Taken } from '@/core/find/taken'
import { alongOf } from '@/core/outline/parametric'
import { sampleCurve } from '@/core/outline/sample'
import { constraintWord, dimensionWord } from '@/core/outline/words'
import { benchView, useCanvasBox } from '@/bench/stage3d/view'
import { useJobBodies } from '@/bench/state/bodies'
import { useTool } from '@/bench/state/tool'
import { useStore } from 'zustand'
import { jobValues } from '@/bench/state/values'
import { outlineWorker } from './client'
import { marksOf } from './dimension-marks'
import { previewOf } from './preview'
import { projector, useLens } from './over'
import { Sign } from './signs'
import {
  analyse,
  bringUpToDate,
  drawingNow,
  freshOutline,
  holdBy,
  lay,
  outline,
  outlineKind,
  useDrawing,
  planeOfValues,
  useOutline,
} from './state'
import { wayOf } from './ways'

const pathOf = (row: readonly Place[], at: (p: Place) => Place, close = false): string =>
  row
    .map(
      (p, i) =>
        `${i ? 'L' : 'M'}${at(p)
          .map((v) => v.toFixed(1))
          .join(' ')}`,
    )
    .join('') + (close ? 'Z' : '')

/** The plane as it is now: of the outline or datum that is drawn on, else as typed. */
function usePlane(): DrawingPlane {
  const ground = useOutline((s) => s.ground)
  const at = useTool((s) => s.tool?.values.at)
  const normal = useTool((s) => s.tool?.values.normal)
  const x = useTool((s) => s.tool?.values.x)
  return useMemo(() => ground?.plane ?? planeOfValues({ at, normal, x }), [ground, at, normal, x])
}

/** Fetches the ground when the body that is drawn on changes. */
function useGround(): void {
  const on = useTool((s) => (s.tool?.kind === outlineKind ? (s.tool.values.on as string | undefined) : undefined))
  const hash = useJobBodies((list) => list.find((b) => b.name === on)?.hash ?? null)
  // Where place and direction are taken from bodies, as text: it says when they are to be asked for again.
  const taken = useTool((s) => {
    const v = s.tool?.kind === outlineKind ? s.tool.values : {}
    return !v.on && (isTaken(v.at) || isTaken(v.normal)) ? JSON.stringify([v.at ?? null, v.normal ?? null]) : ''
  })
  const from = useJobBodies((list) => {
    const asked = taken ? (JSON.parse(taken) as unknown[]) : []
    return asked.map((t) => (isTaken(t) ? (list.find((b) => b.name === t.from)?.hash ?? '') : '')).join()
  })
  useEffect(() => {
    if (!taken) return
    const [at, normal] = JSON.parse(taken) as unknown[]
    const [atHash, normalHash] = from.split(',')
    let live = true
    const where = (t: unknown, h: string) => (isTaken(t) && h ? outlineWorker().whereabouts(h, t) : null)
    Promise.all([where(at, atHash), where(normal, normalHash)])
      .then(([a, n]) => {
        if (!live) return
        const { x } = useTool.getState().tool?.values ?? {}
        const plane = planeOfValues({ at: a?.at ?? at, normal: n?.way ?? normal, x })
        outline.setState({ ground: { hash: taken + from, plane, references: [], drawing: null } })
      })
      .catch((e: unknown) => console.error(e))
    return () => {
      live = false
    }
  }, [taken, from])
  useEffect(() => {
    if (taken) return
    if (!on || !hash) {
      if (outline.getState().ground) outline.setState({ ground: null })
      return
    }
    if (outline.getState().ground?.hash === hash) return
    let live = true
    outlineWorker()
      .ground(hash)
      .then((g) => {
        if (!live || !g) return
        outline.setState({ ground: { hash, ...g } })
      })
      .catch((e: unknown) => console.error(e))
    return () => {
      live = false
    }
  }, [on, hash, taken])
}

/** Fetches the curves of other outlines that are to lie behind. */
function useBehind(plane: DrawingPlane): void {
  const names = useTool((s) =>
    s.tool?.kind === outlineKind ? (s.tool.values.behind as string[] | undefined) : undefined,
  )
  const hashes = useJobBodies((list) => (names ?? []).flatMap((n) => list.find((b) => b.name === n)?.hash ?? []).join())
  const over = useTool((s) => (s.tool?.kind === outlineKind ? (s.tool.values.over as Taken[] | undefined) : undefined))
  const edges = useJobBodies((list) =>
    JSON.stringify(
      (over ?? []).flatMap((taken) => {
        const hash = list.find((b) => b.name === taken.from)?.hash
        return hash ? [{ hash, taken }] : []
      }),
    ),
  )
  const where = JSON.stringify(plane)
  useEffect(() => {
    if (!hashes && edges === '[]') {
      if (outline.getState().behind.length) outline.setState({ behind: [] })
      return
    }
    let live = true
    outlineWorker()
      .behind(
        hashes ? hashes.split(',') : [],
        JSON.parse(edges) as { hash: string; taken: Taken }[],
        JSON.parse(where) as DrawingPlane,
      )
      .then((behind) => live && outline.setState({ behind }))
      .catch((e: unknown) => console.error(e))
    return () => {
      live = false
    }
  }, [hashes, edges, where])
}

export function OutlineFlat() {
  const inHand = useTool((s) => `${s.tool?.kind} ${s.tool?.editing ?? ''}`)
  // A new drawing starts with nothing picked; one that is opened again with all of it.
  useEffect(() => {
    outline.setState({ ...freshOutline, way: drawingNow().curves.length ? 'pick' : 'line' })
    return () => outline.setState(freshOutline)
  }, [inHand])
  useGround()
  const numbers = useStore(jobValues, (v) => v.numbers)
  useEffect(() => void bringUpToDate(), [inHand, numbers])
  const saved = useDrawing()
  const tolerance = useOutline((s) => s.options.tolerance)
  useEffect(() => void analyse(saved), [saved, tolerance])
  const pulled = useOutline((s) => s.pulled)
  const lens = useLens()
  const plane = usePlane()
  useBehind(plane)
  const d = pulled ?? saved
  if (!lens) return null
  const at = projector(lens, plane)
  const [p, q] = [at([0, 0]), at([1, 0])]
  const px = 1 / (Math.hypot(q[0] - p[0], q[1] - p[1]) || 1)
  return (
    <>
      <Picture d={d} at={at} px={px} />
      <Signs d={d} at={at} px={px} />
      <Figures d={d} at={at} px={px} plane={plane} />
      <Typed at={at} />
    </>
  )
}

interface Part {
  readonly d: Drawing
  readonly at: (p: Place) => Place
  readonly px: number
}

function Picture({ d, at, px }: Part) {
  const analysis = useOutline((s) => s.analysis)
  const ground = useOutline((s) => s.ground)
  const behind = useOutline((s) => s.behind)
  const points = useOutline((s) => s.points)
  const curves = useOutline((s) => s.curves)
  const hot = useOutline((s) => s.hot)
  const placed = useOutline((s) => s.placed)
  const snap = useOutline((s) => s.at)
  const way = useOutline((s) => s.way)
  const sign = useOutline((s) => s.sign)
  const stretch = useOutline((s) => s.stretch)
  useOutline((s) => s.options)
  const found = analysis?.found
  const fresh = found?.freedom.curves.length === d.curves.length
  const preview = previewOf()
  const old = drawingNow().curves.length
  const named = sign ? (sign.of === 'constraint' ? d.constraints : d.dimensions)?.[sign.index] : undefined
  const chord = px * 0.25
  const centres = new Set(d.curves.flatMap((c) => ('centre' in c ? [c.centre] : [])))
  const faulty = new Set(fresh ? found.faults.flatMap((f) => (f.kind === 'open' ? [] : f.curves)) : [])
  return (
    <svg className="drawing" data-testid="drawing">
      {found && analysis.of === drawingNow()
        ? found.fills.map((f, i) => (
            <path
              key={i}
              className={f.depth % 2 ? 'fill hollow' : 'fill'}
              fillRule="evenodd"
              d={[f.outer, ...f.holes].map((row) => pathOf(row, at, true)).join('')}
            />
          ))
        : null}
      <path
        className="axis"
        d={
          pathOf(
            [
              [-14 * px, 0],
              [14 * px, 0],
            ],
            at,
          ) +
          pathOf(
            [
              [0, -14 * px],
              [0, 14 * px],
            ],
            at,
          )
        }
      />
      {[...(ground?.references ?? []), ...behind].map((r, i) => (
        <path key={i} className="reference" d={pathOf(r, at)} />
      ))}
      {d.curves.map((c, i) => (
        <path
          key={i}
          data-curve={i}
          className={[
            'curve',
            c.construction ? 'construction' : '',
            fresh && found.freedom.curves[i] === 0 ? 'held' : 'free',
            faulty.has(i) ? 'faulty' : '',
            curves.includes(i) || named?.curves.includes(i) ? 'picked' : hot.curve === i ? 'hot' : '',
          ].join(' ')}
          d={pathOf(sampleCurve(d, c, chord), at)}
        />
      ))}
      {found?.letters.length && analysis?.of === drawingNow() ? (
        <path className="curve held letters" d={found.letters.map((r) => pathOf(r, at)).join('')} />
      ) : null}
      {stretch && <path className="stretch" d={pathOf(stretch.places, at)} />}
      {preview?.curves.slice(old).map((c, i) => (
        <path key={`n${i}`} className="coming" d={pathOf(sampleCurve(preview, c, chord), at)} />
      ))}
      {!preview && placed.length > 0 && snap && wayOf(way).make ? (
        <path className="coming" d={pathOf([...placed.map((a) => a.at), snap.at], at)} />
      ) : null}
      {d.points.map((p, i) => {
        const [x, y] = at(p)
        const free = !fresh || found.freedom.points[i] > 0
        return (
          <circle
            key={i}
            data-point={i}
            cx={x}
            cy={y}
            r={points.includes(i) || hot.point === i ? 5 : centres.has(i) ? 2.5 : 3.5}
            className={[
              'corner',
              free ? 'free' : 'held',
              points.includes(i) || named?.points.includes(i) ? 'picked' : hot.point === i ? 'hot' : '',
            ].join(' ')}
          />
        )
      })}
      {fresh
        ? found.faults
            .filter((f) => f.kind !== 'open')
            .map((f, i) => {
              const [x, y] = at(f.at)
              return <circle key={`f${i}`} cx={x} cy={y} r={9} className="fault-ring" />
            })
        : null}
      {placed.map((a, i) => {
        const [x, y] = at(a.at)
        return <circle key={`p${i}`} cx={x} cy={y} r={4} className="corner picked" />
      })}
      {snap && wayOf(way).make ? <SnapMark at={at(snap.at)} kind={snap.kind} /> : null}
    </svg>
  )
}

function SnapMark({ at: [x, y], kind }: { at: Place; kind: string | null }) {
  if (!kind) return <circle cx={x} cy={y} r={2.5} className="snap" />
  if (kind === 'middle') return <path className="snap" d={`M${x - 6} ${y + 4}L${x} ${y - 6}L${x + 6} ${y + 4}Z`} />
  if (kind === 'curve' || kind === 'reference')
    return <path className="snap" d={`M${x - 5} ${y - 5}L${x + 5} ${y + 5}M${x - 5} ${y + 5}L${x + 5} ${y - 5}`} />
  return <circle cx={x} cy={y} r={7} className="snap" />
}

/** Steps by which a sign may stand aside, pixels, the least first. */
const asides = [0, 18, 36].flatMap((r) =>
  r
    ? [
        [r, 0],
        [0, r],
        [-r, 0],
        [0, -r],
        [r, r],
        [-r, r],
        [r, -r],
        [-r, -r],
      ]
    : [[0, 0]],
)

/** Where the signs of constraints stand: beside their first curve or point, one after the other. */
function Signs({ d, at, px }: Part) {
  const sign = useOutline((s) => s.sign)
  const placed = useMemo(() => {
    const taken = new Map<string, number>()
    const out: { i: number; x: number; y: number; key: string }[] = []
    const put = (i: number, anchor: string, [x, y]: Place, [dx, dy]: Place, way: Place, key: string) => {
      const n = taken.get(anchor) ?? 0
      taken.set(anchor, n + 1)
      const along = (n % 2 ? -1 : 1) * Math.ceil(n / 2) * 18
      out.push({ i, key, x: x + dx + way[0] * along, y: y + dy + way[1] * along })
    }
    d.constraints?.forEach((c, i) => {
      const onCurve = (k: number) => {
        const along = alongOf(d, d.curves[k])
        // Not where the figure of a radius or diameter stands.
        const t = { circle: 0.375, ellipse: 0.375, arc: 0.5, line: 0.5, spline: 0.5 }[d.curves[k].kind]
        const [p, q] = [at(along(t - 0.01)), at(along(t + 0.01))]
        const l = Math.hypot(q[0] - p[0], q[1] - p[1]) || 1
        const way: Place = [(q[0] - p[0]) / l, (q[1] - p[1]) / l]
        const m = at(along(t))
        const c = d.curves[k]
        const from = 'centre' in c ? at(d.points[c.centre]) : null
        // Whole round ones have theirs outside, so that the centre stays free; arcs inside, where no figure stands.
        const outward = from && (m[0] - from[0]) * way[1] - (m[1] - from[1]) * way[0] < 0 ? -15 : 15
        const side = c.kind === 'arc' ? -outward : outward
        put(i, `c${k}`, m, [way[1] * side, -way[0] * side], way, `${i} ${k}`)
      }
      const onPoint = (p: number) => put(i, `p${p}`, at(d.points[p]), [14, 14], [1, 0], `${i} p${p}`)
      if (c.kind === 'tangent' || c.kind === 'perpendicular') {
        const ends = c.curves.map((k) => {
          const v = d.curves[k]
          return v.kind === 'line' || v.kind === 'arc' ? [v.from, v.to] : []
        })
        const shared = ends[0]?.find((p) => ends[1]?.includes(p))
        if (shared !== undefined) return onPoint(shared)
        return onCurve(c.curves[c.curves.length - 1])
      }
      if (c.kind === 'equal' || c.kind === 'parallel' || c.kind === 'collinear') return c.curves.forEach(onCurve)
      if (c.points.length) return c.points.slice(0, c.kind === 'onCurve' ? undefined : 1).forEach(onPoint)
      c.curves.slice(0, c.kind === 'horizontal' || c.kind === 'vertical' ? undefined : 1).forEach(onCurve)
    })
    // None lies on another or on a figure: it steps aside to the first free place.
    const figures = (d.dimensions ?? []).map((c) => at(marksOf(d, c, px).at))
    const laid: { x: number; y: number }[] = []
    const free = (x: number, y: number) =>
      laid.every((o) => Math.abs(o.x - x) >= 17 || Math.abs(o.y - y) >= 17) &&
      figures.every(([u, v]) => Math.abs(u - x) >= 34 || Math.abs(v - y) >= 18)
    for (const o of out) {
      const step = asides.find(([dx, dy]) => free(o.x + dx, o.y + dy)) ?? [0, 0]
      o.x += step[0]
      o.y += step[1]
      laid.push(o)
    }
    return out
  }, [d, at, px])
  return placed.map(({ i, x, y, key }) => (
    <button
      key={key}
      type="button"
      className={`sign${sign?.of === 'constraint' && sign.index === i ? ' picked' : ''}`}
      style={{ transform: `translate(${x - 8}px, ${y - 8}px)` }}
      title={constraintWord(d, d.constraints![i])}
      aria-label={constraintWord(d, d.constraints![i])}
      onClick={() => outline.setState({ sign: { of: 'constraint', index: i }, points: [], curves: [] })}
    >
      <Sign kind={d.constraints![i].kind} />
    </button>
  ))
}

const unitOf = (c: Dimension) => (c.kind === 'angle' ? '°' : '')
const lead = (c: Dimension) => (c.kind === 'diameter' ? '⌀ ' : c.kind === 'radius' ? 'R ' : '')

/** What a dimension measures, as its figure shows it; one that only measures stands in brackets. */
export function figureOf(c: Dimension, measured: number | undefined): string {
  const v = measured === undefined ? '' : num(measured, 3)
  const text = `${lead(c)}${v}${unitOf(c)}`
  return c.driven || c.value === undefined ? `(${text})` : c.name ? `${c.name} = ${text}` : text
}

function Figures({ d, at, px, plane }: Part & { plane: DrawingPlane }) {
  const analysis = useOutline((s) => s.analysis)
  const writing = useOutline((s) => s.writing)
  const sign = useOutline((s) => s.sign)
  const box = useCanvasBox()
  const drag = useRef<{ index: number; x: number; y: number; moved: boolean } | null>(null)
  const [shifted, setShifted] = useState<{ index: number; place: Place } | null>(null)
  const list = d.dimensions ?? []
  if (!list.length || !box) return null
  const placeAt = (e: { clientX: number; clientY: number }): Place | null => {
    const ray = benchView()?.toRay([e.clientX, e.clientY])
    if (!ray) return null
    const n = plane.normal
    const slope = ray.direction.reduce((s, v, k) => s + v * n[k], 0)
    const t = plane.at.reduce((s, v, k) => s + (v - ray.origin[k]) * n[k], 0) / slope
    return toPlane(plane, [0, 1, 2].map((k) => ray.origin[k] + t * ray.direction[k]) as [number, number, number])
  }
  const shown = list.map((c, i) =>
    marksOf(d, shifted?.index === i ? { ...c, place: [shifted.place[0], shifted.place[1]] } : c, px),
  )
  return (
    <>
      <svg className="drawing figures-over">
        {shown.map((m, i) => (
          <g key={i} className={`dimension${sign?.of === 'dimension' && sign.index === i ? ' picked' : ''}`}>
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
          <button
            key={i}
            type="button"
            className={`dimension-figure figure${c.driven ? ' driven' : ''}${sign?.of === 'dimension' && sign.index === i ? ' picked' : ''}`}
            style={style}
            title={`${dimensionWord(d, c)}${typeof c.value === 'string' ? `: ${c.value}` : ''}; click to change, drag to place`}
            onPointerDown={(e) => {
              drag.current = { index: i, x: e.clientX, y: e.clientY, moved: false }
              e.currentTarget.setPointerCapture(e.pointerId)
            }}
            onPointerMove={(e) => {
              const g = drag.current
              if (!g) return
              if (!g.moved && Math.hypot(e.clientX - g.x, e.clientY - g.y) < 4) return
              g.moved = true
              const place = placeAt(e)
              if (place) setShifted({ index: i, place })
            }}
            onPointerUp={() => {
              const g = drag.current
              drag.current = null
              if (g?.moved && shifted) {
                const now = drawingNow()
                lay({
                  ...now,
                  dimensions: now.dimensions?.map((k, j) =>
                    j === i
                      ? { ...k, place: [Number(shifted.place[0].toFixed(3)), Number(shifted.place[1].toFixed(3))] }
                      : k,
                  ),
                })
              }
              setShifted(null)
            }}
            onClick={() => {
              outline.setState({ sign: { of: 'dimension', index: i }, points: [], curves: [] })
              if (!c.driven) outline.setState({ writing: i })
            }}
          >
            {figureOf(c, analysis?.found.measures[i])}
          </button>
        )
      })}
    </>
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

/** Numbers typed while drawing, beside the pointer; or the length and angle of what is being drawn. */
function Typed({ at }: { at: (p: Place) => Place }) {
  const typed = useOutline((s) => s.typed)
  const snap = useOutline((s) => s.at)
  const placed = useOutline((s) => s.placed)
  const way = useOutline((s) => s.way)
  const w = wayOf(way)
  const last = placed[placed.length - 1]
  if (!last || !w.typed || placed.length !== (w.places as number) - 1) return null
  const place = snap?.at ?? last.at
  const [x, y] = at(place)
  const [dx, dy] = [place[0] - last.at[0], place[1] - last.at[1]]
  const now =
    w.id === 'line'
      ? `${num(Math.hypot(dx, dy), 2)} mm  ${num(((Math.atan2(dy, dx) * 180) / Math.PI + 360) % 360, 1)}°`
      : w.id === 'rectangle'
        ? `${num(Math.abs(dx), 2)} × ${num(Math.abs(dy), 2)} mm`
        : w.id === 'circle' || w.id === 'polygon'
          ? `⌀ ${num(2 * Math.hypot(dx, dy), 2)} mm`
          : ''
  return (
    <div className="label-at" style={{ transform: `translate(${x}px, ${y}px)` }}>
      <span className={`chip beside${typed ? ' picked' : ''}`} data-testid="typed">
        {typed ? (
          <>
            {w.typed.word} <b className="figure">{typed}</b>
          </>
        ) : (
          <span className="figure">{now}</span>
        )}
      </span>
    </div>
  )
}
