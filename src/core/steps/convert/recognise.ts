import { z } from 'zod'
import { mm, num, plural } from '@/core/base/say'
import { span } from '@/core/base/work'
import { meshBody } from '@/core/bodies/body'
import { organic } from '@/core/fit/organic'
import { recognise as run } from '@/core/fit/recognise'
import { tagsOf } from '@/core/fit/recognised-tags'
import { toldSchema, withTold } from '@/core/fit/told'
import { middleOf } from '@/core/mesh/triangle'
import { bodyRef, lengthMm, toldOf } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'

/** The mesh lies off a shape that was told by hand so many times farther than faces hold within: said. */
const farTimes = 3

export const recognise = defineStep({
  kind: 'convert/recognise',
  version: 8,
  title: 'Recognise',
  order: 38,
  past: 'Recognised the faces of',
  group: 'Solid',
  slow: true,
  facts: shown(
    { key: 'planes', label: 'Planes', as: 'count', some: true },
    { key: 'cylinders', label: 'Cylinders', as: 'count', some: true },
    { key: 'cones', label: 'Cones', as: 'count', some: true },
    { key: 'spheres', label: 'Spheres', as: 'count', some: true },
    { key: 'rings', label: 'Rings', as: 'count', some: true },
    { key: 'free', label: 'Free surfaces', as: 'count', some: true },
    { key: 'tolerance', label: 'Within', as: 'length' },
    { key: 'noise', label: 'Noise about', as: 'length', some: true },
  ),
  summary:
    'Divides a mesh into planes, cylinders, cones, spheres and rings; picking, measuring and STEP know them as faces from then on.',
  settings: z.object({
    body: bodyRef('mesh', 'Mesh'),
    tolerance: lengthMm('Faces hold within', {
      min: 1e-6,
      max: 100,
      more: true,
      help: 'left empty: from the noise of the mesh',
    }).optional(),
    told: toldOf('Regions', toldSchema, { of: 'regions', follows: true }).default([]),
  }),
  run({ settings: s, mesh, work }) {
    const body = mesh(s.body)
    const found = run(body.mesh, s.tolerance, span(work, 0, 0.95))
    const bends = organic(found)
    const { regions, of, tolerance, noise } = withTold(body.mesh, found, s.told)
    const far = s.told.length
      ? regions.filter((r) => r.shape && r.shape.rms > farTimes * Math.max(tolerance, noise))
      : []
    const kinds = (kind: string) => regions.filter((r) => (r.shape?.kind ?? 'free') === kind).length
    const sorted = [...regions].sort((a, b) => b.area - a.area)
    const counts = {
      planes: kinds('plane'),
      cylinders: kinds('cylinder'),
      cones: kinds('cone'),
      spheres: kinds('sphere'),
      rings: kinds('ring'),
      free: kinds('free'),
    }
    const area = regions.reduce((sum, r) => sum + r.area, 0)
    const free = regions.filter((r) => !r.shape).reduce((sum, r) => sum + r.area, 0)
    return Promise.resolve({
      bodies: { [s.body]: meshBody(body.mesh, tagsOf(body.mesh, { regions, of }, body.tags)) },
      facts: {
        ...counts,
        tolerance,
        noise,
        regions: sorted.slice(0, 500).map((r) => ({
          shape: r.shape?.kind ?? 'free',
          triangles: r.triangles.length,
          area: r.area,
          // A place on it, for looking there and for telling more of it.
          on: middleOf(body.mesh, r.triangles[r.triangles.length >> 1]).map((v) => Number(v.toFixed(4))),
          ...(r.shape
            ? {
                rms: r.shape.rms,
                at: [...r.shape.at],
                ...(r.shape.axis ? { axis: [...r.shape.axis] } : {}),
                ...(r.shape.radius ? { radius: r.shape.radius } : {}),
                ...(r.shape.thickness ? { thickness: r.shape.thickness } : {}),
                ...(r.shape.halfAngle ? { halfAngle: r.shape.halfAngle } : {}),
              }
            : {}),
        })),
      },
      warnings: [
        ...far.map(
          ({ shape }) =>
            `The mesh lies ${mm(shape!.rms, 3)} rms off the ${shape!.kind} that was told at ${shape!.at.map((v) => num(v, 1)).join(', ')}.`,
        ),
        ...(bends
          ? [
              `The skin bends everywhere: it falls into ${bends.regions} surfaces, of which the largest dozen hold ${num(100 * bends.share, 0)} %. The mechanical way does not serve this part; a reskin, or work on the mesh itself, does.`,
            ]
          : []),
        ...(free > 0.5 * area
          ? [
              `${num((100 * free) / area, 0)} % of the skin are free surfaces: the mechanical way does not serve this part. A reskin, or work on the mesh itself, does.`,
            ]
          : []),
      ],
      said: `${plural(regions.length, 'region')}: ${Object.entries(counts)
        .filter(([, n]) => n)
        .map(([k, n]) => plural(n, k === 'free' ? 'free surface' : k.slice(0, -1)))
        .join(', ')} · within ${mm(tolerance, 4)}${noise > 0 ? `, noise about ${mm(noise, 4)}` : ''}`,
    })
  },
})
