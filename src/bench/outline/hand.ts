/** The hand that draws: places, picks and drags in the plane of the drawing. */
import { copied, mirrored } from '@/core/outline/copies'
import { chamfered, filleted } from '@/core/outline/corners'
import type { Anchor } from '@/core/outline/draw'
import { toPlane, toSpace, type Drawing, type Place } from '@/core/outline/drawing'
import { constructionTurned, extended, splitCurve, trimmed, without } from '@/core/outline/edit'
import { offsetBeside } from '@/core/outline/beside'
import { mayBeNear, nearestOn } from '@/core/outline/parametric'
import { snapTo, snapWords, type Snap } from '@/core/outline/snap'
import { attached } from '@/core/outline/attach'
import type { Row } from '@/core/trace/rows'
import { nearestPlace, stretchOf } from '@/core/trace/stretch'
import { num } from '@/core/base/say'
import type { Flat } from '@/core/outline/transform'
import { parseQuantity } from '@/core/base/quantity'
import type { Taken } from '@/core/find/taken'
import { hoverPart, takenAt } from '@/bench/hands/taken-at'
import type { BenchView, Grip, Hand, Pointer } from '@/bench/hands/hand'
import { latest } from '@/bench/hands/moment'
import { roundLength } from '@/bench/hands/round'
import { movePointer } from '@/bench/state/pointer'
import { tell } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { jobValues } from '@/bench/state/values'
import { outlineWorker } from './client'
import { OutlineFlat } from './flat'
import { OutlineOver } from './over'
import { chooseWay, drawingNow, hold, lay, numbersFor, outline, planeNow, putDrawingAway, referencesNow } from './state'
import { fits, isFit, takesWhole, wayOf, type FitId } from './ways'

/** Pixels within which something is meant. */
const reachPixels = 8

/** Where the pointer meets the plane of the drawing. */
function placeOf(p: Pointer): Place | null {
  const plane = planeNow()
  const at = p.on(plane.at, plane.normal)
  return at && toPlane(plane, at)
}
const reachOf = (b: BenchView, at: Place) => reachPixels * b.pixel(toSpace(planeNow(), at))

function curveUnder(d: Drawing, at: Place, reach: number): number | null {
  let curve: number | null = null,
    least = reach
  d.curves.forEach((c, i) => {
    if (!mayBeNear(d, c, at, least)) return
    const n = nearestOn(d, c, at)
    if (n.distance < least) {
      least = n.distance
      curve = i
    }
  })
  return curve
}

/** What is under a place: a point before a curve. */
export function under(d: Drawing, at: Place, reach: number): { point: number | null; curve: number | null } {
  let point: number | null = null,
    least = reach
  d.points.forEach((q, i) => {
    const f = Math.hypot(q[0] - at[0], q[1] - at[1])
    if (f <= least) {
      least = f
      point = i
    }
  })
  return { point, curve: point === null ? curveUnder(d, at, reach) : null }
}

function snapped(p: Pointer, b: BenchView, at: Place): Snap {
  const s = outline.getState()
  const d = drawingNow()
  const reach = reachOf(b, at)
  const pixel = reach / reachPixels
  const last = s.placed[s.placed.length - 1]
  // The places of the curve under way can be snapped to as well: that is how a run closes.
  if (!p.alt)
    for (const a of s.placed.slice(0, -1))
      if (Math.hypot(a.at[0] - at[0], a.at[1] - at[1]) <= reach) return { ...a, kind: 'point' }
  if (p.alt) return { kind: null, at }
  return snapTo(d, at, {
    reach,
    from: last?.at ?? null,
    references: referencesNow(s),
    round: (v) => roundLength(v, pixel, p),
  })
}

/** The end of what was just drawn, to go on from. */
const endOf = (d: Drawing): Anchor | null => {
  const c = d.curves[d.curves.length - 1]
  return c && (c.kind === 'line' || c.kind === 'arc') ? { at: d.points[c.to], point: c.to } : null
}

