/** Adapter to the meshoptimizer library: simplification by quadric error (Garland & Heckbert 1997). */
import { MeshoptSimplifier } from 'meshoptimizer'
import { compact, diagonal, meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'

export interface SimplifyChoice {
  /** Triangles to end with; fewer collapses happen when the error bound is met first. */
  readonly triangles: number
  /** Greatest error the collapses may add up to, mm. */
  readonly error: number
  /** 1 for each vertex that must stay. */
  readonly locked?: Uint8Array
  readonly lockRims: boolean
}

/** Vertices that moved by no more than this share of the diagonal go back: on flat skin such moves are rounding, not shape. */
const noise = 3e-5

/**
 * A mesh with fewer triangles, and the error the quadrics tell of, mm. The vertices that are left are moved to where the quadrics are
 * least (Garland & Heckbert 1997), but locked ones and, with `lockRims`, those of rims.
 */
export async function simplifyQuadric(
  mesh: TriMesh,
  { triangles: wanted, error, locked, lockRims }: SimplifyChoice,
): Promise<{ mesh: TriMesh; error: number }> {
  await MeshoptSimplifier.ready
  const flags: ('LockBorder' | 'ErrorAbsolute')[] = lockRims ? ['LockBorder', 'ErrorAbsolute'] : ['ErrorAbsolute']
  // The library refuses to be asked for more than there is.
  const target = Math.min(mesh.triangles.length, 3 * Math.max(4, Math.floor(wanted)))
  const triangles = mesh.triangles.slice(),
    positions = mesh.positions.slice()
  const [count, told] = MeshoptSimplifier.simplifyWithUpdate(
    triangles,
    positions,
    3,
    new Float32Array(0),
    0,
    [],
    locked ?? null,
    target,
    error,
    flags,
  )
  const least = (noise * diagonal(meshBounds(mesh))) ** 2
  for (let v = 0; v < positions.length; v += 3) {
    const x = positions[v] - mesh.positions[v],
      y = positions[v + 1] - mesh.positions[v + 1],
      z = positions[v + 2] - mesh.positions[v + 2]
    if (x * x + y * y + z * z <= least) for (let a = 0; a < 3; a++) positions[v + a] = mesh.positions[v + a]
  }
  return { mesh: compact({ positions, triangles: triangles.subarray(0, count) }), error: told }
}
