/** Exact bodies from numbers. */
import type { ExactBody } from '@/core/bodies/body'
import { dot, perpendicular, sub, type Vec3, cross } from '@/core/math/vec'
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { finish } from './build'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { withKernel } from './scope'

/** A frame in the kernel's terms: a place, a main direction, and the x direction where it matters. */
export const axes = (oc: Kernel, at: Vec3, axis: Vec3, x?: Vec3) =>
  x
    ? new oc.gp_Ax2(new oc.gp_Pnt(...at), new oc.gp_Dir(...axis), new oc.gp_Dir(...x))
    : new oc.gp_Ax2(new oc.gp_Pnt(...at), new oc.gp_Dir(...axis))

/** Names flat faces by the direction they lie in from a place, others by `round`. */
function namesByPlace(oc: Kernel, shape: TopoDS_Shape, say: (middle: Vec3, flat: boolean) => string): string[] {
  return new ShapeIndex(oc, shape, 'TopAbs_FACE').list.map((face) => {
    const props = new oc.GProp_GProps()
    oc.BRepGProp.SurfaceProperties(face, props, false, false)
    const c = props.CentreOfMass()
    const flat = String(new oc.BRepAdaptor_Surface(oc.TopoDS.Face(face), true).GetType()) === 'GeomAbs_Plane'
    return say([c.X(), c.Y(), c.Z()], flat)
  })
}

/** Cylinder from the middle of its base along `axis` (unit). `name` begins the names of its faces. Lengths in mm. */
export const makeCylinder = (
  radius: number,
  height: number,
  at: Vec3,
  axis: Vec3,
  name = 'cylinder',
): Promise<ExactBody> =>
  withKernel('Cylinder', (oc) =>
    finish(oc, new oc.BRepPrimAPI_MakeCylinder(axes(oc, at, axis), radius, height).Shape(), {
      what: 'Cylinder',
      names: (k, shape) =>
        namesByPlace(k, shape, (m, flat) =>
          flat ? `${name}/${dot(sub(m, at), axis) > height / 2 ? 'top' : 'base'}` : `${name}/wall`,
        ),
    }),
  )

/** Block with one corner at `corner` and edges along x, axis x x and axis (unit vectors). `name` begins the names of its faces. */
export const makeBlock = (size: Vec3, corner: Vec3, axis: Vec3, x: Vec3, name = 'block'): Promise<ExactBody> =>
  withKernel('Block', (oc) =>
    finish(oc, new oc.BRepPrimAPI_MakeBox(axes(oc, corner, axis, x), size[0], size[1], size[2]).Shape(), {
      what: 'Block',
      names: (k, shape) => {
        const y = cross(axis, x)
        const words = [
          ['left', 'right'],
          ['front', 'back'],
          ['base', 'top'],
        ]
        return namesByPlace(k, shape, (m) => {
          const d = sub(m, corner)
          const share = [x, y, axis].map((u, i) => dot(d, u) / size[i] - 0.5)
          const way = share.reduce((best, v, i) => (Math.abs(v) > Math.abs(share[best]) ? i : best), 0)
          return `${name}/${words[way][share[way] > 0 ? 1 : 0]}`
        })
      },
    }),
  )

/**
 * Cone or frustum from the middle of its base along `axis` (unit). Lengths in mm; `top`: radius of its far end, 0 for a point.
 * By revolving its half profile: the kernel's own cone is not bound.
 */
export const makeCone = (
  radius: number,
  top: number,
  height: number,
  at: Vec3,
  axis: Vec3,
  name = 'cone',
): Promise<ExactBody> =>
  withKernel('Cone', (oc) => {
    const out = perpendicular(axis)
    const place = (r: number, h: number) =>
      new oc.gp_Pnt(...([0, 1, 2].map((k) => at[k] + r * out[k] + h * axis[k]) as [number, number, number]))
    const corners: [number, number][] = [[0, 0]]
    if (radius > 0) corners.push([radius, 0])
    if (top > 0) corners.push([top, height])
    corners.push([0, height])
    const wire = new oc.BRepBuilderAPI_MakeWire()
    corners.forEach(([r, h], i) => {
      const [q, k] = corners[(i + 1) % corners.length]
      wire.Add(new oc.BRepBuilderAPI_MakeEdge(place(r, h), place(q, k)).Edge())
    })
    const face = new oc.BRepBuilderAPI_MakeFace(wire.Wire(), true).Face()
    const turned = new oc.BRepPrimAPI_MakeRevol(
      face,
      new oc.gp_Ax1(new oc.gp_Pnt(...at), new oc.gp_Dir(...axis)),
      false,
    )
    return finish(oc, turned.Shape(), {
      what: 'Cone',
      outward: true,
      names: (k, shape) =>
        namesByPlace(k, shape, (m, flat) =>
          flat ? `${name}/${dot(sub(m, at), axis) > height / 2 ? 'top' : 'base'}` : `${name}/wall`,
        ),
    })
  })

/** Sphere about a place. Lengths in mm. */
export const makeSphere = (radius: number, at: Vec3, name = 'sphere'): Promise<ExactBody> =>
  withKernel('Sphere', (oc) =>
    finish(oc, new oc.BRepPrimAPI_MakeSphere(new oc.gp_Pnt(...at), radius).Shape(), {
      what: 'Sphere',
      names: [`${name}/skin`],
    }),
  )

/** Ring: `radius` of its circle, `thickness` the radius of its tube, mm, about `axis` (unit). */
export const makeRing = (radius: number, thickness: number, at: Vec3, axis: Vec3, name = 'ring'): Promise<ExactBody> =>
  withKernel('Ring', (oc) =>
    finish(oc, new oc.BRepPrimAPI_MakeTorus(axes(oc, at, axis), radius, thickness).Shape(), {
      what: 'Ring',
      names: [`${name}/skin`],
    }),
  )