/** Takes the last place of a curve; `numbers`: those that were typed for it. */
function finish(places: readonly Anchor[], last: Snap | null, numbers: readonly number[] | null): void {
  const s = outline.getState()
  const w = wayOf(s.way)
  const before = drawingNow()
  const made = w.make?.(before, places, s.options, last)
  if (!made) {
    outline.setState({ placed: [], typed: '' })
    return tell('That tells no curve: the places lie on each other or in a line.')
  }
  lay(made)
  const end = w.id === 'line' || w.id === 'arc-tangent' ? endOf(made) : null
  // A run of lines goes on, until it comes back to where it began.
  const closes = end && last?.kind === 'point'
  outline.setState({ placed: end && !closes ? [end] : [], typed: '', at: null })
  const dimensions = numbers && w.typed?.dimensions?.(before, made, numbers)
  if (dimensions?.length) void hold({ dimensions })
}

function place(at: Snap): void {
  const s = outline.getState()
  const w = wayOf(s.way)
  const placed = [...s.placed, at]
  if (w.places === 'many') {
    const closes = placed.length > 3 && at.at[0] === placed[0].at[0] && at.at[1] === placed[0].at[1]
    if (closes) finish(placed, at, null)
    else outline.setState({ placed })
    return
  }
  if (placed.length < (w.places as number)) outline.setState({ placed, typed: '' })
  else finish(placed, at, null)
}

/** Applies what was typed: as the last place of what is being drawn. */
function applyTyped(): boolean {
  const s = outline.getState()
  const w = wayOf(s.way)
  if (!s.typed || !w.typed || s.placed.length !== (w.places as number) - 1) return false
  const named = (n: string) => jobValues.getState().numbers.get(n)
  const numbers = s.typed
    .trim()
    .split(/[\s;]+/)
    .map((t, i) => parseQuantity(t, w.id === 'line' && i === 1 ? 'angle' : 'length', named))
  if (!numbers.length || numbers.some((v) => v === null || !(v > 0 || (w.id === 'line' && v !== null)))) {
    tell(`"${s.typed}" is not ${w.typed.word}. Type numbers with a space between them.`)
    return true
  }
  const at = s.at?.at ?? [s.placed[s.placed.length - 1].at[0] + 1, s.placed[s.placed.length - 1].at[1]]
  const level = s.at?.kind === 'horizontal' || s.at?.kind === 'vertical' ? s.at.kind : null
  const values = numbers as number[]
  const to = w.typed.place(s.placed, values, at)
  if (!to) return true
  const turned = w.id === 'line' && values[1] !== undefined ? ((values[1] % 180) + 180) % 180 : null
  const kind = turned === null ? level : turned === 0 ? 'horizontal' : turned === 90 ? 'vertical' : null
  finish([...s.placed, { at: to }], { kind, at: to }, values)
  return true
}

const toggled = (list: readonly number[], i: number) => (list.includes(i) ? list.filter((k) => k !== i) : [...list, i])

/** A click of a way that works on curves and points that are there. */
function change(at: Place, reach: number): void {
  const s = outline.getState()
  const d = drawingNow()
  const { point } = under(d, at, reach)
  const onCurve = curveUnder(d, at, reach)
  const give = (next: Drawing | null, sorry: string) => (next ? lay(next) : tell(sorry))
  switch (s.way) {
    case 'trim':
      if (onCurve !== null) lay(trimmed(d, onCurve, at))
      break
    case 'extend':
      if (onCurve !== null) give(extended(d, onCurve, at), 'Nothing lies in the way of that end.')
      break
    case 'split':
      if (onCurve !== null) lay(splitCurve(d, onCurve, at))
      break
    case 'fillet':
      if (point !== null)
        give(filleted(d, point, s.options.radius), 'No arc of that radius fits the corner: try a smaller one.')
      break
    case 'chamfer':
      if (point !== null) give(chamfered(d, point, s.options.distance), 'Two lines longer than that must meet there.')
      break
    case 'construction':
      if (onCurve !== null) lay(constructionTurned(d, [onCurve]))
      break
    case 'mirror':
      if (!s.curves.length && !s.points.length && onCurve !== null) return outline.setState({ curves: [onCurve] })
      if (onCurve !== null)
        give(mirrored(d, { points: s.points, curves: s.curves }, onCurve), 'Click a line to mirror what is picked in.')
      break
    case 'offset':
      if (onCurve !== null) return outline.setState({ curves: toggled(s.curves, onCurve) })
      if (s.curves.length) give(offsetToward(d, s.curves, s.options.distance, at), 'An arc would shrink to nothing.')
      break
    case 'circle-copies':
      if (onCurve !== null && point === null) return outline.setState({ curves: toggled(s.curves, onCurve) })
      if (s.curves.length && point !== null) lay(copied(d, { points: [], curves: s.curves }, around(d.points[point])))
      break
    case 'rows':
    case 'concentric':
    case 'shift':
      if (onCurve !== null) outline.setState({ curves: toggled(s.curves, onCurve) })
  }
}

