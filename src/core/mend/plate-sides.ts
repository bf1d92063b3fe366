/** A thin plate scanned on both sides comes as two open sheets back to back: their borders are joined all round. */
import { distance, dot, length, scale, type Vec3 } from '@/core/math/vec'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import type { Rim } from '@/core/mesh/topology'
import { triangleOf } from '@/core/mesh/topology'
import { bridgeGap } from './bridge-gap'
import { rimLength } from './loop'
import { survey, type Survey } from './survey'

/** The borders of two sides may be apart by this share of the square root of their area. Common practice, no source. */
const apartShare = 0.15
/** Sides face away from each other: cosine of the angle between their mean normals at most this. */
const backToBack = -0.8
/** Rims of one plate differ in length by less than this factor. */
const lengthFactor = 1.3
/** The band is laid by looking at all pairs of corners. */
const mostPairs = 4e6

interface Side {
  readonly rim: Rim
  readonly normal: Vec3
  readonly area: number
  readonly length: number
}

function sidesOf(s: Survey): Side[] {
  const borders = new Map<number, Rim[]>()
  s.rims.forEach((rim, r) => {
    if (!s.border[r] || !rim.closed) return
    const i = s.piece[triangleOf(rim.halfEdges[0])]
    borders.set(i, [...(borders.get(i) ?? []), rim])
  })
  const normal = new Float64Array(3 * s.kinds.length)
  for (let t = 0; t < s.piece.length; t++) {
    const c = crossOf(s.mesh, t)
    for (let k = 0; k < 3; k++) normal[3 * s.piece[t] + k] += c[k]
  }
  return [...borders].flatMap(([i, rims]) => {
    const n: Vec3 = [normal[3 * i], normal[3 * i + 1], normal[3 * i + 2]]
    const l = length(n)
    return rims.length === 1 && l > 0
      ? [{ rim: rims[0], normal: scale(n, 1 / l), area: s.area[i], length: rimLength(s.mesh, rims[0]) }]
      : []
  })
}

/** Mean distance of the corners of one rim from those of another. */
function meanApart(mesh: TriMesh, a: Rim, b: Rim): number {
  const to = b.vertices.map((v) => vertex(mesh, v))
  const step = Math.max(1, Math.floor(a.vertices.length / 64))
  let sum = 0,
    n = 0
  for (let i = 0; i < a.vertices.length; i += step) {
    const p = vertex(mesh, a.vertices[i])
    sum += Math.min(...to.map((q) => distance(p, q)))
    n++
  }
  return sum / n
}

/** Joins the borders of sheets that are the two sides of one plate. The sheets themselves are not touched. */
export function joinPlateSides(start: Survey): { mesh: TriMesh; joined: number } {
  let s = start,
    joined = 0
  for (let guard = 0; guard < 20; guard++) {
    const sides = sidesOf(s)
    if (sides.length < 2 || sides.length > 60) break
    let best: [Side, Side] | null = null,
      least = Infinity
    for (let i = 0; i < sides.length; i++)
      for (let j = i + 1; j < sides.length; j++) {
        const a = sides[i],
          b = sides[j]
        if (dot(a.normal, b.normal) > backToBack) continue
        if (Math.max(a.length, b.length) > lengthFactor * Math.min(a.length, b.length)) continue
        if (a.rim.vertices.length * b.rim.vertices.length > mostPairs) continue
        const apart = Math.max(meanApart(s.mesh, a.rim, b.rim), meanApart(s.mesh, b.rim, a.rim))
        if (apart < apartShare * Math.sqrt(Math.min(a.area, b.area)) && apart < least) {
          least = apart
          best = [a, b]
        }
      }
    if (!best) break
    const from = vertex(s.mesh, best[0].rim.vertices[0])
    const to = best[1].rim.vertices
      .map((v) => vertex(s.mesh, v))
      .reduce((p, q) => (distance(from, q) < distance(from, p) ? q : p))
    s = survey(bridgeGap(s.mesh, from, to, { flat: true }).mesh)
    joined++
  }
  return { mesh: s.mesh, joined }
}
