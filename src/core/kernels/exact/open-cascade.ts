/** Adapter to the Open CASCADE kernel: exact bodies are made, combined, faceted, measured, read and written here and nowhere else. */
import loadKernel, { type OpenCascadeInstance, type TopoDS_Shape } from 'replicad-opencascadejs'
import type { SolidBody, SolidDisplay, SolidFacts } from '@/core/bodies/body'
import type { Affine } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { StepError } from '@/core/base/step-error'

type Kernel = OpenCascadeInstance
let loading: Promise<Kernel> | null = null

/** The kernel, loaded once (about 0.7 s). */
export function exactKernel(): Promise<Kernel> {
  loading ??= loadKernel({ print: () => {}, printErr: () => {} })
  return loading
}

/** Runs kernel work; a kernel exception becomes a sentence. */
async function withKernel<T>(what: string, work: (oc: Kernel) => T): Promise<T> {
  const oc = await exactKernel()
  try {
    return work(oc)
  } catch (error) {
    if (error instanceof StepError) throw error
    if (error instanceof WebAssembly.RuntimeError) {
      loading = null // an instance that ran out of memory is not to be trusted again
      throw new StepError('out-of-memory', `${what} needs more memory than the exact kernel has.`, {
        tryThis: 'Work with fewer faces, or as a mesh.',
      })
    }
    let reason = 'unknown reason'
    try {
      reason = oc.getExceptionMessage(error as never)[0].replace(/^Standard_|^StdFail_/, '')
    } catch {
      if (error instanceof Error) reason = error.message
    }
    throw new StepError('kernel', `${what} failed in the exact kernel (${reason}).`, {
      tryThis: 'Change a size or the place a little and try again.',
    })
  }
}

const kindNames: Record<string, keyof SolidFacts['faceKinds']> = {
  GeomAbs_Plane: 'plane',
  GeomAbs_Cylinder: 'cylinder',
  GeomAbs_Cone: 'cone',
  GeomAbs_Sphere: 'sphere',
  GeomAbs_Torus: 'torus',
  GeomAbs_BSplineSurface: 'bspline',
  GeomAbs_BezierSurface: 'bspline',
}

const tidy = (v: number) => (Math.abs(v) < 1e-12 ? 0 : Number(v.toPrecision(15)))

function measure(oc: Kernel, shape: TopoDS_Shape): SolidFacts {
  const faceKinds = { plane: 0, cylinder: 0, cone: 0, sphere: 0, torus: 0, bspline: 0, other: 0 }
  let faces = 0
  const edges = new Map<number, TopoDS_Shape[]>()
  let edgeCount = 0
  const each = (kind: 'TopAbs_FACE' | 'TopAbs_EDGE', visit: (s: TopoDS_Shape) => void) => {
    const e = new oc.TopExp_Explorer(shape, kind as never)
    for (; e.More(); e.Next()) visit(e.Current())
    e.delete()
  }
  each('TopAbs_FACE', (face) => {
    faces++
    const a = new oc.BRepAdaptor_Surface(oc.TopoDS.Face(face), true)
    faceKinds[kindNames[String(a.GetType())] ?? 'other']++
    a.delete()
  })
  each('TopAbs_EDGE', (edge) => {
    const h = oc.ReplicadShapeHasher.HashCode(edge, 2147483647)
    const list = edges.get(h) ?? []
    if (list.some((e) => e.IsSame(edge))) return
    list.push(edge)
    edges.set(h, list)
    edgeCount++
  })
  const volume = new oc.GProp_GProps(),
    area = new oc.GProp_GProps()
  oc.BRepGProp.VolumeProperties(shape, volume, true, false, false)
  oc.BRepGProp.SurfaceProperties(shape, area, false, false)
  const box = new oc.Bnd_Box()
  oc.BRepBndLib.AddOptimal(shape, box, false, false)
  const check = new oc.BRepCheck_Analyzer(shape, true, false, false)
  const valid = check.IsValid()
  box.SetGap(0)
  const lo: Vec3 = [box.GetXMin(), box.GetYMin(), box.GetZMin()],
    hi: Vec3 = [box.GetXMax(), box.GetYMax(), box.GetZMax()]
  const mm = (v: number) => Number(v.toFixed(6))
  const solids = new oc.TopExp_Explorer(shape, 'TopAbs_SOLID' as never)
  let pieces = 0
  for (; solids.More(); solids.Next()) pieces++
  const facts: SolidFacts = {
    pieces,
    faces,
    edges: edgeCount,
    valid,
    closed: pieces > 0,
    faceKinds,
    size: [mm(hi[0] - lo[0]), mm(hi[1] - lo[1]), mm(hi[2] - lo[2])],
    min: [mm(lo[0]), mm(lo[1]), mm(lo[2])],
    volume: tidy(volume.Mass()),
    area: tidy(area.Mass()),
  }
  for (const o of [volume, area, box, check, solids]) o.delete()
  return facts
}

