/** Holds a tool to leaving no fault behind that was not there before: the few it made are mended in place. */
import { crossingsFrom, findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology, cornerFans, nextIn, triangleOf, type Rim, type Topology } from '@/core/mesh/topology'
import { concatMeshes, keepTriangles, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { closeHoles } from './close-holes'
import { growTriangles } from './cut-and-refill'
import { findDegenerate, findFolded } from '@/core/mesh/defects'
import { cleanUp } from './tidy'
import { untangle } from './untangle'

/** Triangles at faults of the skin itself, crossings aside. */
function faultyTriangles(mesh: TriMesh, t: Topology): Set<number> {
  const out = new Set([...findFolded(mesh, t), ...findDegenerate(mesh)])
  for (let h = 0; h < t.twin.length; h++) if (t.twin[h] === -2 || t.sameWay[h]) out.add(triangleOf(h))
  const bad = new Set(cornerFans(mesh, t).manyFans)
  if (bad.size) for (let c = 0; c < mesh.triangles.length; c++) if (bad.has(mesh.triangles[c])) out.add(triangleOf(c))
  return out
}

/** More faults than this share of the triangles are not the tool's own: they came with the body. */
const own = 0.005
/** Rings round a fault that are mended with it. */
const reach = 6

const placeKey = (m: TriMesh, v: number) => `${m.positions[3 * v]} ${m.positions[3 * v + 1]} ${m.positions[3 * v + 2]}`

function rimVertices(mesh: TriMesh): Set<number> {
  const { twin } = buildTopology(mesh)
  const out = new Set<number>()
  for (let h = 0; h < twin.length; h++) if (twin[h] < 0) out.add(mesh.triangles[h]).add(mesh.triangles[nextIn(h)])
  return out
}

/** Vertices on open edges by their place; null when two of them share one. */
function rimPlaces(mesh: TriMesh): Map<string, number> | null {
  const out = new Map<string, number>()
  for (const v of rimVertices(mesh)) {
    const key = placeKey(mesh, v)
    if (out.has(key)) return null
    out.set(key, v)
  }
  return out
}

/** The mended part back in the rest, rim on rim; null where a rim vertex of the part has no partner. Triangles of the part come last. */
function rejoin(
  rest: TriMesh,
  places: ReadonlyMap<string, number>,
  part: TriMesh,
  free: ReadonlySet<string>,
): TriMesh | null {
  const both = concatMeshes([rest, part])
  const base = rest.positions.length / 3
  const to = new Map<number, number>()
  for (const v of rimVertices(part)) {
    const key = placeKey(part, v),
      other = places.get(key)
    if (other !== undefined) to.set(base + v, other)
    else if (!free.has(key)) return null
  }
  const joined = { positions: both.positions, triangles: both.triangles.map((v) => to.get(v) ?? v) }
  return keepTriangles(joined, new Uint8Array(triangleCount(joined)).fill(1)).mesh
}

/**
 * Mends the few faults a tool made: non-manifold edges and vertices, folds, degenerate triangles and crossings. They are mended each
 * within some rings of its place; the mesh comes back unchanged where that would not leave fewer. A closed mesh stays closed.
 */
export function keepSound(made: TriMesh, work: Work = quiet): TriMesh {
  const topology = buildTopology(made)
  const crossings = findSelfCrossings(made, span(work, 0, 0.7))
  const faulty = faultyTriangles(made, topology)
  for (const t of crossings) faulty.add(t)
  if (!faulty.size || faulty.size > 20 + own * triangleCount(made)) return made
  const seeds = new Uint8Array(triangleCount(made))
  for (const t of faulty) seeds[t] = 1
  const near = growTriangles(made, seeds, reach)
  const part = keepTriangles(made, near).mesh,
    rest = keepTriangles(
      made,
      near.map((f) => 1 - f),
    ).mesh
  const places = rimPlaces(rest)
  if (!places) return made
  const free = new Set<string>()
  for (let h = 0; h < topology.twin.length; h++)
    if (topology.twin[h] === -1)
      for (const v of [made.triangles[h], made.triangles[nextIn(h)]]) free.add(placeKey(made, v))
  let best = made,
    least = faulty.size,
    mesh = part
  for (let round = 0; round < 3 && least; round++) {
    checkStop(work)
    const part = span(work, 0.7 + 0.1 * round, 0.8 + 0.1 * round)
    // Which way a part cut out of a skin faces cannot be told from the part alone, so that is left as it is.
    mesh = untangle(cleanUp(mesh), { folds: true, rounds: 6 }, span(part, 0, 0.8)).mesh
    // What mending opened is closed; the cut towards the rest and old holes stay.
    const opened = (m: TriMesh) => (rim: Rim) =>
      rim.vertices.every((v) => {
        const k = placeKey(m, v)
        return !places.has(k) && !free.has(k)
      })
    mesh = cleanUp(closeHoles(mesh, { how: 'flat', accept: opened(mesh) }, span(part, 0.8, 1)).mesh)
    const joined = rejoin(rest, places, mesh, free)
    if (!joined) continue
    const t = buildTopology(joined)
    if (t.openEdges > topology.openEdges) continue
    const bad = faultyTriangles(joined, t)
    for (const c of crossingsFrom(joined, triangleCount(rest))) bad.add(c)
    if (bad.size < least) {
      best = joined
      least = bad.size
    }
  }
  return best
}
