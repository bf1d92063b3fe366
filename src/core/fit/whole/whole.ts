/** The shapes of a whole mesh whose noise is known, and which triangle is of which. */
import type { Work } from '@/core/base/work'
import type { SkinField } from '@/core/find/smooth-surface'
import { flood } from '@/core/mesh/flood'
import type { Fitted } from '../fit-shape'
import { radiusSigma } from '../refine'
import { samplesOf, someOf, thinned } from '../samples'
import { offsFrom } from '../shape'
import { evidenceOf } from './evidence'
import { insideOf } from './fits'
import { Labelling } from './label'
import type { Model } from './model'
import { selectShapes, type Limits } from './select'

export interface WholeRegion {
  readonly shape: Fitted | null
  readonly triangles: readonly number[]
}

/** A shape with what its region lies off it by. */
function told(mesh: SkinField['mesh'], list: readonly number[], m: Model): Fitted {
  const s = samplesOf(mesh, someOf(list, 6000))
  const off = offsFrom(m.shape)
  let [sum, max] = [0, 0]
  for (const p of s.points) {
    const d = Math.abs(off(p))
    sum += d * d
    max = Math.max(max, d)
  }
  const rms = Math.sqrt(sum / (s.points.length || 1))
  const sigma = radiusSigma(m.shape, thinned(s, 1000).points, rms)
  return { ...m.shape, rms, max, inliers: 1, ...(sigma === undefined ? {} : { sigma }), inside: insideOf(m.shape, s) }
}

/**
 * @param area of each triangle, mm²
 * @param sigma one standard deviation of corners off their surfaces, mm
 * @param size mm
 * @param limits beyond them it is given up: null
 */
export function regionsOf(
  field: SkinField,
  area: Float64Array,
  sigma: number,
  size: number,
  work: Work,
  limits?: Limits,
): { regions: WholeRegion[]; of: Int32Array } | null {
  const e = evidenceOf(field, area, sigma)
  const chosen = selectShapes(e, size, work, limits)
  if (!chosen) return null
  const { models, of } = chosen
  const labels = new Labelling(e, models, of, size)
  labels.run(work)
  // What lies apart on one shape is a face each.
  const seen = new Uint8Array(of.length)
  const number = new Int32Array(of.length).fill(-1)
  const regions: WholeRegion[] = []
  for (let s = 0; s < of.length; s++) {
    if (seen[s]) continue
    const list = flood(field.topology.twin, s, seen, (u) => of[u] === of[s]).sort((a, b) => a - b)
    const m = of[s] < 0 ? null : labels.models[of[s]]!
    for (const t of list) number[t] = regions.length
    regions.push({ shape: m && told(field.mesh, list, m), triangles: list })
  }
  return { regions, of: number }
}
