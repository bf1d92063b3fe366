/** Tables of holes and heads beside the standards they are of. */
import { describe, expect, it } from '@jest/globals'
import { headOf, headSizes } from './heads'
import { holeFits, screwHoles, standardDiameter, standardHoles } from './standards'

describe('holes of screws', () => {
  // ISO 273:1979, table 1, fine, medium and coarse series; and the pitch of the coarse thread, ISO 261:1998 (both from memory).
  const table: Record<string, [number, number, number, number]> = {
    'M1.6': [1.7, 1.8, 2, 0.35],
    M2: [2.2, 2.4, 2.6, 0.4],
    'M2.5': [2.7, 2.9, 3.1, 0.45],
    M3: [3.2, 3.4, 3.6, 0.5],
    M4: [4.3, 4.5, 4.8, 0.7],
    M5: [5.3, 5.5, 5.8, 0.8],
    M6: [6.4, 6.6, 7, 1],
    M8: [8.4, 9, 10, 1.25],
    M10: [10.5, 11, 12, 1.5],
    M12: [13, 13.5, 14.5, 1.75],
    M16: [17, 17.5, 18.5, 2],
    M20: [21, 22, 24, 2.5],
  }
  it.each(Object.entries(table))(
    '%s has the three series, and a tap drill of its size less the pitch',
    (screw, row) => {
      const [fine, medium, coarse, pitch] = row
      for (const [fit, d] of [
        ['fine', fine],
        ['medium', medium],
        ['coarse', coarse],
      ] as const)
        expect(standardDiameter(`${screw} ${fit}`)).toBe(d)
      // Drills come in steps of a twentieth, from ten millimetres on of a tenth.
      const tap = standardDiameter(`${screw} tap`)!
      expect(Math.abs(tap - (Number(screw.slice(1)) - pitch))).toBeLessThanOrEqual(0.0501)
    },
  )
  it('grow with the screw and from fit to fit; each has its name once', () => {
    expect(screwHoles.map((s) => s.screw)).toEqual(Object.keys(table))
    screwHoles.forEach((s, i) => {
      expect(s.tap < s.fine && s.fine < s.medium && s.medium < s.coarse).toBe(true)
      if (i) for (const fit of holeFits) expect(s[fit]).toBeGreaterThan(screwHoles[i - 1][fit])
    })
    expect(new Set(standardHoles.map((h) => h.name)).size).toBe(4 * screwHoles.length)
    expect(standardDiameter('M7 medium')).toBeUndefined()
  })
})

it('heads are as high as their screw is thick, wider than its coarse hole, and found by the standard', () => {
  for (const h of headSizes) {
    const size = Number(h.screw.slice(1))
    // ISO 4762: the height of the head is the nominal diameter.
    expect(h.cap.height).toBe(size)
    expect(h.cap.diameter).toBeGreaterThan(standardDiameter(`${h.screw} coarse`)!)
    // ISO 10642: from M3 on 2.24 times the nominal diameter, at most (M16 is smaller).
    if (size >= 3 && size < 16) expect(h.countersunk).toBeCloseTo(2.24 * size, 9)
    if (h.insert) expect(h.insert.diameter).toBeGreaterThan(size)
    expect(headOf(`${h.screw} medium`)).toBe(h)
  }
  expect(headOf(undefined)).toBeUndefined()
  expect(headOf('M7 medium')).toBeUndefined()
})
