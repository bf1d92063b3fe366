/** A line or outline drawn in a view, and the surface it sweeps through the model along the lines of sight. */
import { z } from 'zod'
import { triple } from './triple'
import { add, cross, dot, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import type { Bounds, TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'

/** Corners in model space on a plane in front of the view; `eye` for a view in perspective, none for a parallel one. */
export const viewLineSchema = z
  .object({ eye: triple.optional(), toward: triple, line: z.array(triple).min(2).max(2000) })
  .strict()
export type ViewLine = z.output<typeof viewLineSchema>

/** Corners that stand still carry nothing. */
function tidy(line: readonly Vec3[]): Vec3[] {
  const out: Vec3[] = []
  for (const p of line) if (!out.length || Math.hypot(...sub(p, out[out.length - 1])) > 1e-9) out.push(p)
  return out
}

/**
 * The swept surface as a mesh, long enough to pass right through `bounds`; its normals point to the left of the line as drawn.
 * A line is carried on straight beyond its ends. An outline becomes a tube round it, normals inward when drawn counter-clockwise; so
 * does all that lies to the left of a line.
 */
export function sweepViewLine(view: ViewLine, bounds: Bounds, how: 'line' | 'outline' | 'left-of-line'): TriMesh {
  const closed = how === 'outline'
  const toward = normalize(view.toward)
  let line = tidy(view.line)
  if (closed && line.length > 2 && Math.hypot(...sub(line[0], line[line.length - 1])) < 1e-9) line = line.slice(0, -1)
  if (line.length < (closed ? 3 : 2))
    throw new StepError('short-line', closed ? 'An outline needs three corners.' : 'A line needs two points.', {
      tryThis: 'Draw it across the body.',
    })
  const corners: Vec3[] = []
  for (let c = 0; c < 8; c++)
    corners.push([
      c & 1 ? bounds.max[0] : bounds.min[0],
      c & 2 ? bounds.max[1] : bounds.min[1],
      c & 4 ? bounds.max[2] : bounds.min[2],
    ])
  const size = Math.hypot(...sub(bounds.max, bounds.min)) || 1
  const depths = corners.map((c) => dot(view.eye ? sub(c, view.eye) : c, toward))
  const near = Math.min(...depths) - 0.05 * size,
    far = Math.max(...depths) + 0.05 * size
  if (view.eye && far <= 0)
    throw new StepError('behind', 'The body lies behind the view that the line was drawn in.', {
      tryThis: 'Draw the line again.',
    })
  /** Point of the line of sight through p at a depth. */
  const at = (p: Vec3, depth: number): Vec3 => {
    if (!view.eye) return add(p, scale(toward, depth - dot(p, toward)))
    const d = sub(p, view.eye)
    const z = dot(d, toward)
    if (!(z > 1e-12))
      throw new StepError('behind', 'A corner of the line lies behind the view.', { tryThis: 'Draw the line again.' })
    return add(view.eye, scale(d, Math.max(depth, 1e-3 * size) / z))
  }
  if (!closed) {
    // Carried on beyond both ends by more than the model is wide as seen there.
    const reach = 4 * size
    const first = sub(line[0], line[1]),
      last = sub(line[line.length - 1], line[line.length - 2])
    const stretch = (p: Vec3, d: Vec3): Vec3 => {
      const l = Math.hypot(...d)
      const z = view.eye ? dot(sub(p, view.eye), toward) / Math.max(far, 1e-9) : 1
      return add(p, scale(d, (reach * Math.max(z, 1e-6)) / l))
    }
    line = [stretch(line[0], first), ...line, stretch(line[line.length - 1], last)]
    if (how === 'left-of-line') {
      const from = line[0],
        to = line[line.length - 1]
      const left = cross(sub(to, from), toward)
      line = [...line, add(to, left), add(from, left)]
    }
  }
  const tube = how !== 'line'
  const positions: number[] = [],
    triangles: number[] = []
  for (const p of line) positions.push(...at(p, near), ...at(p, far))
  const n = line.length
  for (let i = 0; i + (tube ? 0 : 1) < n; i++) {
    const a = 2 * i,
      b = 2 * ((i + 1) % n)
    triangles.push(a, b, b + 1, a, b + 1, a + 1)
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
}
