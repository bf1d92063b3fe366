/** Cuts a skin apart where more than two triangles share an edge or fans share a vertex, then stitches what belongs together (Guéziec, Taubin, Lazarus & Horn 2001). */
import { cross, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { buildTopology, cornerFans, nextIn, prevIn, shared, triangleOf, type Topology } from '@/core/mesh/topology'
import { vertex, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'

export interface Split {
  readonly mesh: TriMesh
  readonly edges: number
  readonly vertices: number
}

/**
 * Stitches each non-manifold edge pairwise: around the edge, a triangle is joined to the next one that closes material with it.
 * Then every fan gets a vertex of its own; with `rims` off not where holes meet at a point, which closing them joins again. Coordinates do not change. No edge is left with more than two triangles.
 */
export function splitNonManifold(mesh: TriMesh, { rims = true }: { rims?: boolean } = {}): Split {
  const first = stitchAndSplit(mesh, rims)
  let out = first.mesh
  for (let round = 0; round < 24; round++) {
    const t = buildTopology(out)
    if (!t.nonManifoldEdges) break
    // Where fans hang together by another way round both ends, splitting them frees nothing.
    out = stitchAndSplit(freeEdges(out, t), rims).mesh
  }
  return { ...first, mesh: out }
}

/** Half-edges of each edge with more than two triangles. */
function sharedEdges(mesh: TriMesh, topology: Topology): number[][] {
  const groups = new Map<string, number[]>()
  for (let h = 0; h < topology.twin.length; h++) {
    if (topology.twin[h] !== shared) continue
    const a = mesh.triangles[h],
      b = mesh.triangles[nextIn(h)]
    const key = a < b ? `${a} ${b}` : `${b} ${a}`
    const list = groups.get(key)
    if (list) list.push(h)
    else groups.set(key, [h])
  }
  return [...groups.values()]
}

/**
 * Frees edges whose ends cannot be split. Stitched pairs but the first get a vertex of their own in the middle of the edge, so that they
 * no longer share it and the skin stays closed; a triangle left without a partner gets end vertices of its own.
 */
function freeEdges(mesh: TriMesh, topology: Topology): TriMesh {
  const triangles = Array.from(mesh.triangles)
  const extra: number[] = []
  const twin = Int32Array.from(topology.twin)
  const touched = new Set<number>()
  const add = (p: readonly number[]) => {
    extra.push(p[0], p[1], p[2])
    return vertexCount(mesh) + extra.length / 3 - 1
  }
  for (const group of sharedEdges(mesh, topology)) {
    // One edge of a triangle at a time.
    if (group.some((h) => touched.has(triangleOf(h)))) continue
    for (const h of group) {
      twin[h] = -1
      touched.add(triangleOf(h))
    }
    stitch(mesh, group, twin)
    const pairs = group.filter((h) => twin[h] > h).map((h) => [h, twin[h]]),
      alone = group.filter((h) => twin[h] < 0)
    const p = vertex(mesh, mesh.triangles[group[0]]),
      q = vertex(mesh, mesh.triangles[nextIn(group[0])])
    for (const pair of pairs.slice(1)) {
      const m = add([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2])
      for (const h of pair) {
        // a b c becomes a m c and m b c.
        triangles.push(m, mesh.triangles[nextIn(h)], mesh.triangles[prevIn(h)])
        triangles[nextIn(h)] = m
      }
    }
    for (const h of pairs.length ? alone : alone.slice(1))
      for (const c of [h, nextIn(h)]) triangles[c] = add(vertex(mesh, mesh.triangles[c]))
  }
  const positions = new Float32Array(mesh.positions.length + extra.length)
  positions.set(mesh.positions)
  positions.set(extra, mesh.positions.length)
  return { positions, triangles: Uint32Array.from(triangles) }
}

function stitchAndSplit(mesh: TriMesh, rims: boolean): Split {
  const topology = buildTopology(mesh)
  const onRim = new Uint8Array(vertexCount(mesh))
  if (!rims) {
    for (let h = 0; h < topology.twin.length; h++)
      if (topology.twin[h] === -1) onRim[mesh.triangles[h]] = onRim[mesh.triangles[nextIn(h)]] = 1
    for (let h = 0; h < topology.twin.length; h++)
      if (topology.twin[h] === shared) onRim[mesh.triangles[h]] = onRim[mesh.triangles[nextIn(h)]] = 0
  }
  const twin = Int32Array.from(topology.twin)
  if (topology.nonManifoldEdges) {
    for (const group of sharedEdges(mesh, topology)) {
      for (const h of group) twin[h] = -1
      stitch(mesh, group, twin)
    }
  }
  const fans = cornerFans(mesh, { ...topology, twin } as Topology)
  const first = new Int32Array(vertexCount(mesh)).fill(-1)
  const copyOf = new Map<number, number>()
  const extra: number[] = []
  const triangles = new Uint32Array(mesh.triangles)
  for (let i = 0; i < triangles.length; i++) {
    const v = mesh.triangles[i],
      f = fans.fan[i]
    if (first[v] < 0) first[v] = f
    if (first[v] === f || onRim[v]) continue
    let copy = copyOf.get(f)
    if (copy === undefined) {
      copy = vertexCount(mesh) + extra.length / 3
      copyOf.set(f, copy)
      extra.push(...vertex(mesh, v))
    }
    triangles[i] = copy
  }
  if (!extra.length) return { mesh, edges: topology.nonManifoldEdges, vertices: 0 }
  const positions = new Float32Array(mesh.positions.length + extra.length)
  positions.set(mesh.positions)
  positions.set(extra, mesh.positions.length)
  return { mesh: { positions, triangles }, edges: topology.nonManifoldEdges, vertices: fans.manyFans.length }
}

/** Pairs half-edges of one edge by angle around it, material side to material side. */
function stitch(mesh: TriMesh, group: number[], twin: Int32Array): void {
  const a0 = mesh.triangles[group[0]],
    b0 = mesh.triangles[nextIn(group[0])]
  const low = Math.min(a0, b0),
    high = Math.max(a0, b0)
  const from = vertex(mesh, low)
  const axis = normalize(sub(vertex(mesh, high), from))
  let x: Vec3 | null = null,
    y: Vec3 = [0, 0, 0]
  const spokes = group
    .map((h) => {
      const c = sub(vertex(mesh, mesh.triangles[prevIn(h)]), from)
      const flat = normalize(sub(c, [axis[0] * dot(c, axis), axis[1] * dot(c, axis), axis[2] * dot(c, axis)]))
      if (!x) {
        x = flat
        y = cross(axis, x)
      }
      return { h, forward: mesh.triangles[h] === low, angle: Math.atan2(dot(flat, y), dot(flat, x)) }
    })
    .sort((p, q) => p.angle - q.angle || p.h - q.h)
  // Going round counter-clockwise about low -> high, a forward triangle has its material just before it and a backward one just after it.
  const used = new Set<number>()
  for (let i = 0; i < spokes.length; i++) {
    if (spokes[i].forward || used.has(i)) continue
    for (let k = 1; k < spokes.length; k++) {
      const j = (i + k) % spokes.length
      if (used.has(j)) continue
      if (!spokes[j].forward) break
      used.add(i)
      used.add(j)
      twin[spokes[i].h] = spokes[j].h
      twin[spokes[j].h] = spokes[i].h
      break
    }
  }
  // Leftovers of either way round are joined while opposite ones remain.
  for (let i = 0; i < spokes.length; i++) {
    if (used.has(i)) continue
    const j = spokes.findIndex((s, k) => k > i && !used.has(k) && s.forward !== spokes[i].forward)
    if (j < 0) continue
    used.add(i)
    used.add(j)
    twin[spokes[i].h] = spokes[j].h
    twin[spokes[j].h] = spokes[i].h
  }
}
