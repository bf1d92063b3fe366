/** Adapter to the meshoptimizer library: simplification by quadric error (Garland & Heckbert 1997). */
import { MeshoptSimplifier } from 'meshoptimizer'
import { compact, type TriMesh } from '@/core/mesh/tri-mesh'

export interface SimplifyChoice {
  /** Triangles to end with; fewer collapses happen when the error bound is met first. */
  readonly triangles: number
  /** Greatest error the collapses may add up to, mm. */
  readonly error: number
  /** 1 for each vertex that must stay. */
  readonly locked?: Uint8Array
  readonly lockRims: boolean
}

/** A mesh with fewer triangles on a subset of its own vertices, and the error the quadrics tell of, mm. */
export async function simplifyQuadric(mesh: TriMesh, { triangles, error, locked, lockRims }: SimplifyChoice): Promise<{ mesh: TriMesh; error: number }> {
  await MeshoptSimplifier.ready
  const flags: ('LockBorder' | 'ErrorAbsolute')[] = lockRims ? ['LockBorder', 'ErrorAbsolute'] : ['ErrorAbsolute']
  const target = 3 * Math.max(4, Math.floor(triangles))
  const [index, told] = locked
    ? MeshoptSimplifier.simplifyWithAttributes(mesh.triangles, mesh.positions, 3, new Float32Array(0), 0, [], locked, target, error, flags)
    : MeshoptSimplifier.simplify(mesh.triangles, mesh.positions, 3, target, error, flags)
  return { mesh: compact({ positions: mesh.positions, triangles: index }), error: told }
}
