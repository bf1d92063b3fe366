/**
 * Exact bodies from their parts. They go to the kernel as the entities of ISO 10303-42 (geometry and topology) in a text of ISO 10303-21:
 * its reader puts in seams, poles and curves in parameters.
 */
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import type { BoundBody, BoundCurve, BoundFace } from '@/core/bodies/bounded'
import type { ExactBody } from '@/core/bodies/body'
import { addScaled, dot, normalize, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import { finish } from './build'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { vec } from './queries'
import { withKernel } from './scope'
import { freeEdges } from './sheets'

const real = (v: number): string => {
  const s = (Object.is(v, -0) ? 0 : v).toPrecision(15).replace(/e([+-])/, 'E$1')
  const [m, e] = s.split('E')
  const mantissa = m.includes('.') ? m.replace(/0+$/, '') : `${m}.`
  return e ? `${mantissa}E${e}` : mantissa
}
const list = (items: readonly string[]) => `(${items.join(',')})`

/** Lines of entities, numbered as they come. */
class Entities {
  readonly lines: string[] = []
  private readonly known = new Map<string, string>()
  add(text: string): string {
    const seen = this.known.get(text)
    if (seen) return seen
    const id = `#${this.lines.length + 1}`
    this.lines.push(`${id}=${text};`)
    this.known.set(text, id)
    return id
  }
  /** An entity that stands alone even where another has the same text. */
  own(text: string): string {
    const id = `#${this.lines.length + 1}`
    this.lines.push(`${id}=${text};`)
    return id
  }
  point(p: Vec3) {
    return this.add(`CARTESIAN_POINT('',${list(p.map(real))})`)
  }
  direction(d: Vec3) {
    return this.add(`DIRECTION('',${list(normalize(d).map(real))})`)
  }
  frame(at: Vec3, axis: Vec3, x: Vec3) {
    return this.add(`AXIS2_PLACEMENT_3D('',${this.point(at)},${this.direction(axis)},${this.direction(x)})`)
  }
}

function curveText(e: Entities, c: BoundCurve, from: Vec3, to: Vec3): string {
  switch (c.kind) {
    case 'line': {
      const d = sub(to, from)
      const vector = e.add(`VECTOR('',${e.direction(d)},1.)`)
      return e.own(`LINE('',${e.point(from)},${vector})`)
    }
    case 'circle': {
      const out = sub(from, c.centre)
      const x = normalize(addScaled(out, c.axis, -dot(out, c.axis)))
      return e.own(`CIRCLE('',${e.frame(c.centre, c.axis, x)},${real(c.radius)})`)
    }
    case 'ellipse':
      return e.own(`ELLIPSE('',${e.frame(c.centre, c.axis, c.long)},${real(c.radius)},${real(c.minor)})`)
    case 'spline': {
      const poles = list(c.poles.map((p) => e.point(p)))
      const closed = from === to ? '.T.' : '.F.'
      return e.own(
        `B_SPLINE_CURVE_WITH_KNOTS('',${c.degree},${poles},.UNSPECIFIED.,${closed},.F.,${list(c.multiplicities.map(String))},${list(c.knots.map(real))},.UNSPECIFIED.)`,
      )
    }
  }
}

function surfaceText(e: Entities, { surface: s, x }: BoundFace): string {
  if (s.kind === 'spline') {
    const poles = list(s.poles.map((row) => list(row.map((p) => e.point(p)))))
    const [u, v] = s.knots.map((k) => list(k.map(real)))
    const [mu, mv] = s.multiplicities.map((m) => list(m.map(String)))
    return e.own(
      `B_SPLINE_SURFACE_WITH_KNOTS('',${s.degree},${s.degree},${poles},.UNSPECIFIED.,.F.,.F.,.F.,${mu},${mv},${u},${v},.UNSPECIFIED.)`,
    )
  }
  const axis = s.axis ?? perpendicular(x)
  switch (s.kind) {
    case 'plane':
      return e.own(`PLANE('',${e.frame(s.at, axis, x)})`)
    case 'cylinder':
      return e.own(`CYLINDRICAL_SURFACE('',${e.frame(s.at, axis, x)},${real(s.radius!)})`)
    case 'cone':
      return e.own(`CONICAL_SURFACE('',${e.frame(s.at, axis, x)},0.,${real((s.halfAngle! * Math.PI) / 180)})`)
    case 'sphere':
      return e.own(`SPHERICAL_SURFACE('',${e.frame(s.at, axis, x)},${real(s.radius!)})`)
    case 'ring':
      return e.own(`TOROIDAL_SURFACE('',${e.frame(s.at, axis, x)},${real(s.radius!)},${real(s.thickness!)})`)
  }
}

/** The body as a text of ISO 10303-21, schema AP214. */
function textOf(b: BoundBody): string {
  const e = new Entities()
  const corners = b.corners.map((p) => e.own(`VERTEX_POINT('',${e.point(p)})`))
  const edges = b.edges.map((k) => {
    const curve = curveText(e, k.curve, b.corners[k.from], b.corners[k.to])
    return e.own(`EDGE_CURVE('',${corners[k.from]},${corners[k.to]},${curve},.T.)`)
  })
  const faces = b.faces.map((f) => {
    const surface = surfaceText(e, f)
    const bounds = f.loops.map((loop, i) => {
      const oriented = loop.map((l) => e.own(`ORIENTED_EDGE('',*,*,${edges[l.edge]},${l.forward ? '.T.' : '.F.'})`))
      return e.own(`${i ? 'FACE_BOUND' : 'FACE_OUTER_BOUND'}('',${e.own(`EDGE_LOOP('',${list(oriented)})`)},.T.)`)
    })
    if (!f.loops.length) {
      // A whole sphere or ring: a loop of one corner on it.
      const s = f.surface
      if (s.kind === 'spline') throw new RangeError('a spline surface has a border')
      const at =
        s.kind === 'sphere'
          ? addScaled(s.at, s.axis ?? perpendicular(f.x), -s.radius!)
          : addScaled(s.at, f.x, s.radius! + (s.thickness ?? 0))
      const loop = e.own(`VERTEX_LOOP('',${e.own(`VERTEX_POINT('',${e.point(at)})`)})`)
      bounds.push(e.own(`FACE_BOUND('',${loop},.T.)`))
    }
    return e.own(`ADVANCED_FACE('',${list(bounds)},${surface},${f.flip ? '.F.' : '.T.'})`)
  })
  const shell = (kind: string, some: readonly number[]) => e.own(`${kind}('',${list(some.map((i) => faces[i]))})`)
  const items = b.shells.map(({ outer, hollows }) => {
    if (!b.closed) return e.own(`SHELL_BASED_SURFACE_MODEL('',(${shell('OPEN_SHELL', outer)}))`)
    const out = shell('CLOSED_SHELL', outer)
    if (!hollows.length) return e.own(`MANIFOLD_SOLID_BREP('',${out})`)
    // Hollows stand as they look from the material: their shells are not turned.
    const voids = hollows.map((h) => e.own(`ORIENTED_CLOSED_SHELL('',*,${shell('CLOSED_SHELL', h)},.T.)`))
    return e.own(`BREP_WITH_VOIDS('',${out},${list(voids)})`)
  })
  const mm = e.own('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))')
  const rad = e.own('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))')
  const sr = e.own('(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())')
  const close = e.own(`UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-07),${mm},'distance_accuracy_value','')`)
  const context = e.own(
    `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((${close}))GLOBAL_UNIT_ASSIGNED_CONTEXT((${mm},${rad},${sr}))REPRESENTATION_CONTEXT('',''))`,
  )
  const zero = e.frame([0, 0, 0], [0, 0, 1], [1, 0, 0])
  const kind = b.closed ? 'ADVANCED_BREP_SHAPE_REPRESENTATION' : 'MANIFOLD_SURFACE_SHAPE_REPRESENTATION'
  const representation = e.own(`${kind}('',(${zero},${items.join(',')}),${context})`)
  const application = e.own("APPLICATION_CONTEXT('core data for automotive mechanical design processes')")
  e.own(`APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2000,${application})`)
  const product = e.own(`PRODUCT('body','body','',(${e.own(`PRODUCT_CONTEXT('',${application},'mechanical')`)}))`)
  const formation = e.own(`PRODUCT_DEFINITION_FORMATION('','',${product})`)
  const definition = e.own(
    `PRODUCT_DEFINITION('design','',${formation},${e.own(`PRODUCT_DEFINITION_CONTEXT('part definition',${application},'design')`)})`,
  )
  const shape = e.own(`PRODUCT_DEFINITION_SHAPE('','',${definition})`)
  e.own(`SHAPE_DEFINITION_REPRESENTATION(${shape},${representation})`)
  return [
    'ISO-10303-21;',
    "HEADER;FILE_DESCRIPTION((''),'2;1');FILE_NAME('','2000-01-01T00:00:00',(''),(''),'','','');FILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }'));ENDSEC;",
    'DATA;',
    ...e.lines,
    'ENDSEC;',
    'END-ISO-10303-21;',
  ].join('\n')
}

/** A body, or the numbers of the faces that are not sound. */
export type Bound = { readonly body: ExactBody } | { readonly faulty: readonly number[]; readonly why: StepError }

/** Numbers of the faces whose edges lie farther off them than `most` mm: the kernel takes any gap, as a tolerance, for sound. */
const gaping = (oc: Kernel, faces: readonly TopoDS_Shape[], most: number): number[] =>
  faces.flatMap((f, i) => (oc.BRep_Tool.MaxTolerance(f, 'TopAbs_EDGE' as never) > most ? [i] : []))

const kernelKinds: Readonly<Record<BoundFace['surface']['kind'], string>> = {
  spline: 'GeomAbs_BSplineSurface',
  plane: 'GeomAbs_Plane',
  cylinder: 'GeomAbs_Cylinder',
  cone: 'GeomAbs_Cone',
  sphere: 'GeomAbs_Sphere',
  ring: 'GeomAbs_Torus',
}

/** Which of the faces asked for each face of the kernel is: it divides some. Told by their kind and the corners they share; -1 where none are. */
function madeOf(oc: Kernel, faces: readonly TopoDS_Shape[], b: BoundBody): (face: TopoDS_Shape, i: number) => number {
  if (faces.length === b.faces.length) return (_, i) => i
  const key = (p: Vec3) => p.map((v) => Math.round(v * 1e4)).join(' ')
  const at = new Map<string, number[]>()
  b.faces.forEach((f, i) => {
    const own = new Set(f.loops.flatMap((l) => l.flatMap((e) => [b.edges[e.edge].from, b.edges[e.edge].to])))
    for (const c of own) {
      const k = key(b.corners[c])
      at.set(k, [...(at.get(k) ?? []), i])
    }
  })
  return (face) => {
    const votes = new Map<number, number>()
    const kind = String(new oc.BRepAdaptor_Surface(oc.TopoDS.Face(face), true).GetType())
    for (const v of new ShapeIndex(oc, face, 'TopAbs_VERTEX').list)
      for (const i of at.get(key(vec(oc.BRep_Tool.Pnt(oc.TopoDS.Vertex(v))))) ?? [])
        if (kernelKinds[b.faces[i].surface.kind] === kind) votes.set(i, (votes.get(i) ?? 0) + 1)
    return [...votes].sort((x, y) => y[1] - x[1] || x[0] - y[0])[0]?.[0] ?? -1
  }
}

/** Numbers of the faces that the kernel finds not sound; empty where it cannot tell which. */
function faultyFaces(oc: Kernel, shape: TopoDS_Shape, b: BoundBody): number[] {
  const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE').list
  const own = madeOf(oc, faces, b)
  const check = new oc.BRepCheck_Analyzer(shape, true)
  return [...new Set(faces.flatMap((f, i) => (check.IsValid(f) ? [] : [own(f, i)])))].filter((i) => i >= 0)
}

/**
 * A solid, or a sheet where it is open; or which of its faces are not sound. `what` begins the sentence of a failure, `name` the names of
 * its faces; edges may lie off their faces by `mostGap` mm.
 */
export const boundedBody = (
  b: BoundBody,
  what: string,
  name: string,
  mostGap: number,
  work: Work = quiet,
): Promise<Bound> =>
  withKernel(what, (oc) => {
    const path = '/bounded.step'
    oc.FS.writeFile(path, new TextEncoder().encode(textOf(b)))
    const reader = new oc.STEPControl_Reader()
    const status = String(reader.ReadFile(path))
    oc.FS.unlink(path)
    if (status !== 'IFSelect_RetDone') throw new StepError('kernel', `${what} could not be given to the exact kernel.`)
    checkStop(work)
    work.progress(0.2, 'faces and edges')
    reader.TransferRoots(new oc.Message_ProgressRange())
    checkStop(work)
    work.progress(0.7, 'checking the body')
    const shape = reader.OneShape()
    const faces = shape.IsNull() ? [] : new ShapeIndex(oc, shape, 'TopAbs_FACE').list
    const wide = gaping(oc, faces, mostGap)
    if (wide.length) {
      const why = new StepError('not-valid', `${what} leaves gaps of more than ${num(mostGap, 4)} mm at its edges.`)
      const own = madeOf(oc, faces, b)
      return { faulty: [...new Set(wide.map((i) => own(faces[i], i)))].filter((i) => i >= 0), why }
    }
    try {
      const body = finish(oc, shape, { what, prefix: `${name}/`, sheet: true, outward: b.closed })
      if (!b.closed || body.kind === 'solid') return { body }
      // What should close and does not: the faces along the edges that one face has for itself.
      const own = madeOf(oc, faces, b)
      const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE')
      const free = new Set(freeEdges(oc, shape))
      const beside = faces.flatMap((f, i) =>
        new ShapeIndex(oc, f, 'TopAbs_EDGE').list.some((e) => free.has(edges.indexOf(e))) ? [own(f, i)] : [],
      )
      return {
        faulty: [...new Set(beside)].filter((i) => i >= 0),
        why: new StepError('not-valid', `${what} does not close.`),
      }
    } catch (error) {
      if (!(error instanceof StepError) || (error.code !== 'not-valid' && error.code !== 'empty-result')) throw error
      return { faulty: shape.IsNull() ? [] : faultyFaces(oc, shape, b), why: error }
    }
  })
