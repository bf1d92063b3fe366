/** Something exact near a hit that a click means: the centre of a bore, a corner, or a point of an edge. */
import { cross, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import type { Bore } from './bore'

export interface Snap {
  readonly kind: 'corner' | 'edge' | 'centre'
  readonly point: Vec3
}

export interface SnapPlace {
  readonly mesh: TriMesh
  /** The triangle that was hit, and where. */
  readonly triangle: number
  readonly point: Vec3
  /** How far a snap reaches, mm. */
  readonly reach: number
  /** The ray went just beside the body: distances are taken from the ray, and bores do not count. */
  readonly beside?: { readonly origin: Vec3; readonly direction: Vec3 }
  readonly bores?: readonly Bore[]
}

/** The middle of a bore's mouth. */
export const mouthOf = (b: Bore, end: -0.5 | 0.5): Vec3 => [
  b.centre[0] + end * b.depth * b.axis[0],
  b.centre[1] + end * b.depth * b.axis[1],
  b.centre[2] + end * b.depth * b.axis[2],
]

/** Whether a point lies on the rim of a bore's mouth, within `reach` mm. */
function onRim(point: Vec3, mouth: Vec3, b: Bore, reach: number): boolean {
  const d = sub(point, mouth)
  const along = dot(d, b.axis)
  const out = Math.sqrt(Math.max(0, dot(d, d) - along * along))
  return Math.abs(along) < reach && Math.abs(out - b.diameter / 2) < reach
}

/** Rims of bores stand for their middle, then corners, then edges (within half the reach). */
export function snapAt({ mesh, triangle, point, reach, beside, bores = [] }: SnapPlace): Snap | null {
  const { positions: p, triangles: k } = mesh
  const corner = (c: number): Vec3 => {
    const v = 3 * k[3 * triangle + c]
    return [p[v], p[v + 1], p[v + 2]]
  }
  const tri = [corner(0), corner(1), corner(2)]
  const away = beside
    ? (q: Vec3) => length(cross(sub(q, beside.origin), normalize(beside.direction)))
    : (q: Vec3) => length(sub(q, point))
  if (!beside)
    for (const b of bores)
      for (const end of [-0.5, 0.5] as const) {
        const mouth = mouthOf(b, end)
        if (onRim(point, mouth, b, reach)) return { kind: 'centre', point: mouth }
      }
  const near = tri.reduce((a, b) => (away(b) < away(a) ? b : a))
  if (away(near) < reach) return { kind: 'corner', point: near }
  for (let c = 0; c < 3; c++) {
    const a = tri[c],
      b = tri[(c + 1) % 3]
    const e = sub(b, a)
    const t = Math.max(0, Math.min(1, dot(sub(point, a), e) / (dot(e, e) || 1)))
    const q: Vec3 = [a[0] + t * e[0], a[1] + t * e[1], a[2] + t * e[2]]
    if (away(q) < (beside ? reach : reach / 2)) return { kind: 'edge', point: q }
  }
  return null
}
