/** Places in the map of a net that are not known yet: sums of unknowns, each times a complex number. */

/** Number of the unknown, real part, imaginary part, for each summand. */
export type Form = readonly (readonly [number, number, number])[]

/** Powers of i. */
export const powers: readonly (readonly [number, number])[] = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
]
/** Quarter turns within one turn, 0 to 3. */
export const mod4 = (quarters: number): number => ((quarters % 4) + 4) % 4

/** A form times a complex number. */
export const times = (f: Form, real: number, imaginary: number): Form =>
  f.map(([k, x, y]) => [k, x * real - y * imaginary, x * imaginary + y * real])
/** A form turned by quarter turns. */
export const turned = (f: Form, quarters: number): Form => (mod4(quarters) ? times(f, ...powers[mod4(quarters)]) : f)
/** Sum of two forms, the second times a number. */
export function plus(f: Form, g: Form, factor = 1): Form {
  if (!f.length && factor === 1) return g
  const out = new Map(f.map(([k, x, y]) => [k, [x, y] as [number, number]]))
  for (const [k, x, y] of g) {
    const known = out.get(k)
    if (!known) out.set(k, [factor * x, factor * y])
    else {
      known[0] += factor * x
      known[1] += factor * y
      if (Math.abs(known[0]) < 1e-9 && Math.abs(known[1]) < 1e-9) out.delete(k)
    }
  }
  return [...out].map(([k, [x, y]]) => [k, x, y])
}
