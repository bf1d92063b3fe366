/**
 * Fewer triangles by collapsing edges one by one, cheapest first, without memory: each cost comes from the skin as it is then (Lindstrom &
 * Turk 1998), its points from quadrics of the planes round them (Garland & Heckbert 1997), held to the volume. What a collapse would fold,
 * double or pinch is not done, so a manifold stays one, and where nothing more can go it stops.
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { compact, crossInto, triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { buildTopology, nextIn } from '@/core/mesh/topology'

export interface CollapseAim {
  readonly triangles: number
  /** 1 for vertices that stay where they are. */
  readonly locked?: Uint8Array
  /** Rims stay as they are; else they are simplified along themselves. */
  readonly lockRims: boolean
  /** Edges that bend by more than this are kept as lines, degrees. */
  readonly keepEdges?: number
}

/** Planes upright on rims and kept edges weigh this many times their neighbours'. */
const lineWeight = 30
/** Where the planes leave a direction free, the middle of the edge holds it with this share of their weight. */
const holdShare = 1e-6
/** No triangle may turn by more than this, cosine. */
const mostTurn = 0.3
/** Nor become thinner than this times what its corner saw before: area over squared longest edge. */
const thinnest = 0.02

/** A heap of edges by cost, on typed arrays that grow. */
class EdgeHeap {
  private cost = new Float64Array(1024)
  private a = new Int32Array(1024)
  private b = new Int32Array(1024)
  private stamp = new Int32Array(1024)
  size = 0

  push(cost: number, a: number, b: number, stamp: number): void {
    if (this.size === this.cost.length) {
      const wider = <T extends Float64Array | Int32Array>(from: T, to: T): T => {
        to.set(from as never)
        return to
      }
      const n = 2 * this.size
      this.cost = wider(this.cost, new Float64Array(n))
      this.a = wider(this.a, new Int32Array(n))
      this.b = wider(this.b, new Int32Array(n))
      this.stamp = wider(this.stamp, new Int32Array(n))
    }
    let i = this.size++
    while (i > 0) {
      const up = (i - 1) >> 1
      if (this.cost[up] <= cost) break
      this.move(up, i)
      i = up
    }
    this.set(i, cost, a, b, stamp)
  }

  private set(i: number, cost: number, a: number, b: number, stamp: number): void {
    this.cost[i] = cost
    this.a[i] = a
    this.b[i] = b
    this.stamp[i] = stamp
  }

  private move(from: number, to: number): void {
    this.set(to, this.cost[from], this.a[from], this.b[from], this.stamp[from])
  }

  /** Takes the cheapest off and leaves it in `top`. */
  readonly top = { cost: 0, a: 0, b: 0, stamp: 0 }
  pop(): boolean {
    if (!this.size) return false
    const { top } = this
    top.cost = this.cost[0]
    top.a = this.a[0]
    top.b = this.b[0]
    top.stamp = this.stamp[0]
    const last = --this.size
    const cost = this.cost[last],
      a = this.a[last],
      b = this.b[last],
      stamp = this.stamp[last]
    let i = 0
    for (;;) {
      let child = 2 * i + 1
      if (child >= last) break
      if (child + 1 < last && this.cost[child + 1] < this.cost[child]) child++
      if (this.cost[child] >= cost) break
      this.move(child, i)
      i = child
    }
    this.set(i, cost, a, b, stamp)
    return true
  }
}

