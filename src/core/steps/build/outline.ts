import { z } from 'zod'
import { isDatum, isOutline, type OutlineBody, type ReferenceRow } from '@/core/bodies/body'
import { num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { laidOn, outlineFigures, rowsOnPlane } from '@/core/kinds/outline'
import { closeness } from '@/core/outline/crossings'
import { takenRows } from '@/core/find/taken-rows'
import type { Taken } from '@/core/find/taken'
import { drawingPlane, toSpace, type Drawing, type DrawingPlane } from '@/core/outline/drawing'
import { extentOf } from '@/core/outline/extent'
import { faultsOf, faultWords, type DrawingFault } from '@/core/outline/faults'
import { freedomOf } from '@/core/outline/freedom'
import { joined } from '@/core/outline/joined'
import { lettersOf, loadGlyphs, withLetters } from '@/core/outline/lettering'
import { inRange } from '@/core/outline/laws/in-range'
import { measuresOf } from '@/core/outline/laws/laws'
import { solve } from '@/core/outline/solve'
import { ownerWord } from '@/core/outline/words'
import { bodyRef, bodyRefs, direction, drawing, newBody, point, takenEdges } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName, type Bench } from '@/core/step/step'
import { toldCurve } from '../told-curve'

/** The plane that a drawing lies on, and the reference curves that come with it. */
function ground(
  s: { on?: string; at: readonly number[]; normal: readonly number[]; x?: readonly number[] },
  body: Bench['body'],
): { plane: DrawingPlane; reference: readonly ReferenceRow[] } {
  const on = s.on === undefined ? null : body(s.on)
  const v = (p: readonly number[]) => p as [number, number, number]
  if (!on) return { plane: drawingPlane(v(s.at), v(s.normal), s.x && v(s.x)), reference: [] }
  if (isOutline(on)) return { plane: on.plane, reference: on.reference }
  if (!isDatum(on) || on.datum === 'point')
    throw new StepError('wrong-kind', `"${s.on}" tells no plane to draw on.`, {
      where: { body: s.on },
      tryThis: 'Pick a datum plane or an outline.',
    })
  return { plane: drawingPlane(on.at, on.direction, s.x && v(s.x)), reference: [] }
}

/** The curves of other outlines, laid on a plane as reference: they follow what they were taken from. */
function behind(plane: DrawingPlane, names: readonly string[], body: Bench['body']): ReferenceRow[] {
  return names.flatMap((name) => {
    const b = body(name)
    return isOutline(b) ? rowsOnPlane(b, plane) : []
  })
}

/** Edges of bodies, laid on a plane as reference. */
const takenOver = (plane: DrawingPlane, list: readonly Taken[], body: Bench['body']): ReferenceRow[] =>
  list.flatMap((t) => laidOn(takenRows(t, body(t.from)), plane))

/** The drawing with its constraints and dimensions held. Throws StepError `unsolvable` naming what cannot be held. */
function held(d: Drawing): { drawing: Drawing; values: (number | null)[] } {
  inRange(d)
  const values = (d.dimensions ?? []).map((c) =>
    c.driven || c.value === undefined ? null : typeof c.value === 'number' ? c.value : NaN,
  )
  values.forEach((v, i) => {
    const kind = d.dimensions![i].kind
    const word = ownerWord(d, { of: 'dimension', index: i })
    if (v !== null && !(kind === 'angle' ? v >= 0 && v <= 360 : v > 0 || (v === 0 && kind === 'distance')))
      throw new StepError('bad-value', `${word} is no ${kind === 'angle' ? 'angle' : 'size'} a drawing can have.`, {
        tryThis: kind === 'angle' ? 'Give it an angle from 0 to 360 degrees.' : 'Give it a length above zero.',
      })
  })
  const s = solve(d, values)
  if (!s.holds) {
    const { clashes } = freedomOf(d, values)
    const clash = clashes.findLast((c) => c.conflict)
    const culprit = clash?.owner ?? s.broken.find((o) => o.of === 'dimension') ?? s.broken[0]
    // A dimension is what a maker would change first.
    const rank = (of: string) => (of === 'dimension' ? 0 : 1)
    const others = [...(clash?.with ?? [])]
      .sort((a, b) => rank(a.of) - rank(b.of))
      .slice(0, 4)
      .map((o) => ownerWord(d, o))
    throw new StepError(
      'unsolvable',
      culprit
        ? `The drawing cannot hold ${ownerWord(d, culprit)}${others.length ? ` beside ${others.join('; ')}` : ''}.`
        : 'The drawing cannot hold its constraints.',
      {
        tryThis:
          culprit?.of === 'dimension'
            ? 'Let this dimension only measure (driven), or take one of the others away.'
            : 'Take it away, or one of the others.',
      },
    )
  }
  return { drawing: s.drawing, values }
}

