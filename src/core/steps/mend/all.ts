import { z } from 'zod'
import type { Vec3 } from '@/core/math/vec'
import { meshBody } from '@/core/bodies/body'
import { bodyRef, choice, lengthMm, percent, points } from '@/core/step/fields'
import { shown, shownIfAny } from '@/core/step/facts'
import { defineStep, type Facts } from '@/core/step/step'
import { many, num, plural } from '@/core/base/say'
import { faultCount, faultWords, holeCount } from '@/core/mesh/check-up'
import { loyaltyFacts, loyaltyWarning, loyaltyWords, mostLost } from '@/core/gauge/loyalty'
import { mendAll as mend, type Mended } from '@/core/mend/mend-all'

/** "specks 214 → 0 · folds 23 → 1": only what was there before. Borders of open sheets are no holes. */
function changeWords(m: Mended): string {
  const { before, after } = m
  const rows: [string, number, number][] = [
    ['specks', m.specks, 0],
    ['doubled skins', m.doubled, 0],
    ['holes', Math.max(0, holeCount(before) - m.bordersBefore), Math.max(0, holeCount(after) - m.borders)],
    ['borders', m.bordersBefore, m.borders],
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
  const told = rows
    .filter(([word, a, b]) => (word === 'borders' ? a > b : a || b))
    .map(([word, a, b]) => `${word} ${a} → ${b}`)
  return told.length ? told.join(' · ') : 'nothing to mend'
}

/** What is left beyond what stays by choice: borders of open sheets, crossings of pieces kept apart. */
function leftWords(m: Mended): string | null {
  const { after } = m
  const inner = {
    ...after,
    openEdges: Math.max(0, after.openEdges - m.borderEdges),
    // Borders are the longest rims, and those come first.
    holes: after.holes.slice(m.borders),
    selfCrossings: after.selfCrossings - m.between,
  }
  return faultCount(inner) ? faultWords(inner) : null
}

const percentText = (share: number) => `${num(100 * share, 1)} %`

export const mendAll = defineStep({
  kind: 'mend/all',
  version: 8,
  title: 'Mend all',
  order: 20,
  past: 'Mended',
  group: 'First',
  slow: true,
  facts: [
    ...shown({ key: 'seen', label: 'Seen', as: 'count' }),
    ...shownIfAny('specks', 'holesClosed', 'longestRimMm'),
    ...shown('kept', 'fresh'),
    ...shownIfAny('inside'),
    ...shown('keptWithinMm'),
  ],
  takesBadNumbers: true,
  summary:
    'Sees what the mesh is made of and mends every piece as that. What is sound stays where it is; open sheets stay open at their border.',
  settings: z.object({
    body: bodyRef('mesh'),
    fill: choice('Close holes', ['smooth', 'flat'], { smooth: 'tangent', flat: 'flat' }).default('smooth'),
    specks: percent('Specks are below', {
      max: 99,
      help: 'of the area of the largest piece; closed pieces below a third of it',
    }).default(1),
    border: choice('Border of open sheets', ['open', 'close'], { open: 'stays open', close: 'closed too' }).default(
      'open',
    ),
    closeAt: points('Borders to close all the same', {
      pick: 'rims',
      help: 'of those that stay open',
      when: { field: 'border', is: ['open'] },
    }).default([]),
    pieces: choice('Pieces that cross', ['unite', 'apart'], { unite: 'united', apart: 'kept apart' }).default('unite'),
    weld: lengthMm('Weld within', { max: 100, help: 'Left empty: a 100 000th of the diagonal', more: true }).optional(),
  }),
  run({ settings: s, mesh, work }) {
    const m = mend(
      mesh(s.body).mesh,
      {
        speckShare: s.specks / 100,
        fill: s.fill,
        weldWithin: s.weld,
        closeBorder: s.border === 'close',
        closeAt: s.closeAt as Vec3[],
        keepApart: s.pieces === 'apart',
      },
      work,
    )
    const left = leftWords(m)
    return Promise.resolve({
      bodies: { [s.body]: m.mesh === mesh(s.body).mesh ? mesh(s.body) : meshBody(m.mesh) },
      facts: {
        before: m.before,
        after: m.after,
        seen: m.seen,
        welded: m.welded,
        specks: m.specks,
        speckShare: m.speckShare,
        doubled: m.doubled,
        plates: m.plates,
        cut: m.cut,
        holesClosed: m.holesClosed,
        longestRimMm: m.longestRim,
        borderEdges: m.borderEdges,
        bordersLeft: m.left,
        between: m.between,
        ...loyaltyFacts(m.loyalty),
      } as unknown as Facts,
      warnings: [
        ...loyaltyWarning(m.loyalty),
        ...(m.speckShare > mostLost
          ? [
              `The specks it cleared hold ${percentText(m.speckShare)} of the skin. Set "Specks are below" lower to keep them.`,
            ]
          : []),
        ...(left ? [`Left: ${left}. Check-up shows where; try Untangle or remove the place and close the hole.`] : []),
        ...(m.refused
          ? [
              `${plural(m.refused, 'border')} could not be closed: something stands in the way. Close it by hand, in parts.`,
            ]
          : []),
        ...(m.between ? [`${many(m.between)} crossings between pieces that were kept apart.`] : []),
      ],
      said: [
        changeWords(m),
        ...(m.longestRim ? [`longest rim ${num(m.longestRim, 1)} mm`] : []),
        ...(m.plates ? [m.plates === 1 ? 'two sides joined to a plate' : `sides joined to ${m.plates} plates`] : []),
        ...(m.borderEdges ? [`${plural(m.left.length, 'border')} left open, ${many(m.borderEdges)} edges`] : []),
        loyaltyWords(m.loyalty),
      ].join(' · '),
    })
  },
})
