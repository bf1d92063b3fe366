import { z } from 'zod'
import { isDatum, isOutline, type Body, type OutlineBody, type ReferenceRow } from '@/core/bodies/body'
import { angleDeg, bodyRef, bodyRefs, choice, count, direction, lengthMm, newBody, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, namer } from '@/core/step/step'
import { mm, num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { checkStop } from '@/core/base/work'
import { dot, normalize, type Vec3 } from '@/core/math/vec'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { curveNear, longestRow, outlineFigures } from '@/core/kinds/outline'
import { drawingPlane, emptyDrawing, toPlane } from '@/core/outline/drawing'
import { slicerOf } from '@/core/section/slice'
import { along, byGap, evenly, turned, type CutPlane } from '@/core/section/plane-rows'
import { facesInPlane } from '@/core/section/in-plane'

/** The plane of a datum. */
function planeOf(name: string | undefined, body: (name: string) => Body) {
  if (name === undefined)
    throw new StepError('no-pick', 'No datum plane is chosen to cut by.', {
      tryThis: 'Choose one, or make one with Plane among the tools of Build.',
    })
  const datum = body(name)
  if (isDatum(datum) && datum.datum === 'plane') return { at: datum.at, normal: datum.direction }
  throw new StepError('wrong-kind', `"${name}" is no plane to cut by.`, {
    where: { body: name },
    tryThis: 'Pick a datum plane.',
  })
}

interface RowSettings {
  readonly by: 'numbers' | 'datum'
  readonly plane?: string
  readonly at: Vec3
  readonly normal: Vec3
  readonly count: number
  readonly row: 'gap' | 'even' | 'along' | 'turned'
  readonly gap: number
  readonly curve?: string
  readonly about: Vec3
  readonly axis: Vec3
  readonly turn: number
}

/** The planes that settings tell. */
function planesOf(s: RowSettings, skins: readonly TriMesh[], body: (name: string) => Body): CutPlane[] {
  if (s.row === 'along') {
    if (s.curve === undefined)
      throw new StepError('no-pick', 'No curve is chosen for the row of planes.', {
        tryThis: 'Choose the outline it belongs to.',
      })
    const curve = body(s.curve)
    const row = isOutline(curve) ? longestRow(curve) : null
    if (!row) throw new StepError('empty', `"${s.curve}" holds no curve.`, { tryThis: 'Pick an outline with curves.' })
    return along(row.places, row.closed, s.count, (p) => curveNear(curve as OutlineBody, p))
  }
  const first = s.by === 'datum' ? planeOf(s.plane, body) : { at: s.at, normal: normalize(s.normal) }
  if (s.row === 'even') return evenly(skins, first, s.count)
  if (s.row === 'turned') return turned(first, s.count, { at: s.about, normal: normalize(s.axis) }, s.turn)
  return byGap(first, s.count, s.gap)
}

export const sectionLine = defineStep({
  kind: 'convert/section-line',
  version: 2,
  title: 'Section line',
  order: 10,
  past: 'Cut section lines of',
  group: 'Outline',
  live: true,
  liveUpTo: 1_500_000,
  namesItself: true,
  facts: shown(
    { key: 'loops', label: 'Closed loops', as: 'count' },
    { key: 'openRuns', label: 'Open runs', as: 'count', some: true },
    { key: 'length', label: 'Length', as: 'length' },
    { key: 'area', label: 'Enclosed area', as: 'area' },
  ),
  summary: 'Cuts bodies by a plane or a row of planes; the lines become reference curves to trace.',
  subject: (s) => (Array.isArray(s.bodies) ? s.bodies.join(', ') : ''),
  settings: z.object({
    bodies: bodyRefs({ can: 'surface' }, 'Bodies', { changes: false }),
    by: choice('Cut by', ['numbers', 'datum'], { numbers: 'numbers', datum: 'datum plane' }).default('numbers'),
    plane: bodyRef('datum', 'Datum plane', { changes: false, when: { field: 'by', is: ['datum'] } }).optional(),
    at: point('Plane through', { pick: 'face', when: { field: 'by', is: ['numbers'] } }).default([0, 0, 0]),
    normal: direction('Square to', { when: { field: 'by', is: ['numbers'] } }).default([0, 0, 1]),
    count: count('Planes', { min: 1, max: 500 }).default(1),
    row: choice('Row of planes', ['gap', 'even', 'along', 'turned'], {
      gap: 'apart by a gap',
      even: 'evenly across the bodies',
      along: 'along a curve',
      turned: 'turned about an axis',
    }).default('gap'),
    gap: lengthMm('Apart by', {
      min: 1e-3,
      help: 'where there are several planes',
      when: { field: 'row', is: ['gap'] },
    }).default(5),
    curve: bodyRef('outline', 'Curve of', {
      changes: false,
      listed: true,
      when: { field: 'row', is: ['along'] },
      help: 'the planes stand square to it, evenly from end to end',
    }).optional(),
    about: point('Axis through', { when: { field: 'row', is: ['turned'] } }).default([0, 0, 0]),
    axis: direction('Axis along', { when: { field: 'row', is: ['turned'] } }).default([0, 0, 1]),
    turn: angleDeg('Each turned on by', { when: { field: 'row', is: ['turned'] } }).default(30),
    name: newBody('Name', { base: 'section' }).default('section'),
    chord: lengthMm('Chord tolerance', {
      min: 1e-4,
      max: 10,
      help: 'For exact bodies; left empty: a hundredth of a millimetre',
      more: true,
    }).optional(),
  }),
  async run({ settings: s, body, surface, names, work }) {
    const skins = []
    for (const name of s.bodies) skins.push((await surface(name, s.chord ?? 0.01)).mesh)
    const slicers = skins.map(slicerOf)
    const planes = planesOf(s, skins, body)
    const free = namer(names)
    const bodies: Record<string, Body> = {}
    const warnings: string[] = []
    let loops = 0,
      open = 0,
      length = 0,
      area = 0,
      missed = 0,
      inFace = 0,
      bodyBehind = 0
    for (const [i, { at, normal }] of planes.entries()) {
      checkStop(work)
      work.progress(i / s.count, 'cutting')
      const plane = drawingPlane(at, normal)
      const offset = dot(at, normal)
      const reference: ReferenceRow[] = slicers.flatMap((slicer) =>
        slicer.slice(normal, offset, false).loops.map(({ points, closed }) => {
          const places = new Float64Array((points.length / 3) * 2)
          for (let k = 0; 3 * k < points.length; k++)
            places.set(toPlane(plane, [points[3 * k], points[3 * k + 1], points[3 * k + 2]]), 2 * k)
          return { places, closed }
        }),
      )
      skins.forEach((mesh, k) => {
        const { area: flat, facing } = facesInPlane(mesh, normal, offset)
        inFace += flat
        bodyBehind += facing
        if (flat > 0)
          warnings.push(
            `The plane ${s.count > 1 ? `number ${i + 1} ` : ''}lies in a face of "${s.bodies[k]}" (${num(flat, 1)} mm²): the line is the one of its upper side. Move the plane half a millimetre into the body for a clear section.`,
          )
      })
      if (!reference.length) {
        missed++
        continue
      }
      const outline: OutlineBody = { kind: 'outline', plane, drawing: emptyDrawing, reference }
      const f = outlineFigures(outline)
      loops += f.loops
      open += f.open
      length += f.length
      area += f.areas.reduce((sum, a) => sum + a, 0)
      bodies[free(s.count > 1 ? `${s.name} ${i + 1}` : s.name)] = outline
    }
    if (missed === s.count)
      throw new StepError(
        'no-cut',
        `The ${s.count > 1 ? 'planes miss' : 'plane misses'} ${s.bodies.map((b) => `"${b}"`).join(' and ')}.`,
        {
          where: { point: planes[0].at },
          tryThis: 'Pick a place on the body, or turn the plane.',
        },
      )
    if (missed) warnings.push(`${plural(missed, 'plane')} met nothing and left no section.`)
    if (open)
      warnings.push(
        `${plural(open, 'run')} of the section ${open === 1 ? 'is' : 'are'} open, because the body is open there.`,
      )
    return {
      bodies,
      facts: { loops, openRuns: open, length, area, planes: s.count - missed, inFace, behind: bodyBehind >= 0 },
      warnings,
      said: `${plural(loops, 'loop')}${open ? `, ${plural(open, 'open run')}` : ''} · ${mm(length, 1)} · ${num(area, 1)} mm²`,
    }
  },
})
