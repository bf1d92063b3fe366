/**
 * Round rims of a mesh rounded or cut off on the mesh itself: a ring turned about the rim's own axis is taken away from an outer edge, or
 * added in an inner one. The new faces are exact, whatever the facets beside them.
 */
import type { Body, MeshBody } from '@/core/bodies/body'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span, type Work } from '@/core/base/work'
import type { SpaceRow } from '@/core/find/taken-rows'
import { makeRevolution } from '@/core/kernels/exact/revolve'
import { addScaled, cross, dot, length, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { drawingPlane, type Curve, type Place } from '@/core/outline/drawing'
import { profileOf } from '@/core/outline/profile'
import { geometricCircle, Sums } from '@/core/trace/fits'
import { joinBodies } from './boolean'

/** A rim that is a circle between a plane square to its axis and a wall along it. */
export interface RoundRim {
  readonly centre: Vec3
  /** Unit, outward normal of the flat side. */
  readonly axis: Vec3
  readonly radius: number
  /** The wall looks outward, as a boss does; a bore's looks inward. */
  readonly boss: boolean
  /** An edge that stands out; else the corner of a recess. */
  readonly outer: boolean
  /** Greatest distance of its corners from the circle, mm. */
  readonly off: number
  /** How far its longest side lies within the circle, mm. */
  readonly sag: number
}

/** A row is a circle when its corners lie within this share of the radius. */
const roundShare = 0.004

/** The circle that a closed row of sharp edges is; null where it is none, or does not lie between a flat side and a straight wall. */
export function roundRim(mesh: TriMesh, row: SpaceRow): RoundRim | null {
  const { places } = row
  if (!row.closed || places.length < 8) return null
  let sum: Vec3 = [0, 0, 0]
  for (let i = 0; i < places.length; i++)
    sum = addScaled(sum, cross(sub(places[i], places[0]), sub(places[(i + 1) % places.length], places[0])), 1)
  const plane = drawingPlane(places[0], normalize(sum))
  const y = cross(plane.normal, plane.x)
  const flat = places.map((p): Place => [dot(sub(p, plane.at), plane.x), dot(sub(p, plane.at), y)])
  const first = new Sums(flat).circle(0, flat.length)
  if (!first) return null
  const { centre: c, radius } = geometricCircle(flat, first)
  let off = 0
  places.forEach((p, i) => {
    off = Math.max(
      off,
      Math.abs(dot(sub(p, plane.at), plane.normal)),
      Math.abs(Math.hypot(flat[i][0] - c[0], flat[i][1] - c[1]) - radius),
    )
  })
  if (off > roundShare * radius) return null
  const centre = addScaled(addScaled(plane.at, plane.x, c[0]), y, c[1])
  // The two sides, at the first edge of the row.
  const found = sidesOf(mesh, places[0], places[1])
  if (!found) return null
  const along = (n: Vec3) => Math.abs(dot(n, plane.normal))
  const [top, wall] = along(found[0].normal) > along(found[1].normal) ? found : [found[1], found[0]]
  if (along(top.normal) < 0.999 || along(wall.normal) > 0.03) return null
  const axis = dot(top.normal, plane.normal) > 0 ? plane.normal : scale(plane.normal, -1)
  const middle = scale(addScaled(places[0], places[1], 1), 0.5)
  const boss = dot(wall.normal, sub(middle, centre)) > 0
  const outer = dot(sub(wall.far, middle), axis) < 0
  const longest = Math.max(...places.map((p, i) => length(sub(p, places[(i + 1) % places.length]))))
  return { centre, axis, radius, boss, outer, off, sag: longest ** 2 / (8 * radius) }
}

/** The triangles on both sides of an edge between two places: their normals and far corners. */
function sidesOf(mesh: TriMesh, a: Vec3, b: Vec3) {
  const { twin } = buildTopology(mesh)
  const tri = mesh.triangles
  const near = (p: Vec3, q: Vec3) => length(sub(p, q)) < 1e-6 * (1 + length(q))
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] < 0) continue
    const [p, q] = [vertex(mesh, tri[h]), vertex(mesh, tri[nextIn(h)])]
    if (!near(p, a) || !near(q, b)) continue
    return [h, twin[h]].map((g) => ({
      normal: normalize(crossOf(mesh, triangleOf(g))),
      far: vertex(mesh, tri[nextIn(nextIn(g))]),
    }))
  }
  return null
}