/** Greatest turn between neighbouring facets, radians, beside the chord tolerance. */
const facetTurn = 0.35

function facet(oc: Kernel, shape: TopoDS_Shape, tolerance: number): SolidDisplay {
  const data = oc.ReplicadMeshExtractor.extract(shape, tolerance, facetTurn, false)
  const lineData = oc.ReplicadEdgeMeshExtractor.extract(shape, tolerance, facetTurn)
  try {
    const memory = oc.wasmMemory.buffer
    const positions = new Float32Array(memory, data.getVerticesPtr(), data.getVerticesSize()).slice()
    const normals = new Float32Array(memory, data.getNormalsPtr(), data.getNormalsSize()).slice()
    const triangles = new Uint32Array(memory, data.getTrianglesPtr(), data.getTrianglesSize()).slice()
    const groups = new Int32Array(memory, data.getFaceGroupsPtr(), data.getFaceGroupsSize()).slice()
    const lines = new Float32Array(memory, lineData.getLinesPtr(), lineData.getLinesSize()).slice()
    const face = new Uint32Array(triangles.length / 3)
    for (let g = 0; g < groups.length; g += 3) face.fill(g / 3, groups[g] / 3, (groups[g] + groups[g + 1]) / 3)
    return { positions, normals, triangles, face, lines }
  } finally {
    data.delete()
    lineData.delete()
  }
}

const defaultTolerance = (facts: SolidFacts) => Math.min(0.05, Math.max(0.002, 2e-4 * Math.hypot(...facts.size)))

/** Validates a shape and makes it a body: closed, valid, volume above zero. A compound of one solid is that solid. */
function finish(oc: Kernel, shape: TopoDS_Shape, what: string): SolidBody {
  if (shape.IsNull())
    throw new StepError('empty-result', `${what} leaves nothing.`, { tryThis: 'Check that the bodies overlap.' })
  let whole = shape
  if (String(shape.ShapeType()) === 'TopAbs_COMPOUND') {
    const e = new oc.TopExp_Explorer(shape, 'TopAbs_SOLID' as never)
    if (!e.More())
      throw new StepError('empty-result', `${what} leaves nothing.`, { tryThis: 'Check that the bodies overlap.' })
    const only = e.Current()
    e.Next()
    if (!e.More()) whole = only
    e.delete()
  }
  const facts = measure(oc, whole)
  if (!facts.valid || !(facts.volume > 0))
    throw new StepError(
      'not-valid',
      `${what} gives a body that is not sound (volume ${facts.volume.toFixed(3)} mm³).`,
      { tryThis: 'Change a size or the place a little and try again.' },
    )
  const tolerance = defaultTolerance(facts)
  const display = facet(oc, whole, tolerance)
  oc.BRepTools.Clean(whole, true) // facets are kept beside the shape, not in its text
  return { kind: 'solid', brep: oc.BRepToolsWrapper.Write(whole), facts, display, tolerance }
}

const read = (oc: Kernel, body: SolidBody): TopoDS_Shape => {
  const shape = oc.BRepToolsWrapper.Read(body.brep)
  if (shape.IsNull()) throw new StepError('bad-body', 'The exact shape of a body could not be read back.')
  return shape
}

const axes = (oc: Kernel, at: Vec3, axis: Vec3, x?: Vec3) =>
  x
    ? new oc.gp_Ax2(new oc.gp_Pnt(...at), new oc.gp_Dir(...axis), new oc.gp_Dir(...x))
    : new oc.gp_Ax2(new oc.gp_Pnt(...at), new oc.gp_Dir(...axis))

/** Cylinder from the middle of its base along `axis`. */
export const makeCylinder = (radius: number, height: number, at: Vec3, axis: Vec3): Promise<SolidBody> =>
  withKernel('Cylinder', (oc) =>
    finish(oc, new oc.BRepPrimAPI_MakeCylinder(axes(oc, at, axis), radius, height).Shape(), 'Cylinder'),
  )

/** Block with one corner at `corner` and edges along x, axis x x and axis. */
export const makeBlock = (size: Vec3, corner: Vec3, axis: Vec3, x: Vec3): Promise<SolidBody> =>
  withKernel('Block', (oc) =>
    finish(oc, new oc.BRepPrimAPI_MakeBox(axes(oc, corner, axis, x), size[0], size[1], size[2]).Shape(), 'Block'),
  )

/** Boolean of exact bodies; difference takes all later ones from the first. Faces on one surface are merged. */
export const combineSolids = (
  kind: 'union' | 'difference' | 'intersection',
  bodies: readonly SolidBody[],
): Promise<SolidBody> =>
  withKernel(kind[0].toUpperCase() + kind.slice(1), (oc) => {
    const title = kind[0].toUpperCase() + kind.slice(1)
    let shape = read(oc, bodies[0])
    const range = new oc.Message_ProgressRange()
    for (const other of bodies.slice(1)) {
      const tool = read(oc, other)
      const op =
        kind === 'union'
          ? new oc.BRepAlgoAPI_Fuse(shape, tool, range)
          : kind === 'difference'
            ? new oc.BRepAlgoAPI_Cut(shape, tool, range)
            : new oc.BRepAlgoAPI_Common(shape, tool, range)
      if (!op.IsDone() || op.HasErrors())
        throw new StepError('boolean-failed', `The ${kind} failed in the exact kernel.`, {
          tryThis: 'Move one body by a hundredth of a millimetre and try again.',
        })
      op.SimplifyResult(true, true, 1e-6)
      shape = op.Shape()
      op.delete()
    }
    return finish(oc, shape, title)
  })