/** The reference under a place: its row and the number of its nearest place. */
function referenceAt(at: Place, reach: number): { row: number; place: number } | null {
  const rows = referencesNow()
  let best: { row: number; place: number } | null = null,
    least = reach
  rows.forEach((row, i) => {
    for (let k = 0; k + 1 < row.length; k++) {
      const d: Drawing = { points: [row[k], row[k + 1]], curves: [] }
      const f = nearestOn(d, { kind: 'line', from: 0, to: 1 }, at).distance
      if (f >= least) continue
      least = f
      best = { row: i, place: nearestPlace(rowOf(row), at) }
    }
  })
  return best
}

/** A reference as tracing takes it: a closed one without its first place said twice. */
const rowOf = (row: readonly Place[]): Row => {
  const [a, b] = [row[0], row[row.length - 1]]
  const closed = row.length > 3 && a[0] === b[0] && a[1] === b[1]
  return { places: closed ? row.slice(0, -1) : row, closed }
}

/** Fits a curve to the stretch that two clicks tell, or to the whole row at one. */
async function fitAt(way: FitId, at: Place, reach: number, long: boolean): Promise<void> {
  const s = outline.getState()
  const on = referenceAt(at, reach)
  if (!on) return tell('Click on a reference curve: it lies behind the drawing, in ochre.')
  const row = rowOf(referencesNow(s)[on.row])
  if (!takesWhole(way) && s.stretch?.row !== on.row)
    return outline.setState({ stretch: { row: on.row, from: on.place, places: [row.places[on.place]] } })
  const places = takesWhole(way) ? row.places : stretchOf(row, s.stretch!.from, on.place, long)
  const { tolerance } = s.options
  outline.setState({ stretch: null })
  const fit = await outlineWorker().fit(places, fits[way], tolerance, takesWhole(way) && row.closed)
  if (!fit) return tell('Those places tell no such curve: pick a longer stretch.')
  outline.setState({
    fitted: `${fits[way]}: off by at most ${num(fit.most, 4)} mm, rms ${num(fit.rms, 4)} mm, from ${fit.places} places`,
  })
  if (fit.most > tolerance)
    tell(`The ${fits[way]} is off by ${num(fit.most, 3)} mm, more than the tolerance of ${num(tolerance, 3)} mm.`)
  lay(attached(drawingNow(), fit.drawing, Math.max(5 * tolerance, reach)))
}

/** The offset on the side that a place lies on. */
export function offsetToward(d: Drawing, curves: readonly number[], by: number, at: Place): Drawing | null {
  const [left, right] = [offsetBeside(d, curves, by), offsetBeside(d, curves, -by)]
  const near = (x: Drawing | null) =>
    x ? x.curves.slice(d.curves.length).reduce((m, c) => Math.min(m, nearestOn(x, c, at).distance), Infinity) : Infinity
  return near(left) <= near(right) ? left : right
}

/** Copies in a circle about a place, the first being what is there. */
export function around([x, y]: Place): Flat[] {
  const { count } = outline.getState().options
  const many = Math.max(1, Math.min(500, Math.round(count)))
  return Array.from({ length: many - 1 }, (_, i): Flat => {
    const a = (2 * Math.PI * (i + 1)) / many
    const [cos, sin] = [Math.cos(a), Math.sin(a)]
    return [cos, sin, -sin, cos, x - cos * x + sin * y, y - sin * x - cos * y]
  })
}

