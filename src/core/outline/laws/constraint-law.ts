/** What one kind of constraint asks of a drawing. */
import type { Constraint } from '../constraint'
import { minus } from '../dual'
import type { Formula } from './formula'
import type { Measured, Terms } from './terms'

/** Zero where it holds, mm. */
export type Equation = Formula | Measured

export interface ConstraintLaw {
  /** What it takes, in words that go on after "needs". */
  readonly needs: string
  /** Its equations; null for points and curves that it cannot take. */
  equations(t: Terms, c: Constraint): readonly Equation[] | null
}

/** Two points are as far across (0), or up (1). */
export const level =
  (axis: 0 | 1, i: number, j: number): Formula =>
  (get) =>
    minus(get(2 * i + axis), get(2 * j + axis))

/** Two points are one. */
export const together = (i: number, j: number): Formula[] => [level(0, i, j), level(1, i, j)]
