import { z } from 'zod'
import type { OutlineBody } from '@/core/bodies/body'
import { bodyRef, choices, lengthMm, newBody } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { num, plural, one } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { isOutline } from '@/core/bodies/body'
import { kindOf } from '@/core/kinds/registry'
import { outlineFigures, placesOf } from '@/core/kinds/outline'
import type { CurveKind } from '@/core/outline/drawing'
import { chainsOf } from '@/core/outline/sample'
import { toldCurve } from '../told-curve'
import type { Row } from '@/core/trace/rows'
import { trace as run } from '@/core/trace/trace'

const kinds = ['line', 'arc', 'circle', 'ellipse', 'spline'] as const
const labels = { line: 'lines', arc: 'arcs', circle: 'circles', ellipse: 'ellipses', spline: 'splines' } as const
const own = (kind: CurveKind) =>
  lengthMm(`Tolerance of ${labels[kind]}`, { min: 1e-5, help: 'left empty: the tolerance', more: true }).optional()

export const trace = defineStep({
  kind: 'convert/trace',
  version: 1,
  title: 'Trace',
  order: 20,
  past: 'Traced',
  group: 'Outline',
  namesItself: true,
  facts: shown(
    { key: 'lines', label: 'Lines', as: 'count', some: true },
    { key: 'arcs', label: 'Arcs', as: 'count', some: true },
    { key: 'circles', label: 'Circles', as: 'count', some: true },
    { key: 'ellipses', label: 'Ellipses', as: 'count', some: true },
    { key: 'splines', label: 'Splines', as: 'count', some: true },
    { key: 'deviation.max', label: 'Off by at most', as: 'length' },
    { key: 'deviation.rms', label: 'Rms', as: 'length' },
  ),
  summary: 'Draws lines, arcs, circles, ellipses and splines along reference curves, within a tolerance.',
  subject: (s) => (typeof s.outline === 'string' ? s.outline : ''),
  settings: z.object({
    outline: bodyRef('outline', 'Outline', { changes: false }),
    tolerance: lengthMm('Tolerance', { min: 1e-5 }).default(0.05),
    kinds: choices('Draw', kinds, labels).default([...kinds]),
    lineTolerance: own('line'),
    arcTolerance: own('arc'),
    circleTolerance: own('circle'),
    ellipseTolerance: own('ellipse'),
    splineTolerance: own('spline'),
    name: newBody('Name', { base: 'outline' }).default('outline'),
  }),
  run({ settings: s, body, names, work }) {
    const from = body(s.outline)
    if (!isOutline(from))
      throw new StepError(
        'wrong-kind',
        `"${s.outline}" is ${one(kindOf(from).title)}; there is nothing in it to trace.`,
        {
          where: { body: s.outline },
          tryThis: 'Make a section line of it first.',
        },
      )
    const rows: Row[] = from.reference.length
      ? from.reference.map((r) => ({ places: placesOf(r), closed: r.closed }))
      : chainsOf(from.drawing, s.tolerance / 10).map(({ places, closed }) => ({ places, closed }))
    if (!rows.length)
      throw new StepError('empty', `"${s.outline}" holds no curve to trace.`, { where: { body: s.outline } })
    const each = {
      line: s.lineTolerance,
      arc: s.arcTolerance,
      circle: s.circleTolerance,
      ellipse: s.ellipseTolerance,
      spline: s.splineTolerance,
    }
    const t = run(rows, Object.fromEntries(s.kinds.map((k) => [k, each[k] ?? s.tolerance])), work)
    if (t.left.length === rows.length)
      throw new StepError(
        'not-held',
        `Of ${s.kinds.map((k) => labels[k]).join(' and ')} alone no curve of "${s.outline}" can be drawn within ${num(s.tolerance, 3)} mm.`,
        { where: { body: s.outline }, tryThis: 'Switch lines or splines on, or allow a wider tolerance.' },
      )
    const name = freeName(names, s.name)
    const out: OutlineBody = { ...from, drawing: t.drawing }
    const count = (kind: CurveKind) => t.drawing.curves.filter((c) => c.kind === kind).length
    const figures = outlineFigures(out)
    const made = kinds.map((k) => ({ k, n: count(k) })).filter(({ n }) => n)
    return Promise.resolve({
      bodies: { [name]: out },
      facts: {
        lines: count('line'),
        arcs: count('arc'),
        circles: count('circle'),
        ellipses: count('ellipse'),
        splines: count('spline'),
        closed: figures.open === 0,
        areas: figures.areas.map((a) => Number(a.toFixed(6))),
        deviation: { max: t.most, rms: t.rms },
        curves: t.drawing.curves.map((c, i) => ({ ...toldCurve(out, c), off: t.curves[i].most })),
      },
      warnings: [
        ...(t.left.length
          ? [`${plural(t.left.length, 'curve')} could not be drawn with what is switched on; the reference stays.`]
          : []),
        ...(t.most > 1.02 * Math.max(...s.kinds.map((k) => each[k] ?? s.tolerance))
          ? [`One curve is off by ${num(t.most, 3)} mm: its places are too few for the tolerance.`]
          : []),
      ],
      said: `${made.map(({ k, n }) => plural(n, k)).join(', ')} · off by at most ${num(t.most, 3)} mm`,
    })
  },
})
