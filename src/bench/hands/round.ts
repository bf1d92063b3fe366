/** Dragged numbers fall on round values: free with Alt, ten times finer with Shift. */

/** The least of 1, 2, 5 times a power of ten that is not below `least`. */
export function niceStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(least, 1e-6)))
  return [1, 2, 5, 10].map((f) => f * power).find((s) => s >= least * (1 - 1e-9))!
}

const digits = (v: number) => Number(v.toFixed(6))

/** A length under the pointer, rounded to what some pixels (`pixel` mm each) can tell apart. */
export function roundLength(value: number, pixel: number, { shift, alt }: { shift: boolean; alt: boolean }): number {
  if (alt) return Number(value.toFixed(4))
  const step = niceStep(6 * pixel) / (shift ? 10 : 1)
  return digits(Math.round(value / step) * step)
}

/** An angle in degrees: to 5, with Shift to half a degree. */
export function roundAngle(value: number, { shift, alt }: { shift: boolean; alt: boolean }): number {
  if (alt) return Number(value.toFixed(3))
  const step = shift ? 0.5 : 5
  return digits(Math.round(value / step) * step)
}
