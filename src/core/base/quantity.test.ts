import { describe, expect, it } from '@jest/globals'
import { parseQuantity } from './quantity'

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
})