/** The half profile of the ring, as radius and height over the rim's plane. */
function profile(r: RoundRim, sort: 'fillet' | 'chamfer', size: number, second: number) {
  // Toward the wall's own side counts as plus: a boss has it inward, a bore outward.
  const s = r.boss ? 1 : -1
  const spare = 0.1 * size + 0.01
  // In the corner's own measure: x away from the wall into the open for an inner edge, into the body for an outer one; z down the wall.
  const place = (x: number, z: number): Place => (r.outer ? [r.radius - s * x, -z] : [r.radius + s * x, z])
  if (sort === 'chamfer') {
    const points = [place(size, 0), place(0, second), place(-spare, second), place(-spare, -spare), place(size, -spare)]
    return { points, curves: loop(points.length) }
  }
  const points = [
    place(size, 0),
    place(0, size),
    place(-spare, size),
    place(-spare, -spare),
    place(size, -spare),
    place(size, size),
  ]
  const [a, b, m] = [points[0], points[1], points[5]]
  const ccw = (a[0] - m[0]) * (b[1] - m[1]) - (a[1] - m[1]) * (b[0] - m[0]) > 0
  const curves: Curve[] = [{ kind: 'arc', from: 0, to: 1, centre: 5, ccw }, ...loop(5).slice(1)]
  return { points, curves }
}
const loop = (n: number): Curve[] =>
  Array.from({ length: n }, (_, i): Curve => ({ kind: 'line', from: i, to: (i + 1) % n }))

/** How far the rim's own flat side and wall reach, mm: a larger size would leave the body. */
function room(mesh: TriMesh, r: RoundRim): number {
  const search = new MeshSearch(mesh)
  const out = normalize(cross(r.axis, Math.abs(r.axis[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]))
  const side = r.boss === r.outer ? -1 : 1
  const step = 1e-3 * r.radius
  // Along the flat side, just below it, to where the body ends; from beyond the facets, which lie on both sides of the circle.
  const clear = step + r.off + r.sag
  const start = addScaled(addScaled(r.centre, out, r.radius + side * clear), r.axis, r.outer ? -step : step)
  const hit = search.first(start, scale(out, side))
  return Math.min(hit ? hit.distance + clear : Infinity, r.boss && r.outer ? r.radius : Infinity)
}

/**
 * @param size radius of the fillet, or the chamfer's distance on the flat side, mm
 * @param second the chamfer's distance down the wall, mm
 * Throws StepError `too-large`.
 */
export async function rimFeature(
  name: string,
  body: MeshBody,
  rims: readonly RoundRim[],
  sort: 'fillet' | 'chamfer',
  size: number,
  second: number,
  work: Work,
): Promise<{ body: Body; volume: number; volumeBefore: number }> {
  let now: Body = body
  let before: number | null = null
  let volume = 0
  for (const [i, r] of rims.entries()) {
    const most = room(body.mesh, r)
    if (!(size < most))
      throw new StepError(
        'too-large',
        `A ${sort} of ${num(size)} mm does not fit on the rim of Ø ${num(2 * r.radius)}; up to ${num(most, 2)} mm has room.`,
        {
          where: { body: name, point: addScaled(r.centre, r.axis, 0) },
          tryThis: 'Take a smaller one.',
          offer: { set: sort === 'fillet' ? 'radius' : 'distance', to: Math.floor(most * 90) / 100 },
        },
      )
    const plane = drawingPlane(r.centre, cross(planeX(r.axis), r.axis), planeX(r.axis))
    const ring = await makeRevolution(
      profileOf(name, { plane, drawing: profile(r, sort, size, second), reference: [] }, []),
      { at: r.centre, axis: r.axis, angle: 360, back: 0, name: `${sort} ${i + 1}` },
    )
    const done = await joinBodies(
      r.outer ? 'difference' : 'union',
      [
        { name, body: now },
        { name: `${sort} ${i + 1}`, body: ring },
      ],
      { chord: 0.005 },
      span(work, i / rims.length, 1 / rims.length),
    )
    before ??= Number(done.facts.volumeBefore)
    volume = Number(done.facts.volume)
    now = done.body
  }
  return { body: now, volume, volumeBefore: before ?? volume }
}

/** A direction square to an axis. */
const planeX = (axis: Vec3): Vec3 => normalize(cross(axis, Math.abs(axis[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]))
