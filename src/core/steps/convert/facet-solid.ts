import { z } from 'zod'
import { inColour, isMesh } from '@/core/bodies/body'
import { many, mm, plural } from '@/core/base/say'
import { resolveRegion } from '@/core/find/region'
import { patchesOf } from '@/core/fit/patches'
import { facetSolidOf, mostFaces } from '@/core/join/facet-solid'
import { bodyRef, angleDeg, lengthMm, newBody, regionRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { StepError } from '@/core/base/step-error'

export const facetSolid = defineStep({
  kind: 'convert/facet-solid',
  version: 2,
  title: 'Facet solid',
  order: 40,
  past: 'Made a facet solid of',
  group: 'Solid',
  standsFor: 'body',
  slow: true,
  facts: shown('faces', 'volume', { key: 'moved', label: 'Corners moved by at most', as: 'length' }),
  summary:
    'An exact solid with flat faces: triangles in one plane become one face, round runs stay facets; picked areas become one plane each.',
  settings: z.object({
    body: bodyRef('mesh', 'Mesh', { changes: false }),
    angle: angleDeg('One plane up to', { min: 0.001, max: 20 }).default(0.5),
    distance: lengthMm('Off the plane by at most', { min: 1e-6, max: 10 }).default(0.005),
    pick: toggle('Pick areas that are to be one plane').default(false),
    planes: regionRef('One plane each', { when: { field: 'pick', is: [true] } }).optional(),
    name: newBody('Name', { base: 'solid' }).default('solid'),
  }),
  async run({ settings: s, mesh, names, work }) {
    freeName(names, s.name)
    const body = mesh(s.body)
    if (!isMesh(body)) throw new StepError('wrong-kind', `"${s.body}" is no mesh.`)
    const told = s.pick && s.planes?.length ? patchesOf(body.mesh, resolveRegion(body.mesh, s.planes, body.tags)) : []
    const { solid, moved } = await facetSolidOf(s.body, body.mesh, { ...s, told, most: mostFaces }, work)
    const { faces, valid, volume } = solid.facts
    const closed = solid.kind === 'solid'
    return {
      bodies: { [s.name]: inColour(solid, body.colour) },
      facts: { faces, closed, valid, ...(closed ? { volume } : {}), moved, told: told.length },
      warnings: [
        ...(closed ? [] : [`"${s.body}" is open, so this is a sheet.`]),
        ...(faces > 20_000
          ? [`${many(faces)} faces: features on them take minutes. Simplify the mesh first where its shape allows.`]
          : []),
      ],
      said: `${plural(faces, 'face')} of ${plural(body.mesh.triangles.length / 3, 'triangle')}${moved > 1e-5 ? ` · corners moved by up to ${mm(moved, 4)}` : ''}`,
    }
  },
})
