/** What rows of places are traced as, kept as figures: any change to it shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import type { Place } from '@/core/outline/drawing'
import { digest, outcome } from '@/testing/digest'
import { chords, notched, rounded, scoop, slot } from '@/testing/profiles'
import { fitEllipse, geometricCircle } from './fits'
import { leanSpline } from './lean-spline'
import { corners } from './rows'
import { turnsOf } from './runs'
import { fitStretch, nearestPlace, stretchOf } from './stretch'
import { trace } from './trace'

const wave: Place[] = Array.from({ length: 60 }, (_, i): Place => [0.5 * i, 3 * Math.sin(0.2 * i) + 0.02 * i * i])
const oval: Place[] = Array.from({ length: 50 }, (_, i): Place => {
  const a = (2 * Math.PI * i) / 50
  return [9 * Math.cos(a) - 0.3 * Math.sin(a), 4 * Math.sin(a) + 2]
})
const rows: Record<string, { places: Place[]; closed: boolean }> = {
  slot: { places: chords(slot(30, 6)), closed: true },
  'a noisy slot': { places: chords(slot(30, 6), { noise: 0.02, seed: 5 }), closed: true },
  rounded: { places: chords(rounded(40, 25, 4), { chord: 0.1 }), closed: true },
  notched: { places: chords(notched, { noise: 0.01, seed: 2 }), closed: true },
  scoop: { places: chords(scoop), closed: true },
  wave: { places: wave, closed: false },
  oval: { places: oval, closed: true },
}
const all = (t: number) => ({ line: t, arc: t, circle: t, ellipse: t, spline: t })

describe.each(Object.keys(rows))('%s', (name) => {
  const row = rows[name]
  it('traced with some curves and others, and by stretches', () => {
    const { places, closed } = row
    expect(
      digest([
        ...[0.02, 0.1, 0.5].map((t) => trace([row], all(t))),
        trace([row], { line: 0.05 }),
        trace([row], { line: 0.05, arc: 0.05 }),
        trace([row], { spline: 0.05 }),
        outcome(() => trace([row], { circle: 0.2, ellipse: 0.2 })),
        leanSpline(places, closed, 0.1),
        turnsOf(places, closed),
        corners(row, 0.01),
        nearestPlace(row, [10, 3]),
        ...[true, false].map((long) => stretchOf(row, 3, 20, long)),
        ...(['line', 'arc', 'circle', 'ellipse', 'spline'] as const).map((kind) =>
          outcome(() => fitStretch(places.slice(0, 18), kind as never, 0.1)),
        ),
        fitEllipse(places),
        geometricCircle(places.slice(0, 15), { centre: [10, 3], radius: 6 } as never),
      ]),
    ).toMatchSnapshot()
  })
})
