/** What constraints and dimensions ask of a drawing, as equations: each is zero where it holds, in mm, with its derivatives. */
import { StepError } from '@/core/base/step-error'
import { constraintWords, dimensionWords, type Constraint, type Dimension } from '../constraint'
import { pointsOf, type Drawing } from '../drawing'
import { by, minus, shift } from '../dual'
import { numbersOfCurve, withNumbers, type Unknowns } from '../unknowns'
import type { Equation } from './constraint-law'
import type { Figure } from './dimension-law'
import { formulaLaw, measuredLaw, size, sub, type Law, type Owner } from './formula'
import { inRange } from './in-range'
import { constraintLaws, dimensionLaws } from './registry'
import { Terms } from './terms'

export interface Laws {
  readonly unknowns: Unknowns
  /** Arcs first, then constraints, then dimensions, each in its order. */
  readonly laws: readonly Law[]
  /** Numbers that keep their value. */
  readonly held: ReadonlySet<number>
}

/**
 * The laws of a drawing. `values`: what each dimension is to be, mm or degrees; null for one that is only measured.
 * Throws StepError `bad-drawing` for a number that names nothing, `bad-constraint` for points and curves that a constraint cannot take.
 */
export function lawsOf(d: Drawing, values: readonly (number | null)[]): Laws {
  inRange(d)
  const t = new Terms(d)
  const held = new Set<number>()
  d.constraints?.forEach((c) => {
    if (c.kind !== 'fixed') return
    for (const p of c.points) held.add(2 * p).add(2 * p + 1)
    for (const i of c.curves) for (const k of numbersOfCurve(d, t.unknowns, i, pointsOf(d.curves[i]))) held.add(k)
  })
  return {
    unknowns: t.unknowns,
    held,
    laws: [
      ...arcLaws(t),
      ...(d.constraints ?? []).flatMap((c, index) =>
        equationsOf(t, c, index).map((e) => lawOf(t, { of: 'constraint', index }, e)),
      ),
      ...(d.dimensions ?? []).flatMap((c, index) => {
        const figure = figureOf(t, c, index) // it is checked even where it is only measured
        const value = values[index]
        return value === null || value === undefined ? [] : [dimensionLaw(t, c, index, figure, value)]
      }),
    ],
  }
}

/** What each dimension measures on the drawing as it stands, mm or degrees. */
export function measuresOf(d: Drawing): number[] {
  inRange(d)
  const t = new Terms(d)
  return (d.dimensions ?? []).map((c, i) => {
    const figure = figureOf(t, c, i)
    const now = typeof figure === 'function' ? t.now(figure) : figure.measure(d)
    return c.kind === 'angle' ? (now * 180) / Math.PI : now
  })
}

/** Whether a constraint or dimension can take these points and curves. */
export function canHold(d: Drawing, what: Constraint | Dimension): boolean {
  const t = new Terms(d)
  try {
    const found =
      what.kind in constraintWords
        ? constraintLaws[(what as Constraint).kind].equations(t, what as Constraint)
        : dimensionLaws[(what as Dimension).kind].figure(t, what as Dimension)
    return found !== null
  } catch {
    return false
  }
}

const refusal = (what: string, needs: string) =>
  new StepError('bad-constraint', `${what}, needs ${needs}.`, {
    tryThis: 'Name other points or curves, or leave it out.',
  })

function equationsOf(t: Terms, c: Constraint, index: number): readonly Equation[] {
  const { needs, equations } = constraintLaws[c.kind]
  const found = equations(t, c)
  if (!found) throw refusal(`Constraint ${index + 1}, ${constraintWords[c.kind]}`, needs)
  return found
}

function figureOf(t: Terms, c: Dimension, index: number): Figure {
  const { needs, figure } = dimensionLaws[c.kind]
  const found = figure(t, c)
  if (!found) throw refusal(`Dimension ${index + 1}, ${dimensionWords[c.kind]}`, needs)
  return found
}

/** `off`: taken from what is measured. */
function lawOf(t: Terms, owner: Owner, e: Equation | Figure, off = 0): Law {
  if (typeof e === 'function') return formulaLaw(owner, off ? (g) => shift(e(g), -off) : e, t.numbers)
  return measuredLaw(owner, [...new Set(e.numbers)], (x) => e.measure(withNumbers(t.drawing, t.unknowns, x)) - off)
}

/** Both ends of an arc lie as far from its centre. */
function arcLaws(t: Terms): Law[] {
  return t.drawing.curves.flatMap((c, index) =>
    c.kind === 'arc'
      ? lawOf(t, { of: 'arc', index }, (g) =>
          minus(size(sub(t.point(g, c.from), t.point(g, c.centre))), size(sub(t.point(g, c.to), t.point(g, c.centre)))),
        )
      : [],
  )
}

/** `value`: mm or degrees. */
function dimensionLaw(t: Terms, c: Dimension, index: number, figure: Figure, value: number): Law {
  const owner: Owner = { of: 'dimension', index }
  if (c.kind !== 'angle' || typeof figure !== 'function') return lawOf(t, owner, figure, value)
  return formulaLaw(
    owner,
    (g) => {
      // The nearest of the turns that come to the same.
      const off = shift(figure(g), (-value * Math.PI) / 180)
      return by(shift(off, -2 * Math.PI * Math.round(off.v / (2 * Math.PI))), t.reach)
    },
    t.numbers,
  )
}
