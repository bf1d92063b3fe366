/** Smooths a mesh or a region of it: evenly, by least bending, or with edges kept sharp. */
import { conjugateGradient } from '@/core/math/conjugate-gradient'
import { buildTopology, nextIn, vertexTriangles, type VertexTriangles } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossInto, triangleNormals } from '@/core/mesh/triangle'
import { checkStop, quiet, type Work } from '@/core/base/work'

export interface SmoothChoice {
  readonly how: 'even' | 'fair' | 'keep-sharp'
  /** 0 to 1. */
  readonly strength: number
  readonly passes: number
  /** Triangles to smooth; all when left out. */
  readonly region?: Uint8Array
  /** Rim of the region, and open rims: held where they are, or let go. */
  readonly rim: 'pinned' | 'free'
}

/** Vertices that may move: those with a picked triangle, and with a pinned rim only those with nothing else around them. */
function freeVertices(mesh: TriMesh, choice: SmoothChoice): Uint8Array {
  const n = mesh.positions.length / 3
  const free = new Uint8Array(n)
  const { region } = choice
  for (let i = 0; i < mesh.triangles.length; i++) if (!region || region[(i / 3) | 0]) free[mesh.triangles[i]] = 1
  if (choice.rim === 'free') return free
  if (region) for (let i = 0; i < mesh.triangles.length; i++) if (!region[(i / 3) | 0]) free[mesh.triangles[i]] = 0
  const t = buildTopology(mesh)
  for (let h = 0; h < t.twin.length; h++)
    if (t.twin[h] < 0) free[mesh.triangles[h]] = free[mesh.triangles[nextIn(h)]] = 0
  return free
}

export interface Smoothed {
  readonly mesh: TriMesh
  /** Furthest a vertex went, mm. */ readonly moved: number
  readonly vertices: number
  /** Volume change as a share, of closed meshes. */ readonly volumeShare: number
}

/** Smooths a mesh or a region of it in the way chosen: even (Taubin 1995), fair (Desbrun 1999) or keeping sharp edges (Zheng 2011). */
export function smooth(mesh: TriMesh, choice: SmoothChoice, work: Work = quiet): Smoothed {
  const free = freeVertices(mesh, choice)
  const positions =
    choice.how === 'even'
      ? taubin(mesh, free, choice, work)
      : choice.how === 'fair'
        ? implicit(mesh, free, choice, work)
        : bilateral(mesh, free, choice, work)
  let moved = 0,
    vertices = 0
  const p = mesh.positions
  for (let v = 0; v < free.length; v++) {
    if (!free[v]) continue
    vertices++
    moved = Math.max(
      moved,
      Math.hypot(positions[3 * v] - p[3 * v], positions[3 * v + 1] - p[3 * v + 1], positions[3 * v + 2] - p[3 * v + 2]),
    )
  }
  const out = { positions, triangles: mesh.triangles }
  const before = meshVolume(mesh)
  return { mesh: out, moved, vertices, volumeShare: before ? meshVolume(out) / before - 1 : 0 }
}

/** Neighbours of every vertex as one flat list. */
function neighbours(mesh: TriMesh): { start: Uint32Array; list: Uint32Array } {
  const around = vertexTriangles(mesh)
  const n = mesh.positions.length / 3
  const start = new Uint32Array(n + 1)
  const list: number[] = []
  const mark = new Int32Array(n).fill(-1)
  for (let v = 0; v < n; v++) {
    for (let i = around.start[v]; i < around.start[v + 1]; i++)
      for (let c = 0; c < 3; c++) {
        const u = mesh.triangles[3 * around.list[i] + c]
        if (u === v || mark[u] === v) continue
        mark[u] = v
        list.push(u)
      }
    start[v + 1] = list.length
  }
  return { start, list: Uint32Array.from(list) }
}

