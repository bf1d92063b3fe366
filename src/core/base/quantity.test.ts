import { describe, expect, it } from '@jest/globals'
import { isValueName, namesIn, parseQuantity } from './quantity'

describe('numbers as makers type them', () => {
  it.each([
    ['3.4', 3.4],
    ['3,4', 3.4],
    ['1/4 in', 6.35],
    ['25.4/2', 12.7],
    ['2*(3+1.5) mm', 9],
    ['1 in + 2 mm', 27.4],
    ['-3 cm', -30],
    ['.5', 0.5],
    ['1e2', 100],
    ['(1/2)"', 12.7],
    ['10 thou', 0.254],
  ])('%s is %d mm', (text, mm) => expect(parseQuantity(text, 'length')).toBeCloseTo(mm, 9))
  it.each(['', 'x', '3 4', '1/0', '2 in * 3 mm', '3 parsec', '(1'])('%s is no length', (text) =>
    expect(parseQuantity(text, 'length')).toBeNull(),
  )
  it('reads angles', () => expect(parseQuantity('-180/2', 'angle')).toBe(-90))
  // Inch, foot and thousandth by the international yard of 1959; the others by the SI.
  it.each([
    ['mm', 1],
    ['cm', 10],
    ['m', 1000],
    ['um', 0.001],
    ['µm', 0.001],
    ['in', 25.4],
    ['inch', 25.4],
    ['"', 25.4],
    ['ft', 304.8],
    ["'", 304.8],
    ['thou', 0.0254],
    ['mil', 0.0254],
  ])('one %s is %d mm, with or without a space', (unit, mm) => {
    expect(parseQuantity(`1${unit}`, 'length')).toBeCloseTo(mm, 12)
    expect(parseQuantity(`2 ${unit}`, 'length')).toBeCloseTo(2 * mm, 12)
  })
  it('reads degrees and radians, shares, and no unit of another kind', () => {
    expect(parseQuantity('90 deg', 'angle')).toBe(90)
    expect(parseQuantity('90°', 'angle')).toBe(90)
    expect(parseQuantity('1 rad', 'angle')).toBeCloseTo(180 / Math.PI, 12)
    expect(parseQuantity('50 %', 'plain')).toBe(50)
    expect(parseQuantity('3 mm', 'angle')).toBeNull()
    expect(parseQuantity('3 deg', 'length')).toBeNull()
  })
  it('a plain number takes the unit of what it is added to by itself only', () => {
    expect(parseQuantity('1 in + 1', 'length')).toBeCloseTo(26.4, 12)
    expect(parseQuantity('(1 + 1) in', 'length')).toBeCloseTo(50.8, 12)
    expect(parseQuantity('3/4 in * 2', 'length')).toBeCloseTo(38.1, 12)
    expect(parseQuantity('(1 in) mm', 'length')).toBeNull()
    expect(parseQuantity('2 in / 1 in', 'length')).toBeNull()
  })
  it('signs, brackets and the usual order of sums and products', () => {
    for (const [text, value] of [
      ['2+3*4', 14],
      ['(2+3)*4', 20],
      ['2-3-4', -5],
      ['24/3/2', 4],
      ['-(2-5)', 3],
      ['+-2', -2],
      ['2×3÷4', 1.5],
      ['−2', -2],
    ] as const)
      expect([text, parseQuantity(text, 'plain')]).toEqual([text, value])
  })
  it('named values stand for numbers; what has no value, or is called as a unit is, stands for none', () => {
    const named = (name: string) => ({ wall: 2, gap_2: 0.5 })[name]
    expect(parseQuantity('2*wall + gap_2 mm', 'length', named)).toBe(4.5)
    expect(parseQuantity('wall in', 'length', named)).toBeCloseTo(50.8, 12)
    expect(parseQuantity('2*width', 'length', named)).toBeNull()
    expect([isValueName('wall'), isValueName('mm'), isValueName('2a'), isValueName('a'.repeat(41))]).toEqual([
      true,
      false,
      false,
      false,
    ])
    expect(namesIn('2*wall + gap_2 mm - wall')).toEqual(['wall', 'gap_2'])
  })
})
