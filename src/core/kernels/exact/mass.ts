/** Area and volume of shapes, right for every kind of wall: the kernel's own sums where they are exact, finer ones where splines are. */
import type { TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs'
import { addScaled, dot, scale, sub, type Vec3 } from '@/core/math/vec'
import { ShapeIndex } from './explore'
import { faceSums, type FaceSums } from './integrals'
import type { Kernel } from './kernel'

/** Area and middle of a face. */
export interface FaceMass {
  /** mm². */
  readonly area: number
  /** Middle of its area. */
  readonly at: Vec3
}

export interface Mass {
  readonly faces: readonly FaceMass[]
  /** mm²: of all faces. */
  readonly area: number
  /** mm³; below zero where the shape is inside out. Of an open shape it means nothing. */
  readonly volume: number
  /** Centre of that volume. */
  readonly centre: Vec3
}

const elementary = /Plane|Cylinder|Cone|Sphere|Torus/
const plainCurve = /Line|Circle/
const smooth = 'GeomAbs_CN' as never

/** How well the kernel's few places serve along an edge: 0 for lines and circles, 1 for one smooth piece of another curve, 2 for several. */
function unevenness(oc: Kernel, e: TopoDS_Shape): 0 | 1 | 2 {
  const edge = oc.TopoDS.Edge(e)
  if (oc.BRep_Tool.Degenerated(edge)) return 0
  const curve = new oc.BRepAdaptor_Curve(edge)
  return plainCurve.test(String(curve.GetType())) ? 0 : curve.NbIntervals(smooth) === 1 ? 1 : 2
}

/**
 * For each face whether the kernel's few places are exact for it: a plain surface within lines and circles, or a plane or a drawn-out curve
 * of one smooth piece within such curves.
 */
function plainFaces(oc: Kernel, faces: ShapeIndex, edges: ShapeIndex): boolean[] {
  const uneven = edges.list.map((e) => unevenness(oc, e))
  const any = uneven.some((u) => u > 0)
  return faces.list.map((f) => {
    const surface = new oc.BRepAdaptor_Surface(oc.TopoDS.Face(f), true)
    const type = String(surface.GetType())
    const drawn = type === 'GeomAbs_SurfaceOfExtrusion' && surface.NbUIntervals(smooth) === 1
    if (!drawn && !elementary.test(type)) return false
    const most = drawn || type === 'GeomAbs_Plane' ? 1 : 0
    return !any || !new ShapeIndex(oc, f, 'TopAbs_EDGE').list.some((e) => uneven[edges.indexOf(e)] > most)
  })
}

/** A place in the middle of a shape, and how far it reaches from there at most, mm. */
function roughly(oc: Kernel, shape: TopoDS_Shape): { middle: Vec3; reach: number } {
  const box = new oc.Bnd_Box()
  oc.BRepBndLib.Add(shape, box, false)
  box.SetGap(0)
  const [lo, hi]: Vec3[] = [
    [box.GetXMin(), box.GetYMin(), box.GetZMin()],
    [box.GetXMax(), box.GetYMax(), box.GetZMax()],
  ]
  const middle = scale([lo[0] + hi[0], lo[1] + hi[1], lo[2] + hi[2]], 0.5)
  return { middle, reach: Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) / 2 }
}

const pointOf = (p: { X(): number; Y(): number; Z(): number }): Vec3 => [p.X(), p.Y(), p.Z()]

/**
 * Volume of a shape by the kernel's few places, mm³; below zero when it is inside out. Quick, and right enough for its sign and for which of
 * two is the larger; what is told comes from `massOf`.
 */
export function roughVolume(oc: Kernel, shape: TopoDS_Shape): number {
  const props = new oc.GProp_GProps()
  oc.BRepGProp.VolumeProperties(shape, props, true, false, false)
  return props.Mass()
}

/** Area and middle of a face by the kernel. */
function kernelFace(oc: Kernel, face: TopoDS_Shape): FaceMass {
  const props = new oc.GProp_GProps() // it adds up what it is given
  oc.BRepGProp.SurfaceProperties(face, props, false, false)
  return { area: props.Mass(), at: pointOf(props.CentreOfMass()) }
}

/** Sums of a plain flat face, from its area and middle by the kernel; null for one that is not flat. */
function plainFlatSums(oc: Kernel, face: TopoDS_Face, origin: Vec3): FaceSums | null {
  const surface = new oc.BRepAdaptor_Surface(face, true)
  if (String(surface.GetType()) !== 'GeomAbs_Plane') return null
  const { area, at } = kernelFace(oc, face)
  const plane = surface.Plane()
  const d = plane.Axis().Direction()
  const out = (String(face.Orientation()) === 'TopAbs_REVERSED') === plane.Direct() ? -1 : 1
  const from = sub(at, origin)
  const volume = (out * area * dot(from, [d.X(), d.Y(), d.Z()])) / 3
  return { area, areaMoment: scale(from, area), volume, volumeMoment: scale(from, 0.75 * volume) }
}

/**
 * Area of each face, area, volume and centre of a shape, to about nine digits. Faces of splines, and those within spline borders, are
 * summed by `faceSums`; the others by the kernel, whose Gauss places are exact for them.
 */
export function massOf(oc: Kernel, shape: TopoDS_Shape, faces: ShapeIndex, edges: ShapeIndex): Mass {
  const plain = plainFaces(oc, faces, edges)
  if (!plain.includes(false)) {
    const volume = new oc.GProp_GProps()
    const list = faces.list.map((f) => kernelFace(oc, f))
    oc.BRepGProp.VolumeProperties(shape, volume, true, false, false)
    const area = list.reduce((sum, f) => sum + f.area, 0)
    return { faces: list, area, volume: volume.Mass(), centre: pointOf(volume.CentreOfMass()) }
  }
  const { middle, reach } = roughly(oc, shape)
  const sums = faces.list.map((f, i) => {
    const face = oc.TopoDS.Face(f)
    return (plain[i] && plainFlatSums(oc, face, middle)) || faceSums(oc, face, middle, 2 * reach, reach)
  })
  // Each face as often as solids have it, since those side by side may share one.
  let volume = 0
  let moment: Vec3 = [0, 0, 0]
  const each = new oc.TopExp_Explorer(shape, 'TopAbs_FACE' as never)
  for (; each.More(); each.Next()) {
    const face = each.Current()
    const i = faces.indexOf(face)
    const way = String(face.Orientation()) === String(faces.list[i].Orientation()) ? 1 : -1
    volume += way * sums[i].volume
    moment = addScaled(moment, sums[i].volumeMoment, way)
  }
  return {
    faces: sums.map((s) => ({ area: s.area, at: addScaled(middle, s.areaMoment, s.area ? 1 / s.area : 0) })),
    area: sums.reduce((sum, s) => sum + s.area, 0),
    volume,
    centre: addScaled(middle, moment, volume ? 1 / volume : 0),
  }
}