/** Lambda-mu filter with a pass band of 0.1 (Taubin 1995): smooths without shrinking. */
function taubin(mesh: TriMesh, free: Uint8Array, { strength, passes }: SmoothChoice, work: Work): Float32Array {
  const { start, list } = neighbours(mesh)
  const lambda = 0.1 + 0.53 * strength
  const mu = 1 / (0.1 - 1 / lambda)
  let x = Float64Array.from(mesh.positions),
    y = x.slice()
  for (let pass = 0; pass < 2 * passes; pass++) {
    checkStop(work)
    work.progress(pass / (2 * passes), 'smoothing')
    const f = pass % 2 ? mu : lambda
    for (let v = 0; v < free.length; v++) {
      const n = start[v + 1] - start[v]
      if (!free[v] || !n) continue
      let a = 0,
        b = 0,
        c = 0
      for (let i = start[v]; i < start[v + 1]; i++) {
        const u = 3 * list[i]
        a += x[u]
        b += x[u + 1]
        c += x[u + 2]
      }
      y[3 * v] = x[3 * v] + f * (a / n - x[3 * v])
      y[3 * v + 1] = x[3 * v + 1] + f * (b / n - x[3 * v + 1])
      y[3 * v + 2] = x[3 * v + 2] + f * (c / n - x[3 * v + 2])
    }
    ;[x, y] = [y, x]
    for (let v = 0; v < free.length; v++) if (!free[v]) for (let k = 0; k < 3; k++) y[3 * v + k] = x[3 * v + k]
  }
  return Float32Array.from(x)
}

/** Cotangent weights of the edges from each vertex, as `list` has them, and the area round each vertex, mm². */
function cotangents(
  k: Uint32Array,
  p: Float64Array,
  start: ArrayLike<number>,
  list: ArrayLike<number>,
): { weight: Float64Array; mass: Float64Array } {
  const find = (a: number, b: number) => {
    for (let i = start[a]; i < start[a + 1]; i++) if (list[i] === b) return i
    return -1
  }
  const weight = new Float64Array(list.length),
    mass = new Float64Array(start.length - 1)
  for (let t = 0; t < k.length; t += 3) {
    const v = [k[t], k[t + 1], k[t + 2]]
    for (let c = 0; c < 3; c++) {
      const o = 3 * v[c],
        a = 3 * v[(c + 1) % 3],
        b = 3 * v[(c + 2) % 3]
      const ux = p[a] - p[o],
        uy = p[a + 1] - p[o + 1],
        uz = p[a + 2] - p[o + 2],
        wx = p[b] - p[o],
        wy = p[b + 1] - p[o + 1],
        wz = p[b + 2] - p[o + 2]
      const area2 = Math.sqrt((uy * wz - uz * wy) ** 2 + (uz * wx - ux * wz) ** 2 + (ux * wy - uy * wx) ** 2)
      // Obtuse and thin corners give weights that would turn the skin over; they are clamped.
      const cot = Math.max(-0.5, Math.min(10, (ux * wx + uy * wy + uz * wz) / Math.max(area2, 1e-30)))
      const i = find(v[(c + 1) % 3], v[(c + 2) % 3]),
        j = find(v[(c + 2) % 3], v[(c + 1) % 3])
      weight[i] += cot / 2
      weight[j] += cot / 2
      mass[v[c]] += area2 / 6
    }
  }
  for (let i = 0; i < weight.length; i++) if (weight[i] < 1e-4) weight[i] = 1e-4
  return { weight, mass }
}

/** Scales a skin about its middle until it has a volume again. Changes `positions`. */
function keepVolume(positions: Float32Array, triangles: Uint32Array, volume: number): void {
  const after = meshVolume({ positions, triangles })
  if (after <= 0.2 * volume) return
  const s = Math.cbrt(volume / after)
  const m = [0, 0, 0]
  const n = positions.length / 3
  for (let o = 0; o < positions.length; o++) m[o % 3] += positions[o] / n
  for (let o = 0; o < positions.length; o++) positions[o] = m[o % 3] + s * (positions[o] - m[o % 3])
}