/** An exact body moved by a rigid or evenly scaling map. */
export const transformSolid = (body: SolidBody, m: Affine): Promise<SolidBody> =>
  withKernel('Moving', (oc) => {
    const t = new oc.gp_Trsf()
    t.SetValues(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11])
    return finish(oc, new oc.BRepBuilderAPI_Transform(read(oc, body), t, true, false).Shape(), 'Moving')
  })

/** Closed facets of an exact body within a chord tolerance (mm), with the exact face of each triangle. */
export const facetSolid = (body: SolidBody, tolerance: number): Promise<{ mesh: TriMesh; face: Uint32Array }> =>
  withKernel('Faceting', (oc) => {
    const d = facet(oc, read(oc, body), tolerance)
    // Each face brings its own corners; they meet to the last digits along the edges.
    const within = 1e-6 * Math.max(1, Math.hypot(...body.facts.size))
    const { mesh, map } = weldMesh({ positions: d.positions, triangles: d.triangles }, within)
    const face = new Uint32Array(mesh.triangles.length / 3)
    let o = 0
    for (let t = 0; t < d.face.length; t++) {
      const a = map[d.triangles[3 * t]],
        b = map[d.triangles[3 * t + 1]],
        c = map[d.triangles[3 * t + 2]]
      if (a !== b && b !== c && a !== c) face[o++] = d.face[t]
    }
    return { mesh, face }
  })

/** Smallest distance between two exact bodies, mm; 0 when they touch or overlap. */
export const solidDistance = (a: SolidBody, b: SolidBody): Promise<number> =>
  withKernel('Measuring', (oc) => {
    const d = new oc.BRepExtrema_DistShapeShape(read(oc, a), read(oc, b), new oc.Message_ProgressRange())
    const v = d.Value()
    d.delete()
    return v
  })

/** STEP text (ISO 10303-214) of exact bodies. The date in the head is fixed, so the same bodies give the same bytes. */
export const writeStep = (bodies: readonly { name: string; body: SolidBody }[]): Promise<Uint8Array> =>
  withKernel('Writing STEP', (oc) => {
    const writer = new oc.STEPControl_Writer()
    for (const { body } of bodies) {
      const status = writer.Transfer(read(oc, body), 'STEPControl_AsIs' as never, true, new oc.Message_ProgressRange())
      if (String(status) !== 'IFSelect_RetDone')
        throw new StepError('kernel', 'The exact kernel could not turn a body into STEP.')
    }
    const path = '/out.step'
    writer.Write(path)
    const text = oc.FS.readFile(path, { encoding: 'utf8' })
    oc.FS.unlink(path)
    writer.delete()
    const names = bodies.map((b) => b.name.replace(/[^\x20-\x7e]|['\\]/g, '_'))
    let product = 0
    const named = text
      .replace(
        /FILE_NAME\([\s\S]*?\);/,
        `FILE_NAME('${names.join(', ').slice(0, 200)}','2000-01-01T00:00:00',(''),(''),'','Glue Bench','');`,
      )
      .replace(/PRODUCT\('Open CASCADE STEP translator[^']*',\s*'[^']*'/g, () => {
        const n = names[product++] ?? 'body'
        return `PRODUCT('${n}','${n}'`
      })
    return new TextEncoder().encode(named)
  })

/** The solids of a STEP file, in mm. */
export const readStep = (bytes: Uint8Array): Promise<SolidBody[]> =>
  withKernel('Reading STEP', (oc) => {
    const path = '/in.step'
    oc.FS.writeFile(path, bytes)
    const reader = new oc.STEPControl_Reader()
    const status = String(reader.ReadFile(path))
    oc.FS.unlink(path)
    if (status !== 'IFSelect_RetDone')
      throw new StepError('damaged-file', 'The STEP file cannot be read.', {
        tryThis: 'Export it again as AP203, AP214 or AP242.',
      })
    reader.TransferRoots(new oc.Message_ProgressRange())
    const shape = reader.OneShape()
    const out: SolidBody[] = []
    const e = new oc.TopExp_Explorer(shape, 'TopAbs_SOLID' as never)
    for (; e.More(); e.Next()) out.push(finish(oc, e.Current(), 'Reading STEP'))
    e.delete()
    reader.delete()
    if (!out.length)
      throw new StepError('damaged-file', 'The STEP file holds no solid.', {
        tryThis: 'Bodies of loose faces cannot be read yet.',
      })
    return out
  })
