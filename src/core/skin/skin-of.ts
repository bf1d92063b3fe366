/** From a field to a sound skin: contour, draw on to the true surface, and make sure that nothing crosses. */
import { findFolded, findDegenerate } from '@/core/mesh/defects'
import { removeDegenerate } from '@/core/mend/slivers'
import { untangle } from '@/core/mend/untangle'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology, vertexTriangles } from '@/core/mesh/topology'
import { boundsSize, triangleCount, type Bounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { span, type Work } from '@/core/base/work'
import { contour } from './contour'
import { BlockGrid, type Field } from './field'

/** Moves a vertex on to the true surface: writes the new place to `out`, or gives false to leave it. */
export type Draw = (x: number, y: number, z: number, out: Float64Array) => boolean

/** Most cells along one side that the grid numbers hold. */
const mostCells = 8000

/** A closed, manifold, crossing-free mesh of the zero surface with edges about `step` mm. */
export function skinOf(
  field: Field,
  bounds: Bounds,
  step: number,
  { draw, sharp = true }: { draw?: Draw; sharp?: boolean },
  work: Work,
): TriMesh {
  const cells = Math.max(...boundsSize(bounds)) / step
  if (cells > mostCells)
    throw new StepError(
      'too-fine',
      `An edge length of ${step} mm means ${Math.round(cells)} cells along this body; ${mostCells} are the most.`,
      { tryThis: 'Choose a longer edge.' },
    )
  const grid = new BlockGrid(field, bounds, step, span(work, 0, 0.55))
  grid.fill()
  const c = contour(field, grid, { sharp }, span(work, 0.55, 0.75))
  if (!triangleCount(c.mesh)) return c.mesh
  const positions = c.mesh.positions.slice()
  if (draw) {
    const to = new Float64Array(3)
    for (let v = 0; v < positions.length; v += 3)
      if (draw(positions[v], positions[v + 1], positions[v + 2], to)) positions.set(to, v)
  }
  work.progress(0.8, 'checking the skin')
  return settle({ positions, triangles: c.mesh.triangles }, c.plain, span(work, 0.8, 1))
}

/** Where triangles cross or fold, vertices go back to the plain places in their cells; what is left after that is untangled. */
function settle(mesh: TriMesh, plain: Float32Array, work: Work): TriMesh {
  const topology = buildTopology(mesh)
  const positions = mesh.positions
  const around = vertexTriangles(mesh)
  let bad: number[] = []
  for (let round = 0; round < 4; round++) {
    bad = [
      ...findSelfCrossings({ positions, triangles: mesh.triangles }, span(work, round / 5, (round + 1) / 5)),
      ...findFolded({ positions, triangles: mesh.triangles }, topology),
      ...findDegenerate({ positions, triangles: mesh.triangles }),
    ]
    if (!bad.length) break
    let zone = new Set<number>()
    for (const t of bad) for (let c = 0; c < 3; c++) zone.add(mesh.triangles[3 * t + c])
    for (let r = 0; r < round; r++) {
      const wider = new Set(zone)
      for (const v of zone)
        for (let i = around.start[v]; i < around.start[v + 1]; i++)
          for (let c = 0; c < 3; c++) wider.add(mesh.triangles[3 * around.list[i] + c])
      zone = wider
    }
    // Half the way first, then all of it.
    const share = round === 0 ? 0.6 : 1
    for (const v of zone)
      for (let a = 0; a < 3; a++) positions[3 * v + a] += share * (plain[3 * v + a] - positions[3 * v + a])
  }
  let out: TriMesh = { positions, triangles: mesh.triangles }
  if (bad.length) {
    out = removeDegenerate(out).mesh
    out = untangle(out, { folds: true, rounds: 6 }, work).mesh
  }
  return out
}
