import { z } from 'zod'
import { mm, num, percentText, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span } from '@/core/base/work'
import type { Facts } from '@/core/base/facts'
import { resolveRegion } from '@/core/find/region'
import { boundedBody } from '@/core/kernels/exact/bounded'
import { figuresOf, histogramOf } from '@/core/gauge/deviation'
import { trimmedSheet, wholeSheet } from '@/core/surface/sheet'
import { largestArea } from '@/core/surface/largest-area'
import { skinRegion as laid } from '@/core/surface/skin-region'
import { bodyRef, choice, count, lengthMm, newBody, percent, regionRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'

/** The rim of a trimmed skin is a curve beside the sheet by less than this, mm. */
const mostGap = 0.02
const own = { more: true, min: 0 }

/** Areas of a region that hold less than this share of it are crumbs. */
const crumbs = 0.02

export const skinRegion = defineStep({
  kind: 'convert/skin-region',
  version: 2,
  title: 'Skin region',
  order: 63,
  past: 'Laid a skin over a region of',
  group: 'Freeform',
  slow: true,
  facts: shown(
    { key: 'controlPoints', label: 'Control points', as: 'count' },
    { key: 'deviation.max', label: 'Off by at most', as: 'length' },
    { key: 'deviation.p95', label: '95 % within', as: 'length' },
    { key: 'deviation.rms', label: 'Rms', as: 'length' },
  ),
  summary:
    'One smooth B-spline sheet over a picked region of a mesh, as fine as is asked or raised until all of it is inside a tolerance.',
  subject: (s) => String(s.body ?? ''),
  // Written by hand, a detail without a tolerance says by itself which is meant.
  shape: 2,
  upgrade: (s) =>
    s.how === undefined && s.detail !== undefined && s.tolerance === undefined ? { ...s, how: 'detail' } : s,
  settings: z.object({
    body: bodyRef('mesh', 'Mesh', { changes: false }),
    region: regionRef('Region'),
    largest: toggle('Only its largest area', { help: 'a region of several: the others are left out' }).default(false),
    how: choice('Detail', ['tolerance', 'detail'], {
      tolerance: 'raised until inside',
      detail: 'as told',
    }).default('tolerance'),
    tolerance: lengthMm('Tolerance', { min: 1e-4, when: { field: 'how', is: ['tolerance'] } }).default(0.05),
    detail: count('Cells along the longer side', { min: 1, max: 64, when: { field: 'how', is: ['detail'] } }).default(
      8,
    ),
    smooth: percent('Smoothness', { help: 'more bends less between places' }).default(30),
    extend: lengthMm('Goes on past the region by', { min: 0 }).default(0),
    trim: toggle('Trimmed to the region’s rim').default(false),
    by: choice(
      'Laid out by',
      ['best', 'projection', 'flattening'],
      {
        best: 'what gives less',
        projection: 'a look along its normal',
        flattening: 'laying it flat',
      },
      { more: true },
    ).default('best'),
    start: lengthMm('Past the low end of its length', own).optional(),
    end: lengthMm('Past the high end of its length', own).optional(),
    left: lengthMm('Past the low side of its width', own).optional(),
    right: lengthMm('Past the high side of its width', own).optional(),
    name: newBody('Name', { base: 'skin' }),
  }),
  async run({ settings: s, mesh, names, work }) {
    freeName(names, s.name)
    const body = mesh(s.body)
    const flags = resolveRegion(body.mesh, s.region, body.tags)
    const triangles: number[] = []
    flags.forEach((f, t) => f && triangles.push(t))
    if (!triangles.length)
      throw new StepError('empty-region', 'The region holds no triangle.', { tryThis: 'Pick an area of the body.' })
    const found = largestArea(body.mesh, triangles)
    // Crumbs are not what was meant, whether that is said or not.
    const only = s.largest || found.share < crumbs
    const skin = laid(
      body.mesh,
      only ? found.triangles : triangles,
      {
        by: s.by,
        detail: s.how === 'tolerance' ? { within: s.tolerance } : { cells: s.detail },
        smooth: s.smooth / 100,
        extend: [s.start ?? s.extend, s.end ?? s.extend, s.left ?? s.extend, s.right ?? s.extend],
      },
      span(work, 0, 0.7),
    )
    const bound = s.trim ? trimmedSheet(skin.sheet, skin.rims) : wholeSheet(skin.sheet)
    const made = await boundedBody(bound, 'The skin', s.name, mostGap, span(work, 0.7, 1))
    if (!('body' in made)) throw made.why
    const samples = { distance: Float32Array.from(skin.off), weight: Float32Array.from(skin.weight) }
    const { max, p95, rms } = figuresOf(samples)
    const [u, v] = skin.sheet.cells
    const controlPoints = (u + 3) * (v + 3)
    const beyond = skin.off.reduce((n, d) => n + (Math.abs(d) > s.tolerance ? 1 : 0), 0) / skin.off.length
    return {
      bodies: { [s.name]: made.body },
      facts: {
        controlPoints,
        cells: [u, v],
        by: skin.by,
        // The map shows how far the body lies off the skin.
        against: s.name,
        tolerance: s.tolerance,
        deviation: { max, p95, rms } as unknown as Facts,
        histogram: histogramOf(samples, Math.max(max, 1e-6)) as unknown as Facts,
      },
      said: `${plural(controlPoints, 'control point')} by ${skin.by} · off the region by at most ${mm(max, 3)}, 95 % within ${mm(p95, 3)}`,
      warnings: [
        ...(only && found.others
          ? [
              `${plural(found.others, 'further area')} of the region, ${percentText(found.share)} of it, ${found.others === 1 ? 'was' : 'were'} left out.`,
            ]
          : []),
        ...(skin.inside
          ? []
          : [
              `The skin could not be brought within ${num(s.tolerance, 4)} mm: ${percentText(beyond)} of its places lie farther off, by ${mm(max, 3)} at most.`,
            ]),
      ],
    }
  },
})
