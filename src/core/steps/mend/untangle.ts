import { z } from 'zod'
import { bodyRef, choice, count } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { span } from '@/core/base/work'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { resolveCrossings, withinPieces } from '@/core/mend/resolve-crossings'
import { many, plural } from '@/core/base/say'
import { mendedPart } from './part'

export const untangle = defineStep({
  kind: 'mend/untangle',
  version: 4,
  title: 'Untangle',
  order: 90,
  past: 'Untangled',
  group: 'Skin',
  slow: true,
  facts: shown(
    'removed',
    { key: 'cut', label: 'Cut', as: 'count' },
    'crossingsBefore',
    'crossingsAfter',
    'kept',
    'fresh',
  ),
  summary:
    'Cuts shells along their crossings and keeps what bounds the solid; small tangles go with a ring round them and are filled anew.',
  settings: z.object({
    body: bodyRef('mesh'),
    rounds: count('Rounds', { min: 1, max: 30, more: true }).default(8),
    pieces: choice('Pieces that cross', ['unite', 'apart'], { unite: 'united', apart: 'kept apart' }).default('unite'),
  }),
  run({ settings: s, mesh, work }) {
    const apart = s.pieces === 'apart'
    const u = resolveCrossings(mesh(s.body).mesh, { rounds: s.rounds, apart }, span(work, 0, 0.9))
    const left = u.after === null ? findSelfCrossings(u.mesh, span(work, 0.9, 1)) : null
    const after = left ? (apart ? withinPieces(u.mesh, left) : left).length / 2 : u.after!
    const out = mendedPart(s.body, mesh(s.body), u.mesh, {
      said: u.before
        ? `crossings ${u.before} → ${after}${u.cut ? ` · cut along ${many(u.cut)} triangles` : ''}`
        : 'no crossings',
      united: u.united,
      facts: { crossingsBefore: u.before, crossingsAfter: after, removed: u.removed, cut: u.cut },
    })
    return Promise.resolve(
      after
        ? {
            ...out,
            warnings: [
              ...(out.warnings ?? []),
              `${plural(after, 'crossing')} left: only closed pieces that run one way round can be cut along. Close holes and Face outward first, or trim open sheets against each other.`,
            ],
          }
        : out,
    )
  },
})
