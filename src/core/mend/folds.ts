/** Smooths folds: the corners of folded triangles and their ring are relaxed until the skin lies open again. */
import { buildTopology, vertexTriangles, type VertexTriangles } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, type Work } from '@/core/base/work'
import { findFolded } from '@/core/mesh/defects'

/** Corners of some triangles with so many rings of triangles round them. */
function ringsAround(mesh: TriMesh, around: VertexTriangles, some: readonly number[], rings: number): Set<number> {
  let zone = new Set<number>()
  for (const t of some) for (let c = 0; c < 3; c++) zone.add(mesh.triangles[3 * t + c])
  for (let r = 0; r < rings; r++) {
    const wider = new Set(zone)
    for (const v of zone)
      for (let i = around.start[v]; i < around.start[v + 1]; i++)
        for (let c = 0; c < 3; c++) wider.add(mesh.triangles[3 * around.list[i] + c])
    zone = wider
  }
  return zone
}

/** Moves corners towards the middle of their neighbours, all at once; gives those that moved. Changes `mesh`. */
function relaxOnce(
  { positions, triangles }: TriMesh,
  around: VertexTriangles,
  zone: ReadonlySet<number>,
  pinned: Uint8Array,
  strength: number,
): number[] {
  const next: [number, number, number, number][] = []
  for (const v of zone) {
    if (pinned[v]) continue
    let x = 0,
      y = 0,
      z = 0,
      n = 0
    for (let i = around.start[v]; i < around.start[v + 1]; i++)
      for (let c = 0; c < 3; c++) {
        const u = triangles[3 * around.list[i] + c]
        if (u === v) continue
        x += positions[3 * u]
        y += positions[3 * u + 1]
        z += positions[3 * u + 2]
        n++
      }
    if (n) next.push([v, x / n, y / n, z / n])
  }
  for (const [v, x, y, z] of next) {
    positions[3 * v] += strength * (x - positions[3 * v])
    positions[3 * v + 1] += strength * (y - positions[3 * v + 1])
    positions[3 * v + 2] += strength * (z - positions[3 * v + 2])
  }
  return next.map(([v]) => v)
}

/**
 * Relaxes folded places towards the middle of their neighbours (umbrella operator, Kobbelt et al. 1998), rims pinned.
 * Only corners within `rings` of a fold move. Passes end when no fold is left.
 */
export function smoothFolds(
  mesh: TriMesh,
  { strength = 0.6, passes = 12, rings = 1 } = {},
  work: Work = quiet,
): { mesh: TriMesh; before: number; after: number; moved: number } {
  const topology = buildTopology(mesh)
  let folded = findFolded(mesh, topology)
  const before = folded.length
  if (!before) return { mesh, before, after: 0, moved: 0 }
  const around = vertexTriangles(mesh)
  const pinned = new Uint8Array(mesh.positions.length / 3)
  for (let h = 0; h < topology.twin.length; h++) {
    if (topology.twin[h] >= 0) continue
    pinned[mesh.triangles[h]] = 1
    pinned[mesh.triangles[h % 3 === 2 ? h - 2 : h + 1]] = 1
  }
  const positions = mesh.positions.slice()
  const current = { positions, triangles: mesh.triangles }
  const moved = new Set<number>()
  let best = before,
    bestPositions = mesh.positions
  for (let pass = 0; pass < passes && folded.length; pass++) {
    checkStop(work)
    work.progress(pass / passes, 'smoothing folds')
    const zone = ringsAround(mesh, around, folded, rings + Math.floor(pass / 4))
    for (let inner = 0; inner < 3; inner++)
      for (const v of relaxOnce(current, around, zone, pinned, strength)) moved.add(v)
    // Only triangles at moved corners can have changed.
    const touched = new Set<number>(folded)
    for (const v of zone) for (let i = around.start[v]; i < around.start[v + 1]; i++) touched.add(around.list[i])
    folded = findFolded(current, topology, Array.from(touched))
    if (folded.length < best) {
      best = folded.length
      bestPositions = positions.slice()
    }
  }
  return {
    mesh: { positions: bestPositions, triangles: mesh.triangles },
    before,
    after: best,
    moved: best < before ? moved.size : 0,
  }
}
