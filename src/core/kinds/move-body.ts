/** Moves, turns, scales and mirrors bodies of any kind. */
import { isMesh, type Body } from '@/core/bodies/body'
import { transformSolid } from '@/core/kernels/exact/open-cascade'
import type { Affine } from '@/core/math/affine'
import { dot, type Vec3 } from '@/core/math/vec'
import { boundsSize, meshBounds, transformMesh, type Bounds } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'

/** A body under an affine map; exact bodies take only even scaling. */
export async function moveBody(body: Body, map: Affine): Promise<Body> {
  if (isMesh(body)) return { ...body, mesh: transformMesh(body.mesh, map) }
  const rows: Vec3[] = [
    [map[0], map[1], map[2]],
    [map[4], map[5], map[6]],
    [map[8], map[9], map[10]],
  ]
  const l = rows.map((r) => Math.hypot(...r))
  const skew = Math.max(
    Math.abs(dot(rows[0], rows[1])),
    Math.abs(dot(rows[1], rows[2])),
    Math.abs(dot(rows[0], rows[2])),
  )
  if (Math.max(...l) - Math.min(...l) > 1e-9 * Math.max(...l) || skew > 1e-9 * l[0] * l[0])
    throw new StepError(
      'uneven-scale',
      'An exact body can only be scaled evenly: its round faces would not stay round.',
      { tryThis: 'Use the same factor along x, y and z.' },
    )
  return transformSolid(body, map)
}

export function bodyBounds(body: Body): Bounds {
  if (isMesh(body)) return meshBounds(body.mesh)
  const { min, size } = body.facts
  return { min, max: [min[0] + size[0], min[1] + size[1], min[2] + size[2]] }
}

export const bodySize = (body: Body): Vec3 => boundsSize(bodyBounds(body))
