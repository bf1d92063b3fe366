import { z } from 'zod'
import { mm, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span } from '@/core/base/work'
import type { Facts } from '@/core/base/facts'
import { cageBody, isMesh, isNet, type Body } from '@/core/bodies/body'
import { cageOfNet, netOfPairs } from '@/core/cage/cage-of-net'
import { fitCage } from '@/core/cage/fit-cage'
import { limitSkin } from '@/core/kinds/cage'
import { quadCount, quadTopology, type QuadMesh } from '@/core/mesh/quad-mesh'
import { Ground } from '@/core/net/relax-quads'
import { deviation } from '@/core/gauge/deviation'
import { angleDeg, bodyRef, newBody, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { fineSkin } from './fine-skin'

/** More faces are no cage to work on by hand. */
const mostFaces = 50_000

function netIn(name: string, body: Body): QuadMesh {
  const net = isNet(body) ? body.net : isMesh(body) ? netOfPairs(body.mesh.positions, body.mesh.triangles) : null
  if (!net)
    throw new StepError('no-quads', `"${name}" is no net, nor a mesh whose triangles pair up to quads.`, {
      where: { body: name },
      tryThis: 'Make a net of it by Quad net.',
    })
  if (!quadCount(net))
    throw new StepError('empty', `"${name}" holds no quads.`, { where: { body: name }, tryThis: 'Pick another body.' })
  if (quadTopology(net).twin.some((t) => t === -2))
    throw new StepError('not-manifold', `"${name}" has edges of more than two quads.`, { where: { body: name } })
  if (quadCount(net) > mostFaces)
    throw new StepError(
      'too-many',
      `"${name}" has ${plural(quadCount(net), 'quad')}; a cage has ${plural(mostFaces, 'face')} at most.`,
      {
        where: { body: name },
        tryThis: 'Make a coarser net first.',
      },
    )
  return net
}

export const cage = defineStep({
  kind: 'convert/cage',
  version: 1,
  title: 'Cage',
  order: 61,
  past: 'Made a cage of',
  group: 'Freeform',
  standsFor: 'body',
  slow: true,
  facts: shown(
    'faces',
    { key: 'creases', label: 'Creased edges', as: 'count', some: true },
    { key: 'deviation.max', label: 'Off by at most', as: 'length' },
    { key: 'deviation.p95', label: '95 % within', as: 'length' },
    { key: 'deviation.rms', label: 'Rms', as: 'length' },
  ),
  summary:
    'Makes the control net of a smooth surface from a net of quads; on wish the surface runs through a scan, and its distance is told.',
  subject: (s) => String(s.body),
  settings: z.object({
    body: bodyRef(['net', 'mesh'], 'Net', { changes: false }),
    name: newBody('Name', { base: 'cage' }),
    through: toggle('Run through the scan').default(false),
    scan: bodyRef(['mesh', 'solid', 'sheet'], 'Scan', {
      changes: false,
      help: 'the body that the distance is measured to',
    }).optional(),
    creaseAngle: angleDeg('Sharp where it bends by more than', {
      min: 1,
      max: 180,
      help: 'left empty: nowhere but at rims',
    }).optional(),
  }),
  async run({ settings: s, body, surface, names, work }) {
    freeName(names, s.name)
    const net = netIn(s.body, body(s.body))
    if (s.through && !s.scan)
      throw new StepError('no-scan', 'No scan is chosen to run through.', { tryThis: 'Pick the scan.' })
    let made = cageOfNet(net, s.creaseAngle ?? null)
    const scan = s.scan ? await fineSkin({ body, surface }, s.scan) : null
    if (s.through && scan) made = fitCage(made, new Ground(scan), span(work, 0, 0.8))
    const off = scan ? deviation(limitSkin(made).mesh, scan, undefined, span(work, 0.8, 1)) : null
    const faces = made.quads.length / 4
    return {
      bodies: { [s.name]: cageBody(made) },
      facts: {
        faces,
        creases: made.creases.size,
        closed: quadTopology(net).closed,
        ...(off ? { deviation: off.both as unknown as Facts, histogram: off.histogram as unknown as Facts } : {}),
      },
      said: `${plural(faces, 'face')}${made.creases.size ? ` · ${plural(made.creases.size, 'creased edge')}` : ''}${off ? ` · off "${s.scan}" by at most ${mm(off.both.max, 3)}, 95 % within ${mm(off.both.p95, 3)}, rms ${mm(off.both.rms, 4)}` : ''}`,
    }
  },
})
