/** A mechanical mesh as the solid that a designer would have drawn: extruded, turned, or face by face, whichever fits. */
import { checkStop, span, type Work } from '@/core/base/work'
import { many, num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import type { Fitted } from '@/core/fit/fit-shape'
import { recognise, type Recognised } from '@/core/fit/recognise'
import { organic } from '@/core/fit/organic'
import { offShape, type Shape } from '@/core/fit/shape'
import { facetSolidOf, requireManifold } from '@/core/join/facet-solid'
import { buildTopology, findRims, triangleOf, type Topology } from '@/core/mesh/topology'
import type { Vec3 } from '@/core/math/vec'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { diagonal, meshBounds, placesOf, triangleCount, vertex, verticesOf, type TriMesh } from '@/core/mesh/tri-mesh'
import { middleOf } from '@/core/mesh/triangle'
import { offHeight } from '@/core/surface/height'
import type { CleanFace } from './clean-face'
import { coarser, type Coarser } from './coarser'
import { filletsOf } from './fillets'
import { leaveOut, type LeftOut } from './leave-out'
import { faceByFace, type FaceByFace, type FaceByFaceChoice } from './face-by-face'
import { prismOf } from './prism'
import { regularise } from './regular'
import type { Regular } from './regular/finder'
import { extruded, turned, type ProfileChoice, type ProfileKind, type TracedSolid } from './traced-solid'
import { axesFound, axesThroughMiddle, turnedAbout } from './turned'

export const ways = ['best', 'extrusion', 'turning', 'faces'] as const
export type Way = (typeof ways)[number]

export interface CleanChoice {
  readonly way: Way
  /** mm; left out: from the mesh. */
  readonly tolerance?: number
  /** Curves a profile may be drawn with. */
  readonly draw: readonly ProfileKind[]
  /** Whether regularities are taken, and the texts of those that are not. */
  readonly regular: boolean
  readonly loose: readonly string[]
  /** Radius up to which fillets are left out, mm; left out itself: they stay. */
  readonly fillets?: number
  /** What lies on no shape: fitted faces, or the facets themselves. */
  readonly leftovers?: 'fitted' | 'facets'
  /** Regions that the mesh remembers; left out: they are looked for. */
  readonly found?: Recognised | null
}

export interface Cleaned {
  readonly body: ExactBody
  readonly way: Exclude<Way, 'best'>
  readonly table: readonly CleanFace[]
  readonly regular: readonly Regular[]
  /** Faces that stayed facets. */
  readonly faceted: number
  /** How far each corner of the mesh lies off its face, mm; face by face above zero outside. */
  readonly offs: readonly number[]
  readonly tolerance: number
  /** Fillets that were left out, and those that could not be. */
  readonly leftOut: number
  readonly filletsLeft: number
  /** A place of each open rim, mm. */
  readonly openings: readonly Vec3[]
  /** Face by face: the regions of the mesh that lie on a shape. */
  readonly recognised?: number
  /** Triangles that the mesh was brought down to, because its surfaces did not close as it was. */
  readonly broughtTo?: number
}

/** More facets than this beside recognised faces take the exact kernel beyond all patience. */
const mostFacets = 20_000
/** A scan whose surfaces do not close is brought down to so many triangles. */
const roughTriangles = 12_000
/** With so many, and so little of the skin told, it is no mechanical part. */
const manyFacets = 2000
const leastTold = 0.4
/** Corners nearer than this share of the size are one. */
const sameShare = 1e-5
/** A profile may leave the corners by this share of the size where no tolerance is told, within bounds, mm. */
const profileShare = 1 / 3000
const profileBounds = [0.002, 0.05]

/**
 * @param name begins the names of the faces
 * Throws StepError `not-closed`, `no-extrusion`, `no-turning`, `organic`.
 */
export async function cleanSolidOf(
  mesh: TriMesh,
  body: string,
  name: string,
  choice: CleanChoice,
  work: Work,
): Promise<Cleaned> {
  const topology = buildTopology(mesh)
  requireManifold(body, topology)
  const size = diagonal(meshBounds(mesh)) || 1
  const within = choice.tolerance ?? Math.min(profileBounds[1], Math.max(profileBounds[0], size * profileShare))
  const profile: ProfileChoice = { kinds: choice.draw, within, tidy: choice.regular, name }
  // A profile knows nothing of fillets.
  if ((choice.way === 'best' && choice.fillets === undefined) || choice.way === 'extrusion') {
    work.progress(0.02, 'looking for an extrusion')
    const p = prismOf(mesh, topology, choice.tolerance ?? sameShare * size, sameShare * size)
    const made = p && asMeant(mesh, await extruded(p, profile, span(work, 0.05, 0.6)))
    if (made) return whole(made, 'extrusion', within)
    if (choice.way === 'extrusion')
      throw noProfile(
        body,
        p !== null,
        'extrusion',
        'a straight extrusion: its ends are not flat or its walls not square to them',
      )
  }
  checkStop(work)
  const turning = (choice.way === 'best' && choice.fillets === undefined) || choice.way === 'turning'
  let isTurned = false
  const turnedOf = async (axes: ReturnType<typeof axesFound>) => {
    for (const { at, axis } of turning ? axes : []) {
      const t = turnedAbout(mesh, topology, at, axis, 2 * sameShare * size)
      if (!t) continue
      isTurned = true
      return asMeant(mesh, await turned(t, profile, span(work, 0.05, 0.6)))
    }
    return null
  }
  const first = await turnedOf(axesThroughMiddle(mesh))
  if (first) return whole(first, 'turning', within)
  const found = choice.found ?? recognise(mesh, choice.tolerance, span(work, 0.05, 0.5))
  const shapes = found.regions.map((r) => r.shape)
  // An axis that was found where the middle did not tell it.
  if (!isTurned && (choice.way === 'turning' || shapes.includes(null))) {
    const second = await turnedOf(axesFound(shapes.filter((s) => s !== null)))
    if (second) return whole(second, 'turning', within)
  }
  if (choice.way === 'turning') throw noProfile(body, isTurned, 'turning', 'a body of revolution')
  return byFaces(mesh, topology, body, name, found, choice, work)
}

/** Facets take at most this share of a body's volume: one that is off by more is another body. */
const mostCut = 0.12

const asMeant = (mesh: TriMesh, made: TracedSolid | null): TracedSolid | null =>
  made && Math.abs(made.body.facts.volume - meshVolume(mesh)) <= mostCut * made.body.facts.volume ? made : null

const noProfile = (body: string, is: boolean, way: string, what: string) =>
  is
    ? new StepError(
        'not-held',
        `The profile of "${body}" cannot be drawn with the kinds of curve that are switched on.`,
        {
          where: { body },
          tryThis: 'Switch splines on, or allow a wider tolerance.',
        },
      )
    : new StepError(`no-${way}`, `"${body}" is not ${what}.`, { where: { body }, tryThis: 'Convert it face by face.' })

const whole = (made: TracedSolid, way: 'extrusion' | 'turning', tolerance: number): Cleaned => ({
  body: made.body,
  way,
  table: made.table,
  regular: made.round
    ? [
        {
          kind: 'round',
          text: `profile: ${made.round} of ${made.of} coordinates and radii at round numbers`,
          of: [],
          moved: 0,
          taken: true,
        },
      ]
    : [],
  faceted: 0,
  offs: made.offs,
  tolerance,
  leftOut: 0,
  filletsLeft: 0,
  openings: [],
})

const sizeOf = (s: Shape) => (s.kind === 'ring' ? s.thickness : s.kind === 'cone' ? s.halfAngle : s.radius)

/** How far the mesh may lie off its surfaces, mm. */
const closeOf = (found: Recognised) => Math.max(found.tolerance, 1e-5)

/** @throws StepError `organic` where too little of a part lies on shapes */
function refuseOrganic(mesh: TriMesh, body: string, found: Recognised): void {
  const bends = organic(found)
  if (bends)
    throw new StepError(
      'organic',
      `"${body}" bends everywhere: it falls into ${many(bends.regions)} surfaces, of which the largest dozen hold ${num(100 * bends.share, 0)} % of its skin. The mechanical way does not serve this part.`,
      { where: { body }, tryThis: 'Reskin it, simplify it and make a facet solid, or work on the mesh itself.' },
    )
  const free = new Uint8Array(triangleCount(mesh))
  let facets = 0
  found.of.forEach((r, t) => {
    if (r < 0 || !found.regions[r].shape) facets += free[t] = 1
  })
  const area = meshArea(mesh)
  const told = found.regions.reduce((s, r) => s + (r.shape ? r.area : 0), 0)
  if (facets > mostFacets || (facets > manyFacets && told < leastTold * area))
    throw new StepError(
      'organic',
      `${num((100 * facets) / free.length, 0)} % of "${body}" (${many(facets)} triangles) lie on no plane, cylinder, cone, sphere or ring: the mechanical way does not serve this part.`,
      { where: { body }, tryThis: 'Reskin it, simplify it and make a facet solid, or work on the mesh itself.' },
    )
}

/** The shape of each region, snapped to what is regular where that is wished; and what was found regular. */
function shapesOf(
  mesh: TriMesh,
  topology: Topology,
  found: Recognised,
  choice: CleanChoice,
): { shapes: (Fitted | null)[]; regular: Cleaned['regular'] } {
  const some = found.regions.flatMap((r, i) =>
    r.shape ? [{ i, shape: r.shape, area: r.area, points: placesOf(mesh, r.triangles) }] : [],
  )
  const close = closeOf(found)
  const { shapes: snapped, found: regular } = choice.regular
    ? regularise(some, {
        close,
        drawn: found.drawn,
        loose: choice.loose,
        beside: besideOf(
          found.of,
          topology,
          some.map((s) => s.i),
        ),
      })
    : { shapes: some.map((s) => s.shape), found: [] }
  const shapes: (Fitted | null)[] = found.regions.map(() => null)
  some.forEach((s, k) => (shapes[s.i] = { ...s.shape, ...snapped[k] }))
  return { shapes, regular }
}

/** A body made face by face, and what was left out or brought down for it. */
interface BuiltFaces {
  readonly built: FaceByFace
  readonly without: LeftOut | null
  /** The skin brought down first, where the body did not close as it was. */
  readonly rough: Coarser | null
}

/** A skin that does not close as it is, brought down first; where that does not close either, of facets only. */
async function builtRough(
  mesh: TriMesh,
  topology: Topology,
  body: string,
  found: Recognised,
  shapes: readonly (Fitted | null)[],
  usual: FaceByFaceChoice,
  work: Work,
): Promise<BuiltFaces | Cleaned> {
  const close = closeOf(found)
  const rough = await coarser(mesh, found.of, shapes, close, roughTriangles, span(work, 0.6, 0.75))
  if (rough.topology.openEdges && !topology.openEdges) throw notClosing(body, shapes.filter(Boolean).length)
  try {
    const built = await faceByFace(
      rough.mesh,
      rough.topology,
      rough.of,
      shapes,
      { ...usual, strayEdges: 1, fit: false, closed: !rough.topology.openEdges },
      span(work, 0.75, 0.95),
    )
    return { built, without: null, rough }
  } catch (again) {
    if (!(again instanceof StepError) || again.code !== 'not-valid') throw again
    const facets = await onlyFacets(rough.mesh, rough.topology, body, found, work, rough.off)
    return { ...facets, broughtTo: triangleCount(rough.mesh) }
  }
}

/** What lies on each face, and how far off. */
function tableOf(
  mesh: TriMesh,
  found: Recognised,
  { built, without, rough }: BuiltFaces,
  fillets: { has(region: number): boolean },
): { table: CleanFace[]; offs: number[]; faceted: number } {
  const skin = rough?.mesh ?? mesh
  const offs: number[] = []
  let faceted = 0
  const seen = new Set<number>()
  const table = built.patches.patches.flatMap((p, i): CleanFace[] => {
    const face = built.fitted.get(i)
    if (face) {
      const own = [...verticesOf(skin, p.triangles)].map((v) => offHeight(face.height, vertex(skin, v)))
      for (const v of own) offs.push(v)
      return [{ shape: 'spline', ...spreadOf(own), at: middleOf(skin, p.triangles[p.triangles.length >> 1]) }]
    }
    if (!p.shape) {
      faceted++
      return []
    }
    const shape = p.shape
    // Of a skin that was brought down, the scan's own corners tell; those of parts are told once.
    const fine = rough && !seen.has(p.region) ? found.regions[p.region].triangles : null
    seen.add(p.region)
    const places = fine
      ? placesOf(mesh, fine)
      : placesOf(
          skin,
          p.triangles.filter((t) => !without?.out.moved[t]),
        )
    const own = places.map((q) => offShape(shape, q) * (shape.inside ? -1 : 1))
    for (const v of own) offs.push(v)
    const size = sizeOf(shape)
    return [
      {
        shape: shape.kind,
        ...(size === undefined ? {} : { size }),
        ...(fillets.has(p.region) ? { fillet: true as const } : {}),
        ...spreadOf(own),
        at: middleOf(skin, p.triangles[p.triangles.length >> 1]),
      },
    ]
  })
  return { table, offs, faceted }
}

async function byFaces(
  mesh: TriMesh,
  topology: Topology,
  body: string,
  name: string,
  found: Recognised,
  choice: CleanChoice,
  work: Work,
): Promise<Cleaned> {
  refuseOrganic(mesh, body, found)
  const { shapes, regular } = shapesOf(mesh, topology, found, choice)
  const lists = found.regions.map((r) => r.triangles)
  const close = closeOf(found)
  const usual = {
    close: found.drawn ? 10 * close : close,
    strays: !found.drawn,
    name,
    closed: !topology.openEdges,
    fit: choice.leftovers === 'fitted',
  }
  const fillets = filletsOf(mesh, topology, found.of, shapes, lists)
  const unwanted =
    choice.fillets === undefined ? null : filletsOf(mesh, topology, found.of, shapes, lists, choice.fillets)
  let faces: BuiltFaces
  try {
    const without =
      unwanted && (await leaveOut(mesh, topology, found.of, shapes, unwanted, usual, span(work, 0.5, 0.9)))
    const built = without?.built ?? (await faceByFace(mesh, topology, found.of, shapes, usual, span(work, 0.5, 0.95)))
    faces = { built, without, rough: null }
  } catch (error) {
    if (!(error instanceof StepError) || error.code !== 'not-valid') throw error
    if (triangleCount(mesh) <= mostFacets) return onlyFacets(mesh, topology, body, found, work)
    // Too fine for what does not close to stay facets: brought down first, it may.
    const brought = await builtRough(mesh, topology, body, found, shapes, usual, work)
    if (!('built' in brought)) return brought
    faces = brought
  }
  const { built, without, rough } = faces
  const { table, offs, faceted } = tableOf(mesh, found, faces, fillets)
  if (rough && faceted) offs.push(rough.off)
  return {
    body: built.body,
    way: 'faces',
    table,
    regular,
    faceted,
    offs,
    tolerance: found.tolerance,
    leftOut: without?.gone.size ?? 0,
    filletsLeft: unwanted ? unwanted.size - (without?.gone.size ?? 0) : 0,
    openings: openingsOf(mesh, topology),
    recognised: found.regions.filter((r) => r.shape).length,
    ...(rough ? { broughtTo: triangleCount(rough.mesh) } : {}),
  }
}

/** How far corners lie off their face. */
const spreadOf = (offs: readonly number[]) => ({
  corners: offs.length,
  rms: Math.sqrt(offs.reduce((s, v) => s + v * v, 0) / (offs.length || 1)),
  max: offs.reduce((m, v) => Math.max(m, Math.abs(v)), 0),
})

/** Whether the regions of two shapes share a border. */
function besideOf(of: Int32Array, { twin }: Topology, regions: readonly number[]): (i: number, k: number) => boolean {
  const pairs = new Set<string>()
  twin.forEach((w, h) => {
    if (w < 0) return
    const [a, b] = [of[triangleOf(h)], of[triangleOf(w)]]
    if (a !== b) pairs.add(`${a} ${b}`)
  })
  return (i, k) => pairs.has(`${regions[i]} ${regions[k]}`)
}

const openingsOf = (mesh: TriMesh, topology: Topology): Vec3[] =>
  findRims(mesh, topology).map((r) => vertex(mesh, r.vertices[0]))

/** Surfaces that were found but do not close to a body. */
const notClosing = (body: string, surfaces: number) =>
  new StepError(
    'not-held',
    `${surfaces} surfaces of "${body}" were found, but where they meet they do not close to a body.`,
    {
      where: { body },
      tryThis: 'Mend it first; or have single faces by Recognise and Fit shape, and build the rest on them.',
    },
  )

/** The last resort: everything stays facets, those in one plane together. */
async function onlyFacets(
  mesh: TriMesh,
  topology: Topology,
  body: string,
  found: Recognised,
  work: Work,
  brought = 0,
): Promise<Cleaned> {
  const distance = Math.max(found.tolerance, 1e-4)
  const { solid, moved } = await facetSolidOf(
    body,
    mesh,
    { angle: 0.5, distance, most: mostFacets },
    span(work, 0.95, 1),
  )
  return {
    body: solid,
    way: 'faces',
    table: [],
    regular: [],
    faceted: solid.facts.faces,
    offs: [Math.max(moved, brought)],
    tolerance: found.tolerance,
    leftOut: 0,
    filletsLeft: 0,
    openings: openingsOf(mesh, topology),
  }
}
