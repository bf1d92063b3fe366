/** The kind `outline`: a drawing in a plane and the reference curves it can be traced from. */
import { z } from 'zod'
import { StepError } from '@/core/base/step-error'
import { plural } from '@/core/base/say'
import type { OutlineBody, ReferenceRow } from '@/core/bodies/body'
import { badBody } from '@/core/bodies/container'
import { applyPoint, type Affine } from '@/core/math/affine'
import { cross, distance, dot, length, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { chained } from '@/core/outline/chained'
import { areasOf } from '@/core/outline/areas'
import { fillsOf } from '@/core/outline/fills'
import { lengthOfCurve } from '@/core/outline/measure'
import { drawingSchema, pointsOf, toPlane, toSpace, type Curve, type Drawing, type Place } from '@/core/outline/drawing'
import { alongOf, nearestOn } from '@/core/outline/parametric'
import { chainsOf, lengthOf, sampleCurve } from '@/core/outline/sample'
import type { Bounds } from '@/core/mesh/tri-mesh'
import { defineKind, type FactRow } from './kind'
import { placeOf } from './place'

const triple = z.tuple([z.number(), z.number(), z.number()])
const headSchema = z.object({
  plane: z.object({ at: triple, normal: triple, x: triple }),
  drawing: drawingSchema,
  closed: z.array(z.boolean()),
})

/** The places of a reference row, one by one. */
export const placesOf = ({ places }: ReferenceRow): Place[] =>
  Array.from({ length: places.length / 2 }, (_, i): Place => [places[2 * i], places[2 * i + 1]])

/** Chord tolerance by the size of a drawing, mm: fine enough to look round at any zoom that shows it whole. */
function fineness(b: OutlineBody): number {
  let most = 0
  for (const p of b.drawing.points) most = Math.max(most, Math.abs(p[0]), Math.abs(p[1]))
  for (const c of b.drawing.curves) if (c.kind === 'circle') most = Math.max(most, c.radius)
  for (const r of b.reference) for (const v of r.places) most = Math.max(most, Math.abs(v))
  return Math.max(1e-4, most / 5000)
}

/** Every row of an outline that shows: its curves first, then its reference curves. */
function rowsOf(b: OutlineBody): { row: Place[]; part: number }[] {
  const chord = fineness(b)
  return [
    ...b.drawing.curves.map((c, i) => ({ row: sampleCurve(b.drawing, c, chord), part: i })),
    ...b.reference.map((r, i) => {
      const row = placesOf(r)
      return { row: r.closed && row.length ? [...row, row[0]] : row, part: b.drawing.curves.length + i }
    }),
  ]
}

function bounds(b: OutlineBody): Bounds {
  const min = [Infinity, Infinity, Infinity],
    max = [-Infinity, -Infinity, -Infinity]
  for (const { row } of rowsOf(b))
    for (const p of row)
      toSpace(b.plane, p).forEach((v, k) => {
        min[k] = Math.min(min[k], v)
        max[k] = Math.max(max[k], v)
      })
  if (min[0] > max[0]) return { min: b.plane.at, max: b.plane.at }
  return { min: [min[0], min[1], min[2]], max: [max[0], max[1], max[2]] }
}

/** What the curves of an outline enclose, or its reference curves while nothing is drawn. Areas in mm², length in mm. */
export function outlineFigures(b: OutlineBody): { areas: number[]; loops: number; open: number; length: number } {
  const chord = fineness(b)
  if (b.drawing.curves.length) {
    const { fills } = fillsOf(b.drawing, chord)
    const chains = chainsOf(b.drawing, chord)
    return {
      areas: fills.filter((f) => f.depth % 2 === 0).map((f) => f.area),
      loops: chains.filter((c) => c.closed).length,
      open: chains.filter((c) => !c.closed).length,
      length: b.drawing.curves.reduce((s, c) => s + (c.construction ? 0 : lengthOfCurve(b.drawing, c)), 0),
    }
  }
  const rows = b.reference.map((r) => ({ places: placesOf(r), closed: r.closed }))
  const closed = rows.filter((c) => c.closed && c.places.length > 2)
  return {
    areas: areasOf(closed.map((c) => c.places)),
    loops: closed.length,
    open: rows.length - closed.length,
    length: rows.reduce((s, c) => s + lengthOf(c.closed ? [...c.places, c.places[0]] : c.places), 0),
  }
}

/** Rows of places in space, seen square to a plane; pieces that share ends become rows as long as they run without a fork. */
export function laidOn(
  rows: readonly { places: readonly Vec3[]; closed: boolean }[],
  plane: OutlineBody['plane'],
): ReferenceRow[] {
  const whole = rows.filter((r) => r.closed || r.places.length > 2)
  const bits = rows.filter((r) => !r.closed && r.places.length === 2)
  const flat = (places: readonly Vec3[]) => places.map((p) => toPlane(plane, p))
  const size = Math.max(1e-9, ...rows.flatMap((r) => flat(r.places).flat().map(Math.abs)))
  const joinedBits = chained(
    bits.map((r) => flat(r.places) as [Place, Place]),
    size * 1e-7,
  )
  return [...whole.map((r) => ({ places: flat(r.places), closed: r.closed })), ...joinedBits]
    .filter((r) => r.places.some((p) => Math.hypot(p[0] - r.places[0][0], p[1] - r.places[0][1]) > size * 1e-7))
    .map((r) => ({ places: Float64Array.from(r.places.flatMap((p) => [...p])), closed: r.closed }))
}

/** All curves of an outline seen square to a plane, as rows in it. */
export const rowsOnPlane = (b: OutlineBody, plane: OutlineBody['plane']): ReferenceRow[] =>
  rowsOf(b).map(({ row }) => {
    const closed =
      row.length > 3 && Math.hypot(row[0][0] - row[row.length - 1][0], row[0][1] - row[row.length - 1][1]) < 1e-12
    const list = closed ? row.slice(0, -1) : row
    return { places: Float64Array.from(list.flatMap((p) => [...toPlane(plane, toSpace(b.plane, p))])), closed }
  })

/** The runs of an outline's curves, or of its reference curves where nothing is drawn, as places in space. */
export function runsOf(b: OutlineBody): { places: Vec3[]; closed: boolean }[] {
  const rows = b.drawing.curves.length
    ? chainsOf(b.drawing, fineness(b))
    : b.reference.map((r) => ({ places: placesOf(r), closed: r.closed }))
  return rows
    .filter((r) => r.places.length > 1)
    .map((r) => ({ places: r.places.map((p) => toSpace(b.plane, p)), closed: r.closed }))
}

/** The longest of an outline's runs; null without any. */
export function longestRow(b: OutlineBody): { places: Vec3[]; closed: boolean } | null {
  const long = ({ places, closed }: { places: readonly Vec3[]; closed: boolean }) => {
    const row = closed ? [...places, places[0]] : places
    return row.slice(1).reduce((sum, p, i) => sum + distance(p, row[i]), 0)
  }
  return runsOf(b).reduce<{ places: Vec3[]; closed: boolean } | null>((a, r) => (!a || long(r) > long(a) ? r : a), null)
}

/** The place of an outline's curves, or reference curves, nearest to a place in space, with the way the curve goes there; null without curves. */
export function curveNear(b: OutlineBody, p: Vec3): { at: Vec3; way: Vec3; distance: number } | null {
  const flat = toPlane(b.plane, p)
  let best: { at: Place; way: Place; far: number } | null = null
  const take = (d: Drawing, c: Curve) => {
    const n = nearestOn(d, c, flat)
    if (best && n.distance >= best.far) return
    const along = alongOf(d, c)
    const h = 1e-6
    const [q, r] = [along(Math.max(0, n.t - h)), along(Math.min(1, n.t + h))]
    best = { at: n.at, way: [r[0] - q[0], r[1] - q[1]], far: n.distance }
  }
  for (const c of b.drawing.curves) take(b.drawing, c)
  if (!b.drawing.curves.length)
    for (const r of b.reference) {
      const row = placesOf(r)
      const points = r.closed && row.length ? [...row, row[0]] : row
      for (let i = 1; i < points.length; i++)
        take({ points: [points[i - 1], points[i]], curves: [] }, { kind: 'line', from: 0, to: 1 })
    }
  const found = best as { at: Place; way: Place; far: number } | null
  if (!found) return null
  const at = toSpace(b.plane, found.at)
  const tip = toSpace(b.plane, [found.at[0] + found.way[0], found.at[1] + found.way[1]])
  return { at, way: normalize(sub(tip, at)), distance: length(sub(p, at)) }
}

/** A drawing whose lengths are all multiplied. */
const scaled = (d: Drawing, s: number): Drawing => ({
  points: d.points.map(([u, v]): Place => [s * u, s * v]),
  curves: d.curves.map((c) =>
    c.kind === 'circle'
      ? { ...c, radius: s * c.radius }
      : c.kind === 'ellipse'
        ? { ...c, long: s * c.long, short: s * c.short }
        : c,
  ),
})

function move(b: OutlineBody, map: Affine): OutlineBody {
  const at = applyPoint(map, b.plane.at)
  const way = (v: Vec3): Vec3 =>
    sub(applyPoint(map, [b.plane.at[0] + v[0], b.plane.at[1] + v[1], b.plane.at[2] + v[2]]), at)
  const x = way(b.plane.x),
    y = way(cross(b.plane.normal, b.plane.x))
  const s = length(x)
  if (!(s > 0) || Math.abs(length(y) - s) > 1e-6 * s || Math.abs(dot(x, y)) > 1e-6 * s * s)
    throw new StepError('uneven', 'An outline cannot be stretched unevenly: its circles would be circles no more.', {
      tryThis: 'Scale it by the same factor along all three axes.',
    })
  return {
    ...b,
    plane: { at, normal: normalize(cross(x, y)), x: scale(x, 1 / s) },
    drawing: Math.abs(s - 1) < 1e-12 ? b.drawing : scaled(b.drawing, s),
    reference:
      Math.abs(s - 1) < 1e-12 ? b.reference : b.reference.map((r) => ({ ...r, places: r.places.map((v) => v * s) })),
  }
}

export const outlineKind = defineKind<OutlineBody>({
  kind: 'outline',
  title: 'outline',
  version: 1,
  pack: (b) => ({
    head: { plane: b.plane, drawing: b.drawing, closed: b.reference.map((r) => r.closed) },
    arrays: b.reference.map((r, i) => ({ name: `row ${i}`, data: r.places })),
  }),
  unpack(from) {
    const head = headSchema.safeParse(from.head)
    if (!head.success) throw badBody('the head is damaged')
    const { plane, drawing, closed } = head.data
    if (drawing.curves.some((c) => pointsOf(c).some((i) => i >= drawing.points.length)))
      throw badBody('a curve names a point that is not there')
    return {
      kind: 'outline',
      plane,
      drawing,
      reference: closed.map((c, i) => ({ places: from.f64(`row ${i}`), closed: c })),
    }
  },
  bounds,
  move: (b, map) => new Promise((resolve) => resolve(move(b, map))),
  facts(b) {
    const { min, max } = bounds(b)
    const f = outlineFigures(b)
    const area = f.areas.reduce((s, a) => s + a, 0)
    const figures = {
      curves: b.drawing.curves.length,
      references: b.reference.length,
      loops: f.loops,
      openRuns: f.open,
      areas: f.areas.length,
      area,
      length: f.length,
    }
    const rows: FactRow[] = []
    if (figures.curves) rows.push({ key: 'curves', label: 'Curves', value: figures.curves, as: 'count' })
    if (figures.references)
      rows.push({ key: 'references', label: 'Reference curves', value: figures.references, as: 'count' })
    rows.push({ key: 'loops', label: 'Closed loops', value: figures.loops, as: 'count' })
    if (f.open) rows.push({ key: 'openRuns', label: 'Open runs', value: f.open, as: 'count' })
    rows.push({ key: 'length', label: 'Length', value: figures.length, as: 'length' })
    if (f.areas.length) rows.push({ key: 'area', label: 'Enclosed area', value: area, as: 'area' })
    return {
      ...placeOf({ min, size: [0, 1, 2].map((k) => max[k] - min[k]) }),
      sound: f.open === 0 && f.loops > 0,
      badge: f.open ? plural(f.open, 'open run') : figures.curves ? 'drawn' : 'to trace',
      rows,
      figures,
    }
  },
  draw(b) {
    const points: number[] = [],
      part: number[] = []
    for (const { row, part: p } of rowsOf(b))
      for (let i = 1; i < row.length; i++) {
        points.push(...toSpace(b.plane, row[i - 1]), ...toSpace(b.plane, row[i]))
        part.push(p)
      }
    return { lines: { points: Float32Array.from(points), part: Uint32Array.from(part) } }
  },
})
