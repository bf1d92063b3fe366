/** Plane outlines as lists of corners. */
type Point = readonly [number, number] | readonly number[]

/** Whether a point lies inside a closed outline, by counting the edges a ray to the right crosses (even-odd rule; Shimrat 1962). */
export function insideOutline(outline: readonly Point[], q: Point): boolean {
  let inside = false
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const a = outline[i],
      b = outline[j]
    if (a[1] > q[1] !== b[1] > q[1] && q[0] < ((b[0] - a[0]) * (q[1] - a[1])) / (b[1] - a[1]) + a[0]) inside = !inside
  }
  return inside
}
