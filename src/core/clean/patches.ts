/** A mesh that is divided into surfaces: which of them lie beside each other, along which runs of edges, and where three or more meet. */
import { nextIn, triangleOf, type Topology } from '@/core/mesh/topology'
import { dot, normalize, sub } from '@/core/math/vec'
import { triangleCount, vertex, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import type { Fitted } from '@/core/fit/fit-shape'

/** Triangles that hang together and lie on one surface. */
export interface Patch {
  /** Null for a triangle that stays a flat facet, and for a fitted face. */
  readonly shape: Fitted | null
  /** Number of the region that it is of; -1 for a facet. */
  readonly region: number
  /** Number of the piece that is to be one fitted face; -1 for all others. */
  readonly chart: number
  readonly triangles: number[]
  /** Borders, material to the left: chains in order. */
  loops: { readonly chain: number; readonly forward: boolean }[][]
}

/** A run of mesh edges between the same two patches. */
export interface Chain {
  /** Corner to corner; the first one comes again at the end of a closed run. */
  readonly vertices: number[]
  readonly left: number
  /** -1 at a rim of the mesh. */
  readonly right: number
  readonly closed: boolean
}

export interface Patches {
  readonly patches: Patch[]
  readonly chains: Chain[]
  /** Patch of each triangle. */
  readonly of: Int32Array
  /** Patches around each vertex that ends a chain. */
  readonly corners: Map<number, number[]>
}

export const isFacet = (p: Patch): boolean => !p.shape && p.chart < 0

/** A border that turns by more than this has a corner there (cosine). */
const bend = Math.cos((50 * Math.PI) / 180)

function turns(mesh: TriMesh, a: number, b: number, c: number): boolean {
  const [p, q, r] = [a, b, c].map((v) => vertex(mesh, v))
  return dot(normalize(sub(q, p)), normalize(sub(r, q))) < bend
}

/** Patches, grown over all that hangs together on one surface, and the one of each triangle. */
function grownPatches(
  mesh: TriMesh,
  { twin }: Topology,
  region: ArrayLike<number>,
  shapes: readonly (Fitted | null)[],
  charts: ArrayLike<number> | undefined,
): { patches: Patch[]; of: Int32Array } {
  const n = triangleCount(mesh)
  const of = new Int32Array(n).fill(-1)
  const patches: Patch[] = []
  for (let s = 0; s < n; s++) {
    if (of[s] >= 0) continue
    const own = region[s]
    const shape = own < 0 ? null : shapes[own]
    const chart = shape || !charts ? -1 : charts[s]
    const triangles = [s]
    of[s] = patches.length
    const same = (u: number) =>
      shape ? region[u] === own : charts![u] === chart && !(region[u] >= 0 && shapes[region[u]])
    if (shape || chart >= 0)
      for (const t of triangles)
        for (let h = 3 * t; h < 3 * t + 3; h++) {
          const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
          if (u >= 0 && of[u] < 0 && same(u)) {
            of[u] = of[s]
            triangles.push(u)
          }
        }
    patches.push({ shape, region: shape ? own : -1, chart, triangles, loops: [] })
  }
  return { patches, of }
}

/** Patches with what lies between them: walks along their borders. */
interface Borders {
  readonly mesh: TriMesh
  readonly twin: Int32Array
  readonly patches: readonly Patch[]
  readonly of: Int32Array
  border(h: number): boolean
  /** The next border half-edge of the same patch, round the vertex where this one ends. */
  following(h: number): number
}

function bordersOf(mesh: TriMesh, { twin }: Topology, patches: readonly Patch[], of: Int32Array): Borders {
  const border = (h: number) => twin[h] < 0 || of[triangleOf(twin[h])] !== of[triangleOf(h)]
  const following = (h: number) => {
    let g = nextIn(h)
    while (!border(g)) g = nextIn(twin[g])
    return g
  }
  return { mesh, twin, patches, of, border, following }
}

/** How many border edges end at a vertex, so that 2 is none where a chain ends; facets make corners everywhere. */
function degreesOf({ mesh, twin, patches, of, border, following }: Borders, charts: boolean): Uint8Array {
  const n = triangleCount(mesh)
  const degree = new Uint8Array(vertexCount(mesh))
  for (let h = 0; h < 3 * n; h++) {
    if (!border(h) || (twin[h] >= 0 && twin[h] < h)) continue
    const facet = isFacet(patches[of[triangleOf(h)]]) || (twin[h] >= 0 && isFacet(patches[of[triangleOf(twin[h])]]))
    for (const v of [mesh.triangles[h], mesh.triangles[nextIn(h)]])
      degree[v] = Math.min(250, degree[v] + (facet ? 3 : 1))
  }
  // The border of a fitted face may have corners where it runs along one neighbour.
  if (charts)
    for (let h = 0; h < 3 * n; h++) {
      if (!border(h) || patches[of[triangleOf(h)]].chart < 0) continue
      const beyond = twin[h] < 0 ? null : patches[of[triangleOf(twin[h])]]
      if (beyond && beyond.chart >= 0) continue
      const v = mesh.triangles[nextIn(h)]
      const g = following(h)
      if (degree[v] === 2 && turns(mesh, mesh.triangles[h], v, mesh.triangles[nextIn(g)])) degree[v] = 3
    }
  return degree
}

/** Runs of edges from corner to corner, then those that close; and the one of each border half-edge. */
function chainsOf(
  { mesh, twin, of, border, following }: Borders,
  corner: (v: number) => boolean,
): { chains: Chain[]; chainOf: Int32Array } {
  const n = triangleCount(mesh)
  const chains: Chain[] = []
  /** Chain of a border half-edge, and whether it runs along it. */
  const chainOf = new Int32Array(3 * n).fill(-1)
  const walk = (start: number, closed: boolean) => {
    const vertices = [mesh.triangles[start]]
    const id = chains.length
    let h = start
    for (;;) {
      chainOf[h] = id
      if (twin[h] >= 0) chainOf[twin[h]] = id
      const end = mesh.triangles[nextIn(h)]
      vertices.push(end)
      if (closed ? end === vertices[0] : corner(end)) break
      h = following(h)
    }
    const right = twin[start] < 0 ? -1 : of[triangleOf(twin[start])]
    chains.push({ vertices, left: of[triangleOf(start)], right, closed })
  }
  for (let h = 0; h < 3 * n; h++) if (border(h) && chainOf[h] < 0 && corner(mesh.triangles[h])) walk(h, false)
  for (let h = 0; h < 3 * n; h++) if (border(h) && chainOf[h] < 0) walk(h, true)
  return { chains, chainOf }
}

/** Puts the loops of chains round each patch. Changes the patches. */
function putLoops(
  { mesh, patches, of, border, following }: Borders,
  corner: (v: number) => boolean,
  chains: readonly Chain[],
  chainOf: Int32Array,
): void {
  const n = triangleCount(mesh)
  const seen = new Uint8Array(3 * n)
  for (let h = 0; h < 3 * n; h++) {
    if (!border(h) || seen[h]) continue
    // Begin where a chain begins.
    let start = h
    for (let g = following(h); g !== h; g = following(g))
      if (corner(mesh.triangles[g])) {
        start = g
        break
      }
    const loop: { chain: number; forward: boolean }[] = []
    let last = -1
    let g = start
    do {
      seen[g] = 1
      if (chainOf[g] !== last || corner(mesh.triangles[g]))
        loop.push({ chain: chainOf[g], forward: chains[chainOf[g]].left === of[triangleOf(g)] })
      last = chainOf[g]
      g = following(g)
    } while (g !== start)
    patches[of[triangleOf(h)]].loops.push(loop)
  }
}

/**
 * @param region of each triangle the number of its region; -1 or a region without a shape: it stays a facet
 * @param charts of each triangle the number of the piece that is to be one fitted face, or -1
 */
export function patchesOf(
  mesh: TriMesh,
  topology: Topology,
  region: ArrayLike<number>,
  shapes: readonly (Fitted | null)[],
  charts?: ArrayLike<number>,
): Patches {
  const { patches, of } = grownPatches(mesh, topology, region, shapes, charts)
  const borders = bordersOf(mesh, topology, patches, of)
  const degree = degreesOf(borders, !!charts)
  const corner = (v: number) => degree[v] > 0 && degree[v] !== 2
  const { chains, chainOf } = chainsOf(borders, corner)
  putLoops(borders, corner, chains, chainOf)
  const corners = new Map<number, number[]>()
  for (let h = 0; h < mesh.triangles.length; h++) {
    const v = mesh.triangles[h]
    if (!corner(v)) continue
    const list = corners.get(v) ?? []
    if (!list.includes(of[triangleOf(h)])) list.push(of[triangleOf(h)])
    corners.set(v, list)
  }
  return { patches, chains, of, corners }
}
