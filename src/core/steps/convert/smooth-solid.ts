import { z } from 'zod'
import { many, mm, num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span } from '@/core/base/work'
import type { Facts } from '@/core/base/facts'
import { isCage, isNet, type Body } from '@/core/bodies/body'
import { cageOfNet } from '@/core/cage/cage-of-net'
import { throughPlaces } from '@/core/cage/fit-cage'
import { smoothBody } from '@/core/cage/smooth-body'
import { boundedBody } from '@/core/kernels/exact/bounded'
import { limitSkin } from '@/core/kinds/cage'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { quadTopology } from '@/core/mesh/quad-mesh'
import { deviation } from '@/core/gauge/deviation'
import type { Cage } from '@/core/subdivision/subdivide'
import { angleDeg, bodyRef, newBody } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { fineSkin } from './fine-skin'

/** More faces take the kernel minutes. */
const mostFaces = 12_000
/** Edges of neighbouring faces are the same curve; more than this apart is a fault, mm. */
const mostGap = 1e-3
/** Faces that meet at more than this along an edge that is no crease are told, degrees. */
const toldAngle = 1

function cageIn(name: string, body: Body, creaseAngle: number): Cage {
  if (isCage(body)) return body.cage
  if (isNet(body)) {
    if (quadTopology(body.net).twin.some((t) => t === -2))
      throw new StepError('not-manifold', `"${name}" has edges of more than two quads.`, { where: { body: name } })
    const made = cageOfNet(body.net, creaseAngle)
    // The surface runs through the points of a net.
    return throughPlaces(made, body.net.positions)
  }
  throw new StepError('wrong-kind', `"${name}" is neither a net nor a cage.`, {
    where: { body: name },
    tryThis: 'Make a net of it by Quad net.',
  })
}

/** How many faces of a cage have a surface that passes through another part of it. */
function crossedFaces(cage: Cage): number {
  const { mesh, face } = limitSkin(cage)
  return new Set(Array.from(findSelfCrossings(mesh), (t) => face[t])).size
}

export const smoothSolid = defineStep({
  kind: 'convert/smooth-solid',
  version: 3,
  title: 'Smooth solid',
  order: 62,
  past: 'Made a smooth body of',
  group: 'Freeform',
  standsFor: 'body',
  slow: true,
  facts: shown(
    'faces',
    { key: 'worstAngle', label: 'Worst angle between faces', as: 'angle' },
    'volume',
    { key: 'deviation.max', label: 'Off by at most', as: 'length' },
    { key: 'deviation.p95', label: '95 % within', as: 'length' },
  ),
  summary:
    'Makes B-spline faces of a cage or net, smooth across every edge that is no crease: a solid where it is closed, else a sheet.',
  subject: (s) => String(s.body),
  settings: z.object({
    body: bodyRef(['cage', 'net'], 'Cage or net', { changes: false }),
    name: newBody('Name', { base: 'smooth' }),
    creaseAngle: angleDeg('Sharp where a net bends by more than', { min: 1, max: 180, more: true }).default(45),
    scan: bodyRef(['mesh', 'solid', 'sheet'], 'Measured to', {
      changes: false,
      more: true,
      help: 'left empty: to the cage’s own surface, or the net',
    }).optional(),
  }),
  async run({ settings: s, body, surface, names, work }) {
    freeName(names, s.name)
    const from = body(s.body)
    const cage = cageIn(s.body, from, s.creaseAngle)
    const quads = cage.quads.length / 4
    if (!quads) throw new StepError('empty', `"${s.body}" holds no quads.`, { where: { body: s.body } })
    if (quads > mostFaces)
      throw new StepError(
        'too-many',
        `"${s.body}" has ${plural(quads, 'quad')}; ${plural(mostFaces, 'quad')} is the most for a smooth solid.`,
        {
          where: { body: s.body },
          tryThis: 'Make a coarser net first.',
        },
      )
    const smooth = smoothBody(cage, span(work, 0, 0.3))
    const made = await boundedBody(smooth.body, 'The smooth body', s.name, mostGap, span(work, 0.3, 0.8))
    if ('faulty' in made) throw made.why
    // Where it is folded the surface passes through itself, which the kernel does not look for.
    const crossing = crossedFaces(cage)
    const sound = !smooth.folded && !crossing
    const solid = sound ? made.body : { ...made.body, facts: { ...made.body.facts, valid: false } }
    const to = s.scan
      ? await fineSkin({ body, surface }, s.scan)
      : isNet(from)
        ? (await surface(s.body, 1)).mesh
        : limitSkin(cage).mesh
    const off = deviation(solid.display, to, undefined, span(work, 0.8, 1))
    const { both } = off
    const { facts } = solid
    return {
      bodies: { [s.name]: solid },
      facts: {
        faces: facts.faces,
        irregularFaces: smooth.irregular,
        closed: facts.closed,
        valid: facts.valid,
        worstAngle: smooth.worstAngle,
        foldedEdges: smooth.folded,
        crossingFaces: crossing,
        volume: facts.volume,
        deviation: both as unknown as Facts,
        histogram: off.histogram as unknown as Facts,
      },
      warnings: [
        ...(smooth.folded
          ? [
              `${plural(smooth.folded, 'edge')} of ${many(facts.edges)} ${smooth.folded === 1 ? 'is' : 'are'} folded over, by up to ${num(smooth.worstAngle, 0)}°: the body is not sound. Make a net without folded quads, or more of them.`,
            ]
          : smooth.worstAngle > toldAngle
            ? [
                `Faces meet at up to ${num(smooth.worstAngle, 1)}° along an edge that is no crease: the cage is folded or very uneven there.`,
              ]
            : []),
        ...(crossing
          ? [`The surface crosses itself on ${plural(crossing, 'face')} of the cage: the body is not sound.`]
          : []),
      ],
      said: `${plural(facts.faces, 'face')} · ${sound ? '' : 'not sound · '}${facts.closed ? 'closed' : 'open'} · worst angle ${num(smooth.worstAngle, 3)}° · off ${s.scan ? `"${s.scan}"` : isNet(from) ? 'the net' : 'the cage’s surface'} by at most ${mm(both.max, 3)}, 95 % within ${mm(both.p95, 3)}`,
    }
  },
})
