/** The triangles of any body, exact ones fine enough to measure to. */
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { sizeOf } from '@/core/kinds/registry'
import type { Bench } from '@/core/step/step'

/** Exact bodies are faceted to this share of their size. */
const chordShare = 5e-4

export async function fineSkin({ body, surface }: Pick<Bench, 'body' | 'surface'>, name: string): Promise<TriMesh> {
  return (await surface(name, chordShare * (Math.hypot(...sizeOf(body(name))) || 1))).mesh
}
