/** The face or edge under a ray, and what is drawn of it. */
import type { Body } from '@/core/bodies/body'
import { dot, length, sub, type Vec3 } from '@/core/math/vec'
import type { Part, PartSort } from './kind'
import { kindOf } from './registry'

export interface PointedPart {
  readonly sort: PartSort
  readonly part: Part
  /** Triangles of a face as corners, segments of an edge as point pairs. */
  readonly triangles: Float32Array
  readonly lines: Float32Array
}

const none = new Float32Array(0)

/** What is drawn of one face or edge of a body. */
export function drawPart(body: Body, sort: PartSort, index: number): Pick<PointedPart, 'triangles' | 'lines'> {
  const { skin, lines } = kindOf(body).draw(body)
  if (sort === 'face') {
    const out: number[] = []
    if (skin?.part)
      for (let t = 0; t < skin.part.length; t++)
        if (skin.part[t] === index)
          for (let c = 0; c < 3; c++) {
            const v = 3 * skin.triangles[3 * t + c]
            out.push(skin.positions[v], skin.positions[v + 1], skin.positions[v + 2])
          }
    return { triangles: Float32Array.from(out), lines: none }
  }
  const out: number[] = []
  if (lines?.part)
    for (let s = 0; s < lines.part.length; s++)
      if (lines.part[s] === index) out.push(...lines.points.subarray(6 * s, 6 * s + 6))
  return { triangles: none, lines: Float32Array.from(out) }
}

/** Distance between a ray and a segment, mm, and how far along the ray that is. */
export function raySegment(origin: Vec3, direction: Vec3, a: Vec3, b: Vec3): { off: number; along: number } {
  const u = sub(b, a),
    w = sub(a, origin)
  const uu = dot(u, u),
    ud = dot(u, direction),
    wu = dot(w, u),
    wd = dot(w, direction)
  const det = uu - ud * ud
  const t = Math.max(0, Math.min(1, det > 1e-12 * uu ? (ud * wd - wu) / det : 0))
  const q: Vec3 = [w[0] + t * u[0], w[1] + t * u[1], w[2] + t * u[2]]
  const along = dot(q, direction)
  return { along, off: length([q[0] - along * direction[0], q[1] - along * direction[1], q[2] - along * direction[2]]) }
}

/**
 * The part a ray (unit direction) points at: an edge within `reach` mm that is not hidden behind the hit, else the face that was hit.
 * `want` leaves only faces or only edges. `hit` is the ray's first hit on this body.
 */
export function pointedPart(
  body: Body,
  ray: { readonly origin: Vec3; readonly direction: Vec3 },
  hit: { readonly triangle: number; readonly distance: number } | null,
  reach: number,
  want: PartSort | 'any' = 'any',
): PointedPart | null {
  const kind = kindOf(body)
  if (!kind.parts) return null
  const { skin, lines } = kind.draw(body)
  if (want !== 'face' && lines?.part) {
    let best = -1,
      least = reach
    const p = lines.points
    for (let s = 0; s < lines.part.length; s++) {
      const { off, along } = raySegment(
        ray.origin,
        ray.direction,
        [p[6 * s], p[6 * s + 1], p[6 * s + 2]],
        [p[6 * s + 3], p[6 * s + 4], p[6 * s + 5]],
      )
      if (off < least && along > 0 && (!hit || along < hit.distance + 2 * reach)) {
        least = off
        best = lines.part[s]
      }
    }
    const part = best >= 0 ? kind.parts.list(body, 'edge')[best] : undefined
    if (part) return { sort: 'edge', part, ...drawPart(body, 'edge', best) }
  }
  if (want === 'edge' || !hit || !skin?.part) return null
  const index = skin.part[hit.triangle]
  const part = kind.parts.list(body, 'face')[index]
  return part ? { sort: 'face', part, ...drawPart(body, 'face', index) } : null
}

/** A part in a few words: "cylinder Ø 8", "edge, circle Ø 8". */
export function partWords(
  sort: PartSort,
  part: Pick<Part, 'shape' | 'radius' | 'length'>,
  say: (v: number) => string,
): string {
  const size =
    part.radius !== undefined
      ? ` Ø ${say(2 * part.radius)}`
      : sort === 'edge' && part.length
        ? ` ${say(part.length)} long`
        : ''
  return `${sort === 'edge' ? 'edge, ' : ''}${part.shape === 'bspline' ? 'free form' : part.shape}${size}`
}