/**
 * Implicit fairing by curvature flow with cotangent weights (Desbrun, Meyer, Schröder & Barr 1999): (M + t C) x' = M x, one solve a
 * pass. Closed meshes smoothed whole get their volume back by scaling about their middle, as there.
 */
function implicit(
  mesh: TriMesh,
  free: Uint8Array,
  { strength, passes, region }: SmoothChoice,
  work: Work,
): Float32Array {
  const { start, list } = neighbours(mesh)
  const { triangles: k } = mesh
  const n = free.length
  let p = Float64Array.from(mesh.positions)
  const volume = meshVolume(mesh)
  let edges = 0,
    square = 0
  for (let i = 0; i < k.length; i++) {
    const a = 3 * k[i],
      b = 3 * k[nextIn(i)]
    square += (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2
    edges++
  }
  // Time of flow: the square of the width that is smoothed away.
  const time = (edges ? square / edges : 0) * strength
  for (let pass = 0; pass < passes; pass++) {
    checkStop(work)
    work.progress(pass / passes, 'fairing')
    const { weight, mass } = cotangents(k, p, start, list)
    const meanMass = mass.reduce((s, m) => s + m, 0) / Math.max(1, n)
    const ids: number[] = []
    const at = new Int32Array(n).fill(-1)
    for (let v = 0; v < n; v++) if (free[v] && start[v + 1] > start[v]) at[v] = ids.push(v) - 1
    const f = time
    const next = p.slice()
    const diagonal = new Float64Array(ids.length),
      right = new Float64Array(ids.length),
      begin = new Float64Array(ids.length)
    ids.forEach((v, i) => {
      let s = Math.max(mass[v], 1e-3 * meanMass)
      for (let q = start[v]; q < start[v + 1]; q++) s += f * weight[q]
      diagonal[i] = s
    })
    for (let axis = 0; axis < 3; axis++) {
      ids.forEach((v, i) => {
        let s = Math.max(mass[v], 1e-3 * meanMass) * p[3 * v + axis]
        for (let q = start[v]; q < start[v + 1]; q++) if (at[list[q]] < 0) s += f * weight[q] * p[3 * list[q] + axis]
        right[i] = s
        begin[i] = p[3 * v + axis]
      })
      const x = conjugateGradient(
        ids.length,
        (y, out) => {
          for (let i = 0; i < ids.length; i++) {
            const v = ids[i]
            let s = diagonal[i] * y[i]
            for (let q = start[v]; q < start[v + 1]; q++) {
              const u = at[list[q]]
              if (u >= 0) s -= f * weight[q] * y[u]
            }
            out[i] = s
          }
        },
        diagonal,
        right,
        begin,
        { tolerance: 1e-7, iterations: 400 },
      )
      ids.forEach((v, i) => {
        next[3 * v + axis] = x[i]
      })
    }
    p = next
  }
  const out = Float32Array.from(p)
  if (!region && buildTopology(mesh).openEdges === 0 && volume > 0) keepVolume(out, k, volume)
  return out
}

/** Middles and areas of triangles. Changes `centre` and `area`. */
function measureFacets(k: Uint32Array, p: Float64Array, centre: Float64Array, area: Float64Array): void {
  const across = new Float64Array(3)
  for (let t = 0; t < area.length; t++) {
    const a = 3 * k[3 * t],
      b = 3 * k[3 * t + 1],
      c = 3 * k[3 * t + 2]
    for (let q = 0; q < 3; q++) centre[3 * t + q] = (p[a + q] + p[b + q] + p[c + q]) / 3
    area[t] = crossInto(p, k, t, across) / 2
  }
}

/** Moves each vertex to the mean of the planes of its triangles. Changes `p`. */
function drawToPlanes(
  p: Float64Array,
  free: Uint8Array,
  around: VertexTriangles,
  normals: Float64Array,
  centre: Float64Array,
): void {
  for (let v = 0; v < free.length; v++) {
    const m = around.start[v + 1] - around.start[v]
    if (!free[v] || !m) continue
    let x = 0,
      y = 0,
      z = 0
    for (let i = around.start[v]; i < around.start[v + 1]; i++) {
      const t = 3 * around.list[i]
      const d =
        normals[t] * (centre[t] - p[3 * v]) +
        normals[t + 1] * (centre[t + 1] - p[3 * v + 1]) +
        normals[t + 2] * (centre[t + 2] - p[3 * v + 2])
      x += d * normals[t]
      y += d * normals[t + 1]
      z += d * normals[t + 2]
    }
    p[3 * v] += x / m
    p[3 * v + 1] += y / m
    p[3 * v + 2] += z / m
  }
}

/** Bilateral filtering of the normals, then vertices drawn to them (Zheng, Fu, Au & Tai 2011; vertex update of Sun et al. 2007). */
function bilateral(mesh: TriMesh, free: Uint8Array, { strength, passes }: SmoothChoice, work: Work): Float32Array {
  const { triangles: k } = mesh
  const n = triangleCount(mesh)
  const topology = buildTopology(mesh)
  const around = vertexTriangles(mesh)
  const p = Float64Array.from(mesh.positions)
  const centre = new Float64Array(3 * n),
    area = new Float64Array(n)
  let spread = 0,
    pairs = 0
  const measure = () => measureFacets(k, p, centre, area)
  measure()
  for (let h = 0; h < topology.twin.length; h++) {
    const w = topology.twin[h]
    if (w <= h) continue
    const s = 3 * ((h / 3) | 0),
      t = 3 * ((w / 3) | 0)
    spread += Math.hypot(centre[s] - centre[t], centre[s + 1] - centre[t + 1], centre[s + 2] - centre[t + 2])
    pairs++
  }
  const sigmaC = Math.max(1e-12, spread / Math.max(1, pairs))
  const sigmaS = 0.15 + 0.45 * strength
  let normals = Float64Array.from(triangleNormals(mesh)),
    next = normals.slice()
  const near = (t: number, visit: (u: number) => void) => {
    for (let c = 0; c < 3; c++) {
      const v = k[3 * t + c]
      for (let i = around.start[v]; i < around.start[v + 1]; i++) if (around.list[i] !== t) visit(around.list[i])
    }
  }
  for (let pass = 0; pass < passes; pass++) {
    checkStop(work)
    work.progress((0.6 * pass) / passes, 'filtering normals')
    for (let t = 0; t < n; t++) {
      let x = area[t] * normals[3 * t],
        y = area[t] * normals[3 * t + 1],
        z = area[t] * normals[3 * t + 2]
      near(t, (u) => {
        const dc =
          (centre[3 * t] - centre[3 * u]) ** 2 +
          (centre[3 * t + 1] - centre[3 * u + 1]) ** 2 +
          (centre[3 * t + 2] - centre[3 * u + 2]) ** 2
        const dn =
          (normals[3 * t] - normals[3 * u]) ** 2 +
          (normals[3 * t + 1] - normals[3 * u + 1]) ** 2 +
          (normals[3 * t + 2] - normals[3 * u + 2]) ** 2
        const w = area[u] * Math.exp(-dc / (2 * sigmaC * sigmaC) - dn / (2 * sigmaS * sigmaS))
        x += w * normals[3 * u]
        y += w * normals[3 * u + 1]
        z += w * normals[3 * u + 2]
      })
      const l = Math.sqrt(x * x + y * y + z * z) || 1
      next[3 * t] = x / l
      next[3 * t + 1] = y / l
      next[3 * t + 2] = z / l
    }
    ;[normals, next] = [next, normals]
  }
  for (let round = 0; round < 12; round++) {
    checkStop(work)
    work.progress(0.6 + (0.4 * round) / 12, 'moving vertices')
    drawToPlanes(p, free, around, normals, centre)
    measure()
  }
  return Float32Array.from(p)
}
