/** Bridges two rims: all round, as a tube joins its ends, or by a strip of some width between two picked places. */
import { cross, distance, dot, sub, type Vec3 } from '@/core/math/vec'
import { buildTopology, findRims, type Rim } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { joinPatches, loopOfRim, nearestOnRim, patchGround, rimNearest, type Loop } from './loop'
import { patchLoop } from './patch-loop'

export interface Bridged {
  readonly mesh: TriMesh
  readonly gap: number
  readonly edges: number
  readonly firstNew: number
  readonly whole: boolean
}

/**
 * Triangles between two rows of points of least total area (Fuchs, Kedem & Uselton 1977): a walk through the grid of both rows.
 * Numbers: the first row's points, then the second's.
 */
export function stitchRows(a: readonly Vec3[], b: readonly Vec3[]): number[] {
  const n = a.length,
    m = b.length
  const cost = new Float64Array(n * m).fill(Infinity),
    from = new Uint8Array(n * m)
  const area = (p: Vec3, q: Vec3, r: Vec3) => {
    const c = cross(sub(q, p), sub(r, p))
    return Math.sqrt(dot(c, c)) + 1e-3 * distance(q, r)
  }
  cost[0] = 0
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      if (!i && !j) continue
      const onA = i ? cost[(i - 1) * m + j] + area(a[i - 1], a[i], b[j]) : Infinity
      const onB = j ? cost[i * m + j - 1] + area(b[j - 1], b[j], a[i]) : Infinity
      cost[i * m + j] = Math.min(onA, onB)
      from[i * m + j] = onA <= onB ? 1 : 2
    }
  const out: number[] = []
  for (let i = n - 1, j = m - 1; i || j;) {
    if (from[i * m + j] === 1) {
      out.push(i - 1, i, n + j)
      i--
    } else {
      out.push(n + j, n + j - 1, i)
      j--
    }
  }
  return out
}

/** Corners of a loop within half the width of one of them, in order. */
function stretch(loop: Loop, corner: number, width: number): number[] {
  const n = loop.points.length
  const walk = (step: 1 | -1) => {
    const out: number[] = []
    let run = 0
    for (let k = corner, i = 0; i < Math.floor((n - 1) / 2); i++) {
      const next = (k + step + n) % n
      run += distance(loop.points[k], loop.points[next])
      if (run > width / 2 && out.length) break
      out.push(next)
      k = next
      if (run > width / 2) break
    }
    return out
  }
  return [...walk(-1).reverse(), corner, ...walk(1)]
}

/**
 * @param width of the strip, mm; all round when left out (two rims only)
 */
export function bridgeGap(
  mesh: TriMesh,
  from: Vec3,
  to: Vec3,
  { width, flat = false }: { width?: number; flat?: boolean } = {},
): Bridged {
  const rims = findRims(mesh, buildTopology(mesh))
  const a = rimNearest(mesh, rims, from)
  if (!a)
    throw new StepError('no-hole', 'There is no open rim on this body.', { tryThis: 'Bridge gap joins two open rims.' })
  const b = rimNearest(mesh, rims, to)!
  const ground = patchGround(mesh)
  const firstNew = mesh.triangles.length / 3
  const same = a.rim === b.rim
  if (same && width === undefined)
    throw new StepError('same-rim', 'Both points lie on the same rim.', {
      tryThis: 'Give a width for a strip across this hole, or pick points on two rims.',
    })
  const one = loopOfRim(mesh, a.rim),
    two = same ? one : loopOfRim(mesh, b.rim)
  const cornerOf = (loop: Loop, rim: Rim, p: Vec3) =>
    loop.vertices.indexOf(rim.vertices[nearestOnRim(mesh, rim, p).corner])
  const i = cornerOf(one, a.rim, from),
    j = cornerOf(two, b.rim, to)
  const gap = distance(one.points[i], two.points[j])
  if (width !== undefined) {
    const rowA = stretch(one, i, width),
      rowB = stretch(two, j, width)
    if (same && rowA.some((k) => rowB.includes(k)))
      throw new StepError('overlap', 'The strip would meet itself on this rim.', {
        tryThis: 'Choose a smaller width or points further apart.',
      })
    const back = [...rowB]
    // The loop runs along the first row, then along the second: both run the rim's own way, so the second comes after the crossing.
    const cornersA = rowA.map((k) => one.points[k]),
      cornersB = back.map((k) => two.points[k])
    const loop: Loop = {
      points: [...cornersA, ...cornersB],
      vertices: [...rowA.map((k) => one.vertices[k]), ...back.map((k) => two.vertices[k])],
      against: [
        ...rowA.slice(0, -1).map((k) => one.against[k]),
        -1,
        ...back.slice(0, -1).map((k) => two.against[k]),
        -1,
      ],
    }
    // Rows face each other, so the second is read backwards for the stitch and its numbers turned round again.
    const n = rowA.length,
      m = back.length
    const stitched = stitchRows(cornersA, [...cornersB].reverse()).map((v) => (v < n ? v : n + (m - 1 - (v - n))))
    const patch = patchLoop(ground, loop, flat ? 'flat' : 'smooth', wound(stitched, n + m))
    return { mesh: joinPatches(mesh, [{ loop, patch }]), gap, edges: n + m - 2, firstNew, whole: false }
  }
  const n = one.points.length,
    m = two.points.length
  if (n * m > 4e6)
    throw new StepError('too-large', `These rims have ${n} and ${m} edges: too many to join all round.`, {
      tryThis: 'Simplify or even out the rims first, or bridge by strips.',
    })
  // All round: start at the two picked corners; the second rim runs against the first.
  const ring1 = Array.from({ length: n + 1 }, (_, k) => (i + k) % n),
    ring2 = Array.from({ length: m + 1 }, (_, k) => (j - k + m) % m)
  const stitched = stitchRows(
    ring1.map((k) => one.points[k]),
    ring2.map((k) => two.points[k]),
  )
  const id = stitched.map((v) => (v <= n ? ring1[v] : n + ring2[v - n - 1]))
  const loop: Loop = {
    points: [...one.points, ...two.points],
    vertices: [...one.vertices, ...two.vertices],
    against: [...one.against, ...two.against],
  }
  const patch = patchLoop(
    ground,
    loop,
    flat ? 'flat' : 'smooth',
    woundBy(id, (p, q) => (p < n && q < n && q === (p + 1) % n) || (p >= n && q >= n && q - n === (p - n + 1) % m)),
  )
  return { mesh: joinPatches(mesh, [{ loop, patch }]), gap, edges: n + m, firstNew, whole: true }
}

/** Turns triangles so that loop edges i -> i + 1 run forward in them. */
const wound = (triangles: number[], n: number): number[] => woundBy(triangles, (p, q) => q === (p + 1) % n)

function woundBy(triangles: number[], forward: (p: number, q: number) => boolean): number[] {
  let ahead = 0,
    against = 0
  for (let i = 0; i < triangles.length; i += 3)
    for (let c = 0; c < 3; c++) {
      const p = triangles[i + c],
        q = triangles[i + ((c + 1) % 3)]
      if (forward(p, q)) ahead++
      if (forward(q, p)) against++
    }
  if (ahead >= against) return triangles
  const out = [...triangles]
  for (let i = 0; i < out.length; i += 3) [out[i], out[i + 1]] = [out[i + 1], out[i]]
  return out
}
