/** Takes out triangles without area by collapsing needles and flipping caps; nothing moves further than the triangle is thin. */
import { EditMesh } from '@/core/mesh/edit-mesh'
import { diagonal, keepTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { findDegenerate, findDuplicates } from '@/core/mesh/defects'

export interface Cleared {
  readonly mesh: TriMesh
  readonly degenerate: number
  readonly duplicates: number
  readonly left: number
  /** For each triangle its number in the input. */ readonly from: Uint32Array
}

/** The skin moves by no more than this share of the diagonal. */
const mostShare = 2e-6

/**
 * Drops duplicate triangles and removes degenerate ones: a needle's short edge is collapsed, a cap's long edge is flipped.
 * @param known the degenerate ones, of a mesh that has no duplicates
 */
export function removeDegenerate(input: TriMesh, known?: number[]): Cleared {
  let bad = known ?? findDegenerate(input)
  const before = bad.length
  let mesh = input
  const repeated = new Uint8Array(triangleCount(mesh)).fill(1)
  const { triangles: k } = mesh
  for (let t = 0; t < repeated.length; t++)
    if (k[3 * t] === k[3 * t + 1] || k[3 * t + 1] === k[3 * t + 2] || k[3 * t] === k[3 * t + 2]) repeated[t] = 0
  const doubles = known ? [] : findDuplicates(mesh)
  for (const t of doubles) repeated[t] = 0
  let from = new Uint32Array(repeated.length)
  for (let t = 0; t < from.length; t++) from[t] = t
  const take = (k2: { mesh: TriMesh; triangleFrom: Uint32Array }) => {
    mesh = k2.mesh
    from = k2.triangleFrom.map((t) => from[t])
  }
  if (repeated.includes(0)) {
    take(keepTriangles(mesh, repeated))
    bad = findDegenerate(mesh)
  }
  const room = mostShare * diagonal(meshBounds(input))
  let left = 0
  for (let round = 0; round < 6; round++) {
    left = bad.length
    if (!left) break
    const edit = new EditMesh(mesh, bad)
    let changed = 0
    for (const t of bad) {
      if (!edit.alive(t)) continue
      const v = [edit.triangles[3 * t], edit.triangles[3 * t + 1], edit.triangles[3 * t + 2]]
      const pairs = [
        [v[0], v[1]],
        [v[1], v[2]],
        [v[2], v[0]],
      ].sort((p, q) => edit.edge(p[0], p[1]) - edit.edge(q[0], q[1]))
      const [shortest, , longest] = pairs
      const needle = edit.edge(shortest[0], shortest[1]) < 0.1 * edit.edge(longest[0], longest[1])
      // A needle of some length may hang on faces that lie across it: pulling those along would change the body.
      const pull = (a: number, b: number) => edit.pullsBy(a, b) <= room && edit.collapse(a, b)
      const collapse = () => pull(shortest[0], shortest[1]) || pull(shortest[1], shortest[0])
      const flip = () => edit.flip(longest[0], longest[1])
      if (needle ? collapse() || flip() : flip() || collapse()) changed++
    }
    if (!changed) break
    take(edit.done())
    bad = findDegenerate(mesh)
    left = bad.length
  }
  return { mesh, degenerate: before - left, duplicates: doubles.length, left, from }
}
