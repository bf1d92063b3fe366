import { z } from 'zod'
import { meshBody } from '@/core/bodies/body'
import { bodyRef, choice, lengthMm, percent } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, type Facts } from '@/core/step/step'
import { num } from '@/core/base/say'
import { faultCount, faultWords, holeCount, type CheckUpFacts } from '@/core/mesh/check-up'
import { loyaltyFacts, loyaltyWarning, loyaltyWords } from '@/core/prove/loyalty'
import { mendAll as mend } from '@/core/mend/mend-all'

/** "specks 214 → 0 · folds 23 → 1": only what was there before. */
export function changeWords(before: CheckUpFacts, after: CheckUpFacts, specks = 0): string {
  const rows: [string, number, number][] = [
    ['specks', specks, 0],
    ['holes', holeCount(before), holeCount(after)],
    ['folds', before.folded, after.folded],
    ['crossings', before.selfCrossings, after.selfCrossings],
    [
      'non-manifold',
      before.nonManifoldEdges + before.nonManifoldVertices,
      after.nonManifoldEdges + after.nonManifoldVertices,
    ],
    ['flipped', before.flippedEdges + before.insideOutPieces, after.flippedEdges + after.insideOutPieces],
    ['degenerate', before.degenerate + before.duplicates, after.degenerate + after.duplicates],
  ]
  const told = rows.filter(([, a, b]) => a || b).map(([word, a, b]) => `${word} ${a} → ${b}`)
  return told.length ? told.join(' · ') : 'nothing to mend'
}

export const mendAll = defineStep({
  kind: 'mend/all',
  version: 4,
  title: 'Mend all',
  order: 20,
  past: 'Mended',
  group: 'First',
  slow: true,
  facts: shown('specks', 'holesClosed', 'longestRimMm', 'kept', 'fresh', 'keptWithinMm'),
  takesBadNumbers: true,
  summary:
    'Welds, splits, faces outward, clears specks, closes holes and untangles, until one closed clean skin is left.',
  settings: z.object({
    body: bodyRef('mesh'),
    fill: choice('Close holes', ['smooth', 'flat'], { smooth: 'tangent', flat: 'flat' }).default('smooth'),
    specks: percent('Specks are below', { max: 99, help: 'of the area of the largest piece' }).default(1),
    weld: lengthMm('Weld within', { max: 100, help: 'Left empty: a 100 000th of the diagonal', more: true }).optional(),
  }),
  run({ settings: s, mesh, work }) {
    const m = mend(mesh(s.body).mesh, { speckShare: s.specks / 100, fill: s.fill, weldWithin: s.weld }, work)
    const left = faultCount(m.after)
    return Promise.resolve({
      bodies: { [s.body]: m.mesh === mesh(s.body).mesh ? mesh(s.body) : meshBody(m.mesh) },
      facts: {
        before: m.before,
        after: m.after,
        welded: m.welded,
        specks: m.specks,
        holesClosed: m.holesClosed,
        longestRimMm: m.longestRim,
        ...loyaltyFacts(m.loyalty),
      } as unknown as Facts,
      warnings: [
        ...loyaltyWarning(m.loyalty),
        ...(left
          ? [`Left: ${faultWords(m.after)}. Check-up shows where; try Untangle or remove the place and close the hole.`]
          : []),
      ],
      said: `${changeWords(m.before, m.after, m.specks)}${m.longestRim ? ` · longest rim ${num(m.longestRim, 1)} mm` : ''} · ${loyaltyWords(m.loyalty)}`,
    })
  },
})
