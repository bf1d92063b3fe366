/** What a mesh itself tells of how far its facets may lie off the surfaces they stand for: by noise, and by the height of chords. */
import type { SkinField } from '@/core/find/smooth-surface'
import { edgeLength, triangleOf } from '@/core/mesh/topology'
import { triangleCount } from '@/core/mesh/tri-mesh'

/** Facets of one round wall turn by less than this from one to the next, radians: beyond is an edge. */
export const mostTurn = (34 * Math.PI) / 180
/** What a facet may lean beside its surface where nothing bends and there is no noise, radians. */
const usualLean = (10 * Math.PI) / 180
const mostLean = (75 * Math.PI) / 180
/** Leaning by noise, in standard deviations. */
const leanTimes = 5

export interface Evidence extends SkinField {
  readonly area: Float64Array
  /** One standard deviation of a corner off its surface, mm. */
  readonly sigma: number
  /** Height of each triangle over its longest edge, mm. */
  readonly height: Float32Array
  /** How the skin turns across each edge, radians; -1 where it is open. */
  readonly turn: Float32Array
  /** What noise alone turns it there by, radians: one standard deviation. */
  readonly blur: Float32Array
  /** Cosine of what each triangle may lean beside its surface. */
  readonly lean: Float32Array
  /** How far the middles of a triangle's edges may lie off its surface, mm. */
  readonly sag: Float32Array
  /** Share of its two outlines that each edge is: 1 in a mesh of even triangles. */
  readonly share: Float32Array
}

/** What chords of nearly all that bends are high, mm: facets of uneven shape tell less than that by themselves. */
function usualSag(sag: Float32Array, area: Float64Array): number {
  const bent = Array.from(sag.keys()).filter((t) => sag[t] > 0)
  bent.sort((a, b) => sag[a] - sag[b])
  const whole = bent.reduce((s, t) => s + area[t], 0)
  let sum = 0
  return sag[bent.find((t) => (sum += area[t]) >= 0.95 * whole) ?? -1] ?? 0
}

/** @param sigma mm */
export function evidenceOf(field: SkinField, area: Float64Array, sigma: number): Evidence {
  const { mesh, topology, normals } = field
  const { twin } = topology
  const n = triangleCount(mesh)
  const long = new Float32Array(3 * n)
  const outline = new Float32Array(n)
  const height = new Float32Array(n)
  for (let t = 0; t < n; t++) {
    let most = 0
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      long[h] = edgeLength(mesh, h)
      outline[t] += long[h]
      most = Math.max(most, long[h])
    }
    height[t] = most > 0 ? (2 * area[t]) / most : 0
  }
  const turn = new Float32Array(3 * n).fill(-1)
  const blur = new Float32Array(3 * n)
  const share = new Float32Array(3 * n)
  /** Height of a triangle over one of its edges. */
  const over = (h: number) => (2 * area[triangleOf(h)]) / (long[h] || 1e-30)
  const lean = new Float32Array(n)
  const sag = new Float32Array(n)
  for (let h = 0; h < 3 * n; h++) {
    const w = twin[h]
    const t = triangleOf(h)
    share[h] = (1.5 * long[h]) / (outline[t] || 1)
    if (w < 0) continue
    const u = triangleOf(w)
    share[h] += (1.5 * long[h]) / (outline[u] || 1)
    let cos = 0
    for (let d = 0; d < 3; d++) cos += normals[3 * t + d] * normals[3 * u + d]
    turn[h] = Math.acos(Math.max(-1, Math.min(1, cos)))
    const [a, b] = [Math.max(over(h), 1e-30), Math.max(over(w), 1e-30)]
    blur[h] = sigma * Math.sqrt(1.5) * Math.hypot(1 / a, 1 / b)
    if (turn[h] > mostTurn) continue
    lean[t] = Math.max(lean[t], turn[h])
    sag[t] = Math.max(sag[t], (Math.min(a, b) * turn[h]) / 8)
  }
  const usual = usualSag(sag, area)
  for (let t = 0; t < n; t++) {
    const noise = (leanTimes * sigma) / Math.max(height[t], 1e-30)
    lean[t] = Math.cos(Math.min(mostLean, usualLean + 0.6 * lean[t] + noise))
    sag[t] = 4 * sigma + Math.max(2 * sag[t], 1.5 * usual)
  }
  return { ...field, area, sigma, height, turn, blur, lean, sag, share }
}
