/** Boolean of closed meshes as every subject uses it: the library's result, free of the needles that rounding leaves. */
import { booleanOf, type CsgInput, type CsgKind, type CsgResult } from '@/core/kernels/manifold'
import { findDegenerate } from '@/core/mesh/defects'
import { overlapping } from './contacts'
import { removeDegenerate } from '@/core/mend/slivers'

export type { CsgInput, CsgKind, CsgResult }

/**
 * Boolean of closed meshes; difference takes all later ones from the first. With `mergeFlat`, flat areas are triangulated anew and the
 * triangle numbers mean nothing. Throws StepError `not-closed` or `inside-out` naming the input that is no solid.
 */
export async function csg(
  kind: CsgKind,
  inputs: readonly CsgInput[],
  options: { mergeFlat?: boolean } = {},
): Promise<CsgResult> {
  const meshes = kind === 'union' ? overlapping(inputs.map((i) => i.mesh)) : inputs.map((i) => i.mesh)
  const out = await booleanOf(
    kind,
    inputs.map((given, i) => ({ ...given, mesh: meshes[i] })),
    options,
  )
  // The few needles that rounding to single precision leaves along the seam.
  const needles = findDegenerate(out.mesh)
  const clean = needles.length ? removeDegenerate(out.mesh, needles) : null
  if (!clean?.degenerate) return out
  return {
    volumes: out.volumes,
    mesh: clean.mesh,
    source: clean.from.map((t) => out.source[t]),
    triangle: clean.from.map((t) => out.triangle[t]),
  }
}
