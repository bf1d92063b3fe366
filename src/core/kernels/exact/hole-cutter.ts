/** What a hole takes away: a turned body with a straight, counterbored or countersunk head. */
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { perpendicular, type Vec3 } from '@/core/math/vec'
import { finish } from './build'
import { namesFor } from './extrude'
import { shapesOf } from './names'
import { withKernel } from './scope'

export interface HoleForm {
  /** mm, or degrees where said. */
  readonly diameter: number
  readonly depth: number
  /** Runs this far out of the face as well, so that nothing is left there. */
  readonly above: number
  readonly head:
    | { readonly sort: 'none' }
    | { readonly sort: 'counterbore'; readonly diameter: number; readonly depth: number }
    | { readonly sort: 'countersink'; readonly diameter: number; readonly angle: number }
  /** Point of the drill, degrees; left out: a flat floor. */
  readonly tip?: number
}

/** The half profile of a hole from its mouth down: radius and depth, closed along the axis. Throws StepError `bad-head`. */
export function holeProfile(h: HoleForm): { r: number; z: number; name: string }[] {
  const r = h.diameter / 2
  const rows: { r: number; z: number; name: string }[] = []
  const bad = (what: string) =>
    new StepError('bad-head', what, { tryThis: 'Make the head wider than the hole and shallower than it is deep.' })
  if (h.head.sort === 'none') rows.push({ r, z: -h.above, name: 'wall' })
  else {
    const wide = h.head.diameter / 2
    if (!(wide > r)) throw bad(`The head (Ø ${h.head.diameter} mm) is no wider than the hole (Ø ${h.diameter} mm).`)
    const deep = h.head.sort === 'counterbore' ? h.head.depth : (wide - r) / Math.tan((h.head.angle * Math.PI) / 360)
    if (!(deep < h.depth)) throw bad('The head is deeper than the hole.')
    rows.push({ r: wide, z: -h.above, name: 'head wall' })
    if (h.head.sort === 'counterbore') rows.push({ r: wide, z: deep, name: 'head floor' }, { r, z: deep, name: 'wall' })
    else rows.push({ r: wide, z: 0, name: 'head' }, { r, z: deep, name: 'wall' })
  }
  rows.push({ r, z: h.depth, name: 'floor' })
  if (h.tip) rows.push({ r: 0, z: h.depth + r / Math.tan((h.tip * Math.PI) / 360), name: 'end' })
  else rows.push({ r: 0, z: h.depth, name: 'end' })
  rows.push({ r: 0, z: -h.above, name: 'mouth' })
  return rows
}

/** The cutter at a place, `axis` (unit) into the material. `name` begins the names of its faces. */
export const makeHoleCutter = (h: HoleForm, at: Vec3, axis: Vec3, name: string): Promise<ExactBody> =>
  withKernel('Hole', (oc) => {
    const rows = holeProfile(h)
    const out = perpendicular(axis)
    const place = (r: number, z: number) =>
      new oc.gp_Pnt(...([0, 1, 2].map((k) => at[k] + r * out[k] + z * axis[k]) as [number, number, number]))
    const wire = new oc.BRepBuilderAPI_MakeWire()
    const edges = rows.map((a, i) => {
      const b = rows[(i + 1) % rows.length]
      wire.Add(new oc.BRepBuilderAPI_MakeEdge(place(a.r, a.z), place(b.r, b.z)).Edge())
      return { edge: wire.Edge(), name: `${name}/${a.name}` }
    })
    const face = new oc.BRepBuilderAPI_MakeFace(wire.Wire(), true).Face()
    const op = new oc.BRepPrimAPI_MakeRevol(face, new oc.gp_Ax1(new oc.gp_Pnt(...at), new oc.gp_Dir(...axis)), false)
    const shape = op.Shape()
    const told = edges.flatMap(({ edge, name: n }) => shapesOf(oc, op.Generated(edge)).map((f) => [f, n] as const))
    return finish(oc, shape, { what: 'Hole', names: namesFor(oc, shape, told), prefix: `${name}/`, outward: true })
  })