/** Takes away what is picked. */
export function removePicked(): boolean {
  const s = outline.getState()
  const d = drawingNow()
  if (s.sign) {
    const { of, index } = s.sign
    const list = of === 'constraint' ? 'constraints' : 'dimensions'
    outline.setState({ sign: null })
    lay({ ...d, [list]: d[list]?.filter((_, i) => i !== index) })
    return true
  }
  if (!s.points.length && !s.curves.length) return false
  outline.setState({ points: [], curves: [], hot: { point: null, curve: null } })
  lay(without(d, s))
  return true
}

/** Drags a point, a curve or a circle's size; the solver holds the rest. */
function gripOf(p: Pointer, b: BenchView, start: Place): Grip | null {
  const d = drawingNow()
  const { point, curve } = under(d, start, reachOf(b, start))
  if (point === null && curve === null) return null
  let values: ReturnType<typeof numbersFor>
  try {
    values = numbersFor(d)
  } catch {
    return null
  }
  const from = p.screen
  let moved = false
  let at = d
  const c = curve === null ? null : d.curves[curve]
  const pull = latest(async (to: Place) => {
    const by: Place = [to[0] - start[0], to[1] - start[1]]
    const next =
      c?.kind === 'circle'
        ? await outlineWorker().pull(
            d,
            values,
            [],
            [{ curve: curve!, to: Math.hypot(to[0] - d.points[c.centre][0], to[1] - d.points[c.centre][1]) }],
          )
        : await outlineWorker().pull(
            d,
            values,
            (point !== null ? [point] : pointsToDrag(d, curve!)).map((i) => ({
              point: i,
              to: point !== null ? to : ([d.points[i][0] + by[0], d.points[i][1] + by[1]] as Place),
            })),
            [],
          )
    if (!moved) return
    at = next
    outline.setState({ pulled: next })
  })
  return {
    move(q) {
      if (!moved && Math.hypot(q.screen[0] - from[0], q.screen[1] - from[1]) < 4) return
      moved = true
      const to = placeOf(q)
      if (!to) return
      const reach = reachOf(b, to)
      const round = (v: number) => roundLength(v, reach / reachPixels, q)
      pull(q.alt || point === null ? to : [round(to[0]), round(to[1])])
    },
    up() {
      if (!moved) {
        const s = outline.getState()
        outline.setState(
          point !== null
            ? { points: toggled(s.points, point), sign: null }
            : { curves: toggled(s.curves, curve!), sign: null },
        )
        return
      }
      moved = false
      outline.setState({ pulled: null })
      if (at !== d && drawingNow() === d) lay(at)
    },
    cancel() {
      moved = false
      outline.setState({ pulled: null })
    },
  }
}

const pointsToDrag = (d: Drawing, i: number): number[] => {
  const c = d.curves[i]
  if (c.kind === 'line') return [c.from, c.to]
  if (c.kind === 'arc') return [c.from, c.to, c.centre]
  if (c.kind === 'spline') return [...(c.through ?? c.control ?? [])]
  return [c.centre]
}

