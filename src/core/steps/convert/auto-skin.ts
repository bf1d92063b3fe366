import { z } from 'zod'
import { mm, num, percentText, plural } from '@/core/base/say'
import { span } from '@/core/base/work'
import type { Facts } from '@/core/base/facts'
import { autoSkin as skinned } from '@/core/cage/auto-skin'
import { smoothBody } from '@/core/cage/smooth-body'
import { boundedBody } from '@/core/kernels/exact/bounded'
import { sizeOf } from '@/core/kinds/registry'
import { splitLong } from '@/core/mesh/split-long'
import { deviation } from '@/core/gauge/deviation'
import { angleDeg, bodyRef, count, lengthMm, newBody, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { fineSkin } from './fine-skin'
import { manifoldSkin } from './manifold-skin'

/** Edges of neighbouring faces are the same curve; more than this apart is a fault, mm. */
const mostGap = 1e-3
/** Longer edges than this share of the body's size are divided first. */
const longestShare = 1 / 60

export const autoSkin = defineStep({
  kind: 'convert/auto-skin',
  version: 3,
  title: 'Auto skin',
  order: 64,
  past: 'Skinned',
  group: 'Freeform',
  standsFor: 'body',
  slow: true,
  facts: shown(
    'faces',
    { key: 'quads', label: 'Quads under it', as: 'count' },
    { key: 'worstAngle', label: 'Worst angle between faces', as: 'angle' },
    { key: 'deviation.max', label: 'Off by at most', as: 'length' },
    { key: 'deviation.p95', label: '95 % within', as: 'length' },
    { key: 'beyond', label: 'Out of tolerance', as: 'share', some: true },
  ),
  summary:
    'A smooth B-spline solid of a whole closed mesh, or a sheet of an open one, at a tolerance: with more and finer faces where the last lay off.',
  subject: (s) => String(s.body),
  settings: z.object({
    body: bodyRef(['mesh', 'solid', 'sheet'], 'Body', { changes: false }),
    tolerance: lengthMm('Tolerance', { min: 1e-4 }).default(0.1),
    hardEdges: toggle('Keep hard edges').default(false),
    hardAngle: angleDeg('Hard is above', { min: 5, max: 175, when: { field: 'hardEdges', is: [true] } }).default(40),
    first: count('Quads to begin with', { min: 24, max: 6000, more: true }).default(250),
    most: count('Quads at most', { min: 24, max: 12_000, more: true }).default(4000),
    name: newBody('Name', { base: 'skin' }),
  }),
  async run({ settings: s, body, surface, names, work }) {
    freeName(names, s.name)
    const size = Math.hypot(...sizeOf(body(s.body))) || 1
    const whole = splitLong(await fineSkin({ body, surface }, s.body), size * longestShare)
    const { mesh, warnings } = manifoldSkin(s.body, whole)
    const skin = await skinned(
      mesh,
      {
        within: s.tolerance,
        first: Math.min(s.first, s.most),
        most: s.most,
        hardAngle: s.hardEdges ? s.hardAngle : null,
      },
      span(work, 0, 0.75),
    )
    const smooth = smoothBody(skin.cage, span(work, 0.75, 0.85))
    const made = await boundedBody(smooth.body, 'The skin', s.name, mostGap, span(work, 0.85, 0.95))
    if ('faulty' in made) throw made.why
    const { facts, display } = made.body
    const off = deviation(display, whole, { tolerance: s.tolerance }, span(work, 0.95, 1))
    const { both } = off
    if (skin.max > s.tolerance)
      warnings.push(
        `${percentText(skin.beyond)} of the places of "${s.body}" lie farther off than ${num(s.tolerance, 4)} mm, the worst by ${mm(skin.max, 3)} at ${skin.at.map((v) => num(v, 1)).join(', ')}: allow more quads, or a larger tolerance.`,
      )
    const quads = skin.cage.quads.length / 4
    return {
      bodies: { [s.name]: made.body },
      facts: {
        faces: facts.faces,
        quads,
        tries: skin.tries,
        closed: facts.closed,
        valid: facts.valid,
        worstAngle: smooth.worstAngle,
        volume: facts.volume,
        beyond: skin.max > s.tolerance ? skin.beyond : 0,
        // The map shows how far the body lies off its skin.
        against: s.name,
        tolerance: s.tolerance,
        deviation: both as unknown as Facts,
        histogram: off.histogram as unknown as Facts,
      },
      warnings,
      said: `${plural(facts.faces, 'face')} · ${facts.closed ? 'closed' : 'open'} · off "${s.body}" by at most ${mm(both.max, 3)}, 95 % within ${mm(both.p95, 3)}`,
    }
  },
})
