/** Section loops as drawable segments. */
import type { Section } from './slice'

/** Point pairs along all loops; closed ones run back to their start. */
export function sectionLines(loops: Section['loops']): Float32Array {
  let n = 0
  for (const l of loops) n += Math.max(0, l.points.length + (l.closed ? 0 : -3))
  const lines = new Float32Array(2 * n)
  let o = 0
  for (const l of loops)
    for (let i = 0; i < l.points.length; i += 3) {
      const last = i + 3 >= l.points.length
      if (last && !l.closed) break
      const j = last ? 0 : i + 3
      for (let c = 0; c < 3; c++) {
        lines[o + c] = l.points[i + c]
        lines[o + 3 + c] = l.points[j + c]
      }
      o += 6
    }
  return lines
}