/** A figure typed while a curve is drawn: its last place is told by it. */
function typeKey(e: KeyboardEvent): boolean {
  const s = outline.getState()
  const w = wayOf(s.way)
  const last = w.typed && s.placed.length === (w.places as number) - 1
  if (last && /^[0-9.,;*/+() a-z"°-]$/i.test(e.key) && (s.typed || /[0-9.(-]/.test(e.key))) {
    outline.setState({ typed: s.typed + e.key })
    return true
  }
  if (e.key !== 'Backspace' || !s.typed) return false
  outline.setState({ typed: s.typed.slice(0, -1) })
  return true
}

/** Takes what was typed, or ends what is drawn. */
function enter(): boolean {
  if (applyTyped()) return true
  const s = outline.getState()
  if (wayOf(s.way).places === 'many' && s.placed.length > 1) {
    finish(s.placed, null, null)
    return true
  }
  if (!s.placed.length) return false
  outline.setState({ placed: [], at: null })
  return true
}

/** Goes back by one: what is typed, written, begun, refused, picked, the way of drawing; at last the drawing is put away. */
function backOut(): boolean {
  const s = outline.getState()
  if (s.typed) outline.setState({ typed: '' })
  else if (s.writing !== null) outline.setState({ writing: null })
  else if (s.placed.length || s.stretch) outline.setState({ placed: [], at: null, stretch: null })
  else if (s.refusal) outline.setState({ refusal: null })
  else if (s.points.length || s.curves.length || s.sign) outline.setState({ points: [], curves: [], sign: null })
  else if (s.way !== 'pick') chooseWay('pick')
  else return putDrawingAway(() => useTool.getState().take(null))
  return true
}

export const outlineHand: Hand = {
  hint() {
    const s = outline.getState()
    const w = wayOf(s.way)
    return w.hints[Math.min(s.placed.length + (s.stretch ? 1 : 0), w.hints.length - 1)]
  },
  move(p, b) {
    const at = placeOf(p)
    if (!at) return false
    const s = outline.getState()
    if (s.way === 'plane') return false
    if (s.way === 'over') {
      hoverPart(p)
      return true
    }
    const w = wayOf(s.way)
    const plane = planeNow()
    if (isFit(s.way)) {
      if (s.stretch) {
        const row = rowOf(referencesNow(s)[s.stretch.row])
        const to = nearestPlace(row, at)
        outline.setState({ stretch: { ...s.stretch, places: stretchOf(row, s.stretch.from, to, p.shift) } })
      }
      movePointer({ at: toSpace(plane, at), body: null, words: '' })
      return true
    }
    if (w.make) {
      const snap = snapped(p, b, at)
      outline.setState({ at: snap, hot: { point: snap.point ?? null, curve: snap.onCurve ?? snap.middleOf ?? null } })
      movePointer({ at: toSpace(plane, snap.at), body: null, words: snap.kind ? snapWords[snap.kind] : '' })
    } else {
      const hot = under(drawingNow(), at, reachOf(b, at))
      if (hot.point !== s.hot.point || hot.curve !== s.hot.curve) outline.setState({ hot })
      movePointer({ at: toSpace(plane, at), body: null, words: '' })
    }
    return true
  },
  down(p, b) {
    if (outline.getState().way !== 'pick') return null
    const at = placeOf(p)
    return at && gripOf(p, b, at)
  },
  async click(p, b) {
    const s = outline.getState()
    if (s.way === 'plane') {
      const hit = await p.hit()
      if (!hit) return true
      // The face itself is kept, so that the drawing follows it; `x` as it lies now.
      const face = await takenAt(p, 'face')
      useTool.getState().pick({ at: face, normal: face, on: undefined })
      chooseWay('line')
      return true
    }
    if (s.way === 'over') {
      const part = await p.part('any')
      const taken = await takenAt(p, part?.sort ?? ((await p.snap())?.snap?.kind === 'edge' ? 'edge' : 'face'))
      if (!taken) return true
      const old = (useTool.getState().tool?.values.over as Taken[] | undefined) ?? []
      const same = (t: Taken) => t.from === taken.from && t.as === taken.as && !!t.name && t.name === taken.name
      const next = old.some(same) ? old.filter((t) => !same(t)) : [...old, taken]
      useTool.getState().pick({ over: next.length ? next : undefined })
      return true
    }
    const at = placeOf(p)
    if (!at) return true
    if (s.way === 'pick') outline.setState({ points: [], curves: [], sign: null })
    else if (isFit(s.way)) await fitAt(s.way, at, reachOf(b, at), p.shift)
    else if (wayOf(s.way).make) place(snapped(p, b, at))
    else change(at, reachOf(b, at))
    return true
  },
  key(e) {
    if (e.ctrlKey || e.metaKey || e.altKey) return false
    if (typeKey(e)) return true
    if (e.key === 'Enter') return enter()
    if (e.key === 'Delete' || e.key === 'Backspace') return removePicked()
    return e.key === 'Escape' && backOut()
  },
  leave: () => outline.setState({ at: null, hot: { point: null, curve: null } }),
  undo() {
    const s = outline.getState()
    if (wayOf(s.way).places === 'many' && s.placed.length) {
      outline.setState({ placed: s.placed.slice(0, -1) })
      return true
    }
    // What is picked or begun may be gone with what is taken back.
    outline.setState({ placed: [], points: [], curves: [], sign: null, refusal: null, writing: null })
    return false
  },
  redo() {
    outline.setState({ placed: [], points: [], curves: [], sign: null, refusal: null, writing: null })
    return false
  },
  Over: OutlineOver,
  Flat: OutlineFlat,
}
