import { z } from 'zod'
import { num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { Body, DatumBody } from '@/core/bodies/body'
import { resolveRegion } from '@/core/find/region'
import { extentOf } from '@/core/fit/extent'
import { fitBest, fitKind, snapped, type Fitted } from '@/core/fit/fit-shape'
import { samplesOf } from '@/core/fit/samples'
import { shapeSheet, shapeSolid } from '@/core/kernels/exact/fitted'
import { addScaled, dot, length, normalize, scale, type Vec3 } from '@/core/math/vec'
import { bodyRef, choice, direction, lengthMm, newBody, regionRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName, type Facts } from '@/core/step/step'

const holds = ['free', 'along', 'square'] as const

/** Walls that bend so much less than they are long are nearly flat. */
const flatTimes = 20

/** A shape with its axis along or square to a direction, where that is asked for. */
function held(
  shape: Fitted['kind'] | 'best',
  samples: ReturnType<typeof samplesOf>,
  hold: (typeof holds)[number],
  way: Vec3 | undefined,
  radius: number | undefined,
): { fit: Fitted; known: { axis?: Vec3; radius?: number } } {
  const known: { axis?: Vec3; radius?: number } = radius ? { radius } : {}
  const fit = (k: typeof known) => (shape === 'best' ? fitBest(samples, k) : fitKind(shape, samples, k))
  if (hold === 'free' || !way) return { fit: fit(known), known }
  if (hold === 'along') {
    known.axis = normalize(way)
    return { fit: fit(known), known }
  }
  const first = fit(known)
  if (!first.axis) return { fit: first, known }
  const d = normalize(way)
  const square = addScaled(first.axis, d, -dot(first.axis, d))
  if (length(square) < 1e-3)
    throw new StepError('along', 'The shape runs along that direction: it cannot be square to it.', {
      tryThis: 'Hold it along the direction, or take another one.',
    })
  known.axis = normalize(square)
  return { fit: fitKind(first.kind, samples, known), known }
}

export const fitShape = defineStep({
  kind: 'convert/fit-shape',
  version: 1,
  title: 'Fit shape',
  order: 40,
  past: 'Fitted a shape to',
  group: 'Solid',
  facts: shown(
    { key: 'diameter', label: 'Diameter', as: 'length' },
    { key: 'halfAngle', label: 'Half angle', as: 'angle' },
    { key: 'rms', label: 'Off by, rms', as: 'length' },
    { key: 'max', label: 'At most', as: 'length' },
    { key: 'inliers', label: 'Of the region', as: 'share' },
  ),
  summary: 'A plane, cylinder, cone, sphere or ring through a picked region of a mesh: as a datum, a face or a solid.',
  subject: (s) => String(s.body ?? ''),
  settings: z.object({
    body: bodyRef('mesh', 'Mesh', { changes: false }),
    region: regionRef('Region'),
    shape: choice('Shape', ['best', 'plane', 'cylinder', 'cone', 'sphere', 'ring'], {
      best: 'what serves best',
      plane: 'plane',
      cylinder: 'cylinder',
      cone: 'cone',
      sphere: 'sphere',
      ring: 'ring',
    }).default('best'),
    as: choice('Becomes', ['datum', 'sheet', 'solid'], {
      datum: 'a datum',
      sheet: 'a face (sheet)',
      solid: 'a solid',
    }).default('datum'),
    hold: choice('Direction', holds, {
      free: 'as it comes',
      along: 'along',
      square: 'square to',
    }).default('free'),
    way: direction('Along or square to', { when: { field: 'hold', is: ['along', 'square'] } }).optional(),
    radius: lengthMm('Radius held', {
      min: 1e-3,
      more: true,
      help: 'of a ring: of its tube; left empty: free',
    }).optional(),
    snap: choice(
      'Diameter to steps of',
      ['none', 'tenth', 'twentieth', 'sixtyfourth'],
      {
        none: 'none',
        tenth: '0.1 mm',
        twentieth: '0.05 mm',
        sixtyfourth: '1/64 in',
      },
      { more: true },
    ).default('none'),
    extend: lengthMm('Longer at both ends by', { min: -1e4, more: true }).default(0),
    name: newBody('Name', { base: 'shape' }).default('shape'),
  }),
  async run({ settings: s, mesh, names, work }) {
    freeName(names, s.name)
    const m = mesh(s.body).mesh
    const flags = resolveRegion(m, s.region)
    const triangles = flags.reduce((n, f) => n + f, 0)
    if (!triangles)
      throw new StepError('empty-region', 'Nothing is picked.', {
        tryThis: 'Brush or grow over the wall that is meant.',
      })
    const samples = samplesOf(m, flags)
    work.progress(0.2, 'fitting')
    const { fit: first, known } = held(s.shape, samples, s.hold, s.way, s.radius)
    const fit = s.radius ? first : snapped(first, samples, s.snap, known)
    const round = fit.kind === 'ring' ? fit.thickness : fit.radius
    const facts: Facts = {
      shape: fit.kind,
      triangles,
      rms: fit.rms,
      max: fit.max,
      inliers: fit.inliers,
      at: [...fit.at],
      ...(fit.axis ? { axis: [...fit.axis] } : {}),
      ...(fit.radius ? { radius: fit.radius } : {}),
      ...(fit.thickness ? { thickness: fit.thickness } : {}),
      ...(fit.halfAngle ? { halfAngle: fit.halfAngle } : {}),
      ...(round ? { diameter: 2 * round } : {}),
      ...(fit.sigma === undefined ? {} : { sigma: fit.sigma }),
      inside: fit.inside,
    }
    const reach = extentOf(fit, samples.points, Math.max(3 * fit.rms, fit.max))
    const grown = { ...fit, ...reach, from: reach.from - s.extend, to: reach.to + s.extend }
    if (fit.kind === 'plane') {
      grown.start -= s.extend
      grown.turn += 2 * s.extend
    }
    if (fit.kind === 'cone') grown.from = Math.max(grown.from, 0)
    let body: Body
    if (s.as === 'sheet') body = await shapeSheet(grown, s.name)
    else if (s.as === 'solid') body = await shapeSolid(grown, s.name)
    else body = datumOf(fit, grown)
    const words = `${fit.kind}${round ? ` Ø ${num(2 * round, 3)} mm` : fit.halfAngle ? ` of ${num(2 * fit.halfAngle, 2)}°` : ''}`
    // How far the region reaches: along the axis, and on a sphere across.
    const span = reach.to - reach.from
    const free = fit.sigma !== undefined && round && fit.sigma > 0.05 * round
    return {
      bodies: { [s.name]: body },
      facts,
      warnings: [
        ...(free
          ? [
              `So little of the ${fit.kind} is picked that its radius is hardly told: ${num(round, 2)} ± ${num(fit.sigma!, 2)} mm.`,
            ]
          : []),
        ...(round && round > flatTimes * span
          ? [`With a radius of ${num(round, 0)} mm the region is nearly flat: a plane may be what is meant.`]
          : []),
        ...(fit.inliers < 0.7
          ? [
              `Only ${num(100 * fit.inliers, 0)} % of the region lie on the ${fit.kind}: the rest belongs to something else.`,
            ]
          : []),
      ],
      said: `${words} through ${plural(triangles, 'triangle')} · off by ${num(fit.rms, 4)} mm rms, ${num(fit.max, 3)} at most`,
    }
  },
})

/** The plane, axis or point of a shape. */
function datumOf(fit: Fitted, { from, to, turn }: { from: number; to: number; turn: number }): DatumBody {
  if (fit.kind === 'plane')
    return { kind: 'datum', datum: 'plane', at: fit.at, direction: fit.axis!, drawn: Math.max(to - from, turn) }
  if (fit.kind === 'sphere')
    return { kind: 'datum', datum: 'point', at: fit.at, direction: [0, 0, 1], drawn: fit.radius! }
  const middle = fit.kind === 'ring' ? fit.at : addScaled(fit.at, fit.axis!, (from + to) / 2)
  const axis = fit.axis![2] < -1e-9 ? scale(fit.axis!, -1) : fit.axis!
  return {
    kind: 'datum',
    datum: 'axis',
    at: middle,
    direction: axis,
    drawn: Math.max(to - from, fit.radius ?? 1) * 1.2,
  }
}