/** One sentence for each kind of fault, with the place of the first. */
function faultSentences(plane: DrawingPlane, faults: readonly DrawingFault[]): string[] {
  const kinds = [...new Set(faults.map((f) => f.kind))]
  return kinds.map((k) => {
    const list = faults.filter((f) => f.kind === k)
    const at = toSpace(plane, list[0].at).map((v) => num(v, 3))
    return `${plural(list.length, faultWords[k])}: ${list.length > 1 ? 'the first ' : ''}at ${at.join(', ')}.`
  })
}

export const outline = defineStep({
  kind: 'build/outline',
  version: 2,
  title: 'Outline',
  order: 1,
  past: 'Drew',
  group: 'Outlines',
  live: true,
  facts: shown(
    { key: 'free', label: 'Can still move', as: 'count' },
    { key: 'loops', label: 'Closed loops', as: 'count', some: true },
    { key: 'openRuns', label: 'Open runs', as: 'count', some: true },
    { key: 'area', label: 'Enclosed area', as: 'area', some: true },
  ),
  summary: 'A drawing in a plane: lines, arcs, circles and splines that hold constraints and dimensions.',
  settings: z.object({
    on: bodyRef(['datum', 'outline'], 'On', {
      changes: false,
      listed: true,
      help: 'a datum plane, or an outline whose reference curves lie behind; left empty: as below',
    }).optional(),
    at: point('Through', { more: true }).default([0, 0, 0]),
    normal: direction('Square to', { more: true }).default([0, 0, 1]),
    x: direction('First direction', { more: true }).optional(),
    behind: bodyRefs('outline', 'Curves behind, of', {
      changes: false,
      listed: true,
      least: 0,
      more: true,
      help: 'other outlines: sections, rims and silhouettes of bodies, laid on this plane to draw along',
    }).optional(),
    over: takenEdges('Edges taken over', {
      more: true,
      help: 'edges and faces of bodies, laid on this plane to draw along; they follow their bodies',
    }).optional(),
    drawing: drawing(),
    name: newBody('Name', { base: 'outline' }).default('outline'),
  }),
  async run({ settings: s, names, body }) {
    const { plane, reference } = ground(s, body)
    if (!s.drawing.curves.length && !s.drawing.points.length)
      throw new StepError('empty', 'Nothing is drawn yet.', { tryThis: 'Draw a line, a circle or a rectangle.' })
    const { drawing: solved, values } = held(s.drawing)
    const { free, clashes } = freedomOf(solved, values)
    const measures = measuresOf(solved)
    const letters = solved.lettering?.length ? lettersOf(solved, await loadGlyphs()) : null
    const bare = joined(withLetters(solved, letters?.drawing), extentOf(solved) * closeness)
    const out: OutlineBody = {
      kind: 'outline',
      plane,
      drawing: bare,
      reference: [...reference, ...behind(plane, s.behind ?? [], body), ...takenOver(plane, s.over ?? [], body)],
    }
    const figures = outlineFigures(out)
    const faults = faultsOf(bare)
    const area = figures.areas.reduce((sum, a) => sum + a, 0)
    const named = (s.drawing.dimensions ?? []).flatMap((d, i) => (d.name ? [[d.name, measures[i]] as const] : []))
    return {
      bodies: { [freeName(names, s.name)]: out },
      facts: {
        free,
        areas: figures.areas,
        area,
        loops: figures.loops,
        openRuns: figures.open,
        length: figures.length,
        constraints: s.drawing.constraints?.length ?? 0,
        dimensions: Object.fromEntries(named),
        curves: bare.curves.map((c) => toldCurve(out, c)),
      },
      warnings: [
        ...clashes.slice(0, 5).map(
          (c) =>
            `${ownerWord(solved, c.owner)} says again what holds already${
              c.with.length
                ? `: ${c.with
                    .slice(0, 4)
                    .map((o) => ownerWord(solved, o))
                    .join('; ')}`
                : ''
            }.`,
        ),
        ...(letters?.missing.length
          ? [`The font has no ${letters.missing.map((c) => `"${c}"`).join(', ')}: left out of the lettering.`]
          : []),
        ...faultSentences(plane, faults),
      ],
      said: `${plural(bare.curves.length, 'curve')}${area ? `, ${num(area, 1)} mm²` : ''} · ${free ? `${plural(free, 'way')} to move` : 'nothing can move'}`,
    }
  },
})