/** Collapses edges of a mesh until so many triangles are left, or nothing more can go soundly. */
export function collapseEdges(mesh: TriMesh, aim: CollapseAim, work: Work = quiet): TriMesh {
  const nv = vertexCount(mesh)
  const p = Float64Array.from(mesh.positions)
  const tri = Int32Array.from(mesh.triangles)
  let alive = triangleCount(mesh)
  const begin = alive
  if (alive <= aim.triangles) return mesh
  const around: number[][] = Array.from({ length: nv }, () => [])
  for (let i = 0; i < tri.length; i++) around[tri[i]].push((i / 3) | 0)
  const fixed = new Uint8Array(nv)
  if (aim.locked) fixed.set(aim.locked)
  const topology = buildTopology(mesh)
  // Lines to keep: rims, and edges that bend. Held by planes upright on the skin through them.
  const line = new Map<number, number[]>()
  const lineKey = (a: number, b: number) => (a < b ? a * nv + b : b * nv + a)
  const isLine = new Set<number>()
  const rim = new Uint8Array(nv)
  const n = new Float64Array(3),
    m = new Float64Array(3)
  const limit = aim.keepEdges === undefined ? -2 : Math.cos((aim.keepEdges * Math.PI) / 180)
  for (let h = 0; h < topology.twin.length; h++) {
    const w = topology.twin[h]
    const a = tri[h],
      b = tri[nextIn(h)]
    if (w < 0) {
      // Rims, and edges of several triangles, which no collapse may touch.
      if (w === -2 || aim.lockRims) fixed[a] = fixed[b] = 1
      rim[a] = rim[b] = 1
      isLine.add(lineKey(a, b))
      continue
    }
    if (w < h || limit < -1) continue
    const l = crossInto(p, tri, (h / 3) | 0, n) * crossInto(p, tri, (w / 3) | 0, m)
    if (l > 0 && (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) / l < limit) isLine.add(lineKey(a, b))
  }
  const linesAt = (v: number) => {
    let list = line.get(v)
    if (!list) line.set(v, (list = []))
    return list
  }
  for (const key of isLine) {
    const a = Math.floor(key / nv),
      b = key % nv
    linesAt(a).push(b)
    linesAt(b).push(a)
  }
  // The quadric of a vertex: xx xy xz yy yz zz x y z 1, weighted by area; and of each the sum of normals and of n . p for the volume.
  const quadric = new Float64Array(10 * nv)
  const addPlane = (o: number, nx: number, ny: number, nz: number, d: number, w: number) => {
    quadric[o] += w * nx * nx
    quadric[o + 1] += w * nx * ny
    quadric[o + 2] += w * nx * nz
    quadric[o + 3] += w * ny * ny
    quadric[o + 4] += w * ny * nz
    quadric[o + 5] += w * nz * nz
    quadric[o + 6] += w * nx * d
    quadric[o + 7] += w * ny * d
    quadric[o + 8] += w * nz * d
    quadric[o + 9] += w * d * d
  }
  const refresh = (v: number) => {
    const o = 10 * v
    quadric.fill(0, o, o + 10)
    for (const t of around[v]) {
      const l = crossInto(p, tri, t, n)
      if (!(l > 0)) continue
      const nx = n[0] / l,
        ny = n[1] / l,
        nz = n[2] / l,
        a = 3 * tri[3 * t]
      addPlane(o, nx, ny, nz, -(nx * p[a] + ny * p[a + 1] + nz * p[a + 2]), l / 2)
    }
    for (const u of line.get(v) ?? []) uprightPlanes(o, v, u)
  }
  /** Planes through the line v u, upright on the triangles beside it. */
  const uprightPlanes = (o: number, v: number, u: number) => {
    const ex = p[3 * u] - p[3 * v],
      ey = p[3 * u + 1] - p[3 * v + 1],
      ez = p[3 * u + 2] - p[3 * v + 2]
    for (const t of around[v]) {
      if (tri[3 * t] !== u && tri[3 * t + 1] !== u && tri[3 * t + 2] !== u) continue
      crossInto(p, tri, t, n)
      const nx = ey * n[2] - ez * n[1],
        ny = ez * n[0] - ex * n[2],
        nz = ex * n[1] - ey * n[0]
      const l = Math.sqrt(nx * nx + ny * ny + nz * nz)
      if (!(l > 0)) continue
      const d = -(nx * p[3 * v] + ny * p[3 * v + 1] + nz * p[3 * v + 2]) / l
      addPlane(o, nx / l, ny / l, nz / l, d, lineWeight * (ex * ex + ey * ey + ez * ez))
    }
  }
  for (let v = 0; v < nv; v++) if (around[v].length) refresh(v)
  const best = new Float64Array(4)
  /** Cost of collapsing a and b, with the place in `best`; Infinity when it may not be. */
  const price = (a: number, b: number): number => {
    if (fixed[a] && fixed[b]) return Infinity
    const i = 10 * a,
      j = 10 * b
    const xx = quadric[i] + quadric[j],
      xy = quadric[i + 1] + quadric[j + 1],
      xz = quadric[i + 2] + quadric[j + 2],
      yy = quadric[i + 3] + quadric[j + 3],
      yz = quadric[i + 4] + quadric[j + 4],
      zz = quadric[i + 5] + quadric[j + 5],
      bx = quadric[i + 6] + quadric[j + 6],
      by = quadric[i + 7] + quadric[j + 7],
      bz = quadric[i + 8] + quadric[j + 8],
      cc = quadric[i + 9] + quadric[j + 9]
    let x: number, y: number, z: number
    if (fixed[a] || fixed[b]) {
      const v = 3 * (fixed[a] ? a : b)
      x = p[v]
      y = p[v + 1]
      z = p[v + 2]
    } else {
      const mx = (p[3 * a] + p[3 * b]) / 2,
        my = (p[3 * a + 1] + p[3 * b + 1]) / 2,
        mz = (p[3 * a + 2] + p[3 * b + 2]) / 2
      const hold = holdShare * (xx + yy + zz) + 1e-30
      const m0 = xx + hold,
        m3 = yy + hold,
        m5 = zz + hold
      // Inverse of the symmetric 3 x 3, by cofactors.
      const c0 = m3 * m5 - yz * yz,
        c1 = xz * yz - xy * m5,
        c2 = xy * yz - xz * m3
      const det = m0 * c0 + xy * c1 + xz * c2
      if (!(Math.abs(det) > 0)) return Infinity
      const c3 = m0 * m5 - xz * xz,
        c4 = xy * xz - m0 * yz,
        c5 = m0 * m3 - xy * xy
      const rx = hold * mx - bx,
        ry = hold * my - by,
        rz = hold * mz - bz
      x = (c0 * rx + c1 * ry + c2 * rz) / det
      y = (c1 * rx + c3 * ry + c4 * rz) / det
      z = (c2 * rx + c4 * ry + c5 * rz) / det
      // Held to the volume: the triangles that change enclose as much as before (Lindstrom & Turk 1998, 4.2).
      if (!rim[a] && !rim[b]) {
        let gx = 0,
          gy = 0,
          gz = 0,
          volume = 0
        for (let side = 0; side < 2; side++)
          for (const t of around[side ? b : a]) {
            const t0 = tri[3 * t],
              t1 = tri[3 * t + 1],
              t2 = tri[3 * t + 2]
            if (side && (t0 === a || t1 === a || t2 === a)) continue
            crossInto(p, tri, t, n)
            const o = 3 * t0
            gx += n[0]
            gy += n[1]
            gz += n[2]
            volume += n[0] * (p[o] - mx) + n[1] * (p[o + 1] - my) + n[2] * (p[o + 2] - mz)
          }
        const sx = (c0 * gx + c1 * gy + c2 * gz) / det,
          sy = (c1 * gx + c3 * gy + c4 * gz) / det,
          sz = (c2 * gx + c4 * gy + c5 * gz) / det
        const along = gx * sx + gy * sy + gz * sz
        if (along > 0) {
          const by = (volume - (gx * (x - mx) + gy * (y - my) + gz * (z - mz))) / along
          x += by * sx
          y += by * sy
          z += by * sz
        }
      }
      // Where the planes say nothing the place may run off: then the middle is taken.
      const edge = (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
      if (!((x - mx) ** 2 + (y - my) ** 2 + (z - mz) ** 2 <= 4 * edge)) {
        x = mx
        y = my
        z = mz
      }
    }
    best[0] = x
    best[1] = y
    best[2] = z
    const cost =
      xx * x * x + yy * y * y + zz * z * z + 2 * (xy * x * y + xz * x * z + yz * y * z + bx * x + by * y + bz * z) + cc
    return Math.max(0, cost)
  }
  const stamps = new Int32Array(nv)
  const heap = new EdgeHeap()
  const offer = (a: number, b: number) => {
    const cost = price(a, b)
    if (cost < Infinity) heap.push(cost, a, b, stamps[a] + stamps[b])
  }
  for (let h = 0; h < tri.length; h++) {
    const a = tri[h],
      b = tri[nextIn(h)]
    if (a < b || topology.twin[h] < 0) offer(a, b)
  }
  const mark = new Int32Array(nv)
  let round = 0
  const dead = new Uint8Array(begin)
  /** Whether a and b may become one at `best`: the ring stays a ring, no triangle turns over or goes flat. */
  const sound = (a: number, b: number): boolean => {
    round++
    for (const t of around[a]) for (let c = 0; c < 3; c++) mark[tri[3 * t + c]] = round
    let shared = 0,
      common = 0
    const seen = new Set<number>()
    for (const t of around[b]) {
      let has = false
      for (let c = 0; c < 3; c++) if (tri[3 * t + c] === a) has = true
      if (has) shared++
      for (let c = 0; c < 3; c++) {
        const v = tri[3 * t + c]
        if (v !== a && v !== b && mark[v] === round && !seen.has(v)) {
          seen.add(v)
          common++
        }
      }
    }
    if (shared < 1 || shared > 2 || common !== shared) return false
    if (rim[a] && rim[b] && shared !== 1) return false
    // The last triangles of a piece would go flat: a tetrahedron stays.
    if (around[a].length + around[b].length - 2 * shared < 3 && shared === 2) return false
    const [x, y, z] = best
    for (let side = 0; side < 2; side++) {
      const from = side ? b : a,
        other = side ? a : b
      for (const t of around[from]) {
        const i = tri[3 * t] === from ? 3 * t : tri[3 * t + 1] === from ? 3 * t + 1 : 3 * t + 2
        const u = tri[nextIn(i)],
          w = tri[nextIn(nextIn(i))]
        if (u === other || w === other) continue
        const ux = p[3 * u],
          uy = p[3 * u + 1],
          uz = p[3 * u + 2],
          wx = p[3 * w] - ux,
          wy = p[3 * w + 1] - uy,
          wz = p[3 * w + 2] - uz
        const ox = p[3 * from] - ux,
          oy = p[3 * from + 1] - uy,
          oz = p[3 * from + 2] - uz,
          qx = x - ux,
          qy = y - uy,
          qz = z - uz
        const ax = wy * oz - wz * oy,
          ay = wz * ox - wx * oz,
          az = wx * oy - wy * ox,
          bx = wy * qz - wz * qy,
          by = wz * qx - wx * qz,
          bz = wx * qy - wy * qx
        const la = Math.sqrt(ax * ax + ay * ay + az * az),
          lb = Math.sqrt(bx * bx + by * by + bz * bz)
        if (!(lb > 0)) return false
        if (la > 0 && ax * bx + ay * by + az * bz < mostTurn * la * lb) return false
        const far = Math.max(
          wx * wx + wy * wy + wz * wz,
          qx * qx + qy * qy + qz * qz,
          (qx - wx) ** 2 + (qy - wy) ** 2 + (qz - wz) ** 2,
        )
        const before = Math.max(
          wx * wx + wy * wy + wz * wz,
          ox * ox + oy * oy + oz * oz,
          (ox - wx) ** 2 + (oy - wy) ** 2 + (oz - wz) ** 2,
        )
        if (lb < thinnest * far && lb / far < 0.5 * (la / before)) return false
      }
    }
    return true
  }
  let done = 0
  while (alive > aim.triangles && heap.pop()) {
    const { cost, a, b, stamp } = heap.top
    if (!around[a].length || !around[b].length) continue
    const now = price(a, b)
    if (stamps[a] + stamps[b] !== stamp || now > 1.02 * cost + 1e-30) {
      // Its surroundings have changed since it was priced.
      if (now < Infinity && sharesTriangle(tri, around[a], b)) {
        if (heap.size && now > 1.02 * cost) {
          heap.push(now, a, b, stamps[a] + stamps[b])
          continue
        }
      } else continue
    }
    if (!sound(a, b)) continue
    if ((++done & 2047) === 0) {
      checkStop(work)
      work.progress((begin - alive) / Math.max(1, begin - aim.triangles), 'simplifying')
    }
    const keep = fixed[b] && !fixed[a] ? b : a,
      gone = keep === a ? b : a
    const [x, y, z] = best
    const left: number[] = []
    for (const t of around[keep]) {
      if (tri[3 * t] === gone || tri[3 * t + 1] === gone || tri[3 * t + 2] === gone) {
        dead[t] = 1
        alive--
      } else left.push(t)
    }
    for (const t of around[gone]) {
      if (dead[t]) {
        for (let c = 0; c < 3; c++) {
          const v = tri[3 * t + c]
          if (v === keep || v === gone) continue
          const list = around[v]
          const at = list.indexOf(t)
          if (at >= 0) list.splice(at, 1)
        }
        continue
      }
      for (let c = 0; c < 3; c++) if (tri[3 * t + c] === gone) tri[3 * t + c] = keep
      left.push(t)
    }
    around[keep] = left
    around[gone] = []
    p[3 * keep] = x
    p[3 * keep + 1] = y
    p[3 * keep + 2] = z
    if (rim[gone]) rim[keep] = 1
    const lines = new Set([...(line.get(keep) ?? []), ...(line.get(gone) ?? [])])
    lines.delete(keep)
    lines.delete(gone)
    if (lines.size) {
      for (const u of line.get(gone) ?? []) {
        const list = linesAt(u)
        const at = list.indexOf(gone)
        if (at >= 0) list.splice(at, 1)
        if (u !== keep && !list.includes(keep)) list.push(keep)
      }
      line.set(keep, [...lines])
    } else line.delete(keep)
    line.delete(gone)
    stamps[keep]++
    const ring = new Set<number>()
    for (const t of left) for (let c = 0; c < 3; c++) ring.add(tri[3 * t + c])
    for (const v of ring) refresh(v)
    for (const v of ring) if (v !== keep) offer(keep, v)
  }
  const triangles = new Uint32Array(3 * alive)
  let o = 0
  for (let t = 0; t < begin; t++) if (!dead[t]) for (let c = 0; c < 3; c++) triangles[o++] = tri[3 * t + c]
  return compact({ positions: Float32Array.from(p), triangles })
}

function sharesTriangle(tri: Int32Array, around: readonly number[], b: number): boolean {
  for (const t of around) if (tri[3 * t] === b || tri[3 * t + 1] === b || tri[3 * t + 2] === b) return true
  return false
}
