/** Cuts a mesh in two and says which part is which: by a plane, by a line or outline drawn in a view, or by another body. */
import { capFlat } from './cap'
import { cutByPlane } from './plane-cut'
import { cutBySurface } from './surface-cut'
import { sweepViewLine, type ViewLine } from '@/core/find/view-line'
import { piecesDiffer } from '@/core/gauge/adds-up'
import { csg } from '@/core/join/csg'
import { cross, sub, type Vec3, dot } from '@/core/math/vec'
import { closeHoles } from '@/core/mend/close-holes'
import { removeDegenerate } from '@/core/mend/slivers'
import { buildTopology } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import type { Work } from '@/core/base/work'

export interface Halves {
  readonly a: TriMesh
  readonly b: TriMesh
  readonly warnings: readonly string[]
  readonly facts: Record<string, number | boolean>
}

const closed = (mesh: TriMesh): boolean => {
  const t = buildTopology(mesh)
  return triangleCount(mesh) > 0 && !t.openEdges && !t.nonManifoldEdges && !t.flippedEdges
}

const nothing = (which: string) =>
  new StepError('no-cut', `The ${which} does not meet the body: all of it lies on one side.`, {
    tryThis: 'Place it across the body.',
  })

/** Both halves of a mesh cut by a plane; A is where the normal points. */
export function trimByPlane(mesh: TriMesh, at: Vec3, normal: Vec3, cap: boolean): Halves {
  const whole = closed(mesh)
  const c = cutByPlane(mesh, at, normal, { cap })
  if (!triangleCount(c.above) || !triangleCount(c.below)) throw nothing('plane')
  const warnings: string[] = []
  if (c.flush)
    warnings.push(
      `${c.flush} triangles lie exactly in the plane. Move it by half a millimetre if a clear section is meant.`,
    )
  if (cap && whole && c.uncapped)
    warnings.push(`${c.uncapped} rims on the plane could not be covered; Check-up shows where.`)
  if (cap && !whole) warnings.push('The body was open, so only rims that lie wholly on the plane were covered.')
  return {
    a: removeDegenerate(c.above).mesh,
    b: removeDegenerate(c.below).mesh,
    warnings,
    facts: { capArea: Number(c.capArea.toFixed(6)), caps: c.caps },
  }
}

/** By any surface. Closed bodies and closed cutters, or closed bodies to be covered, go through exact-side booleans; all else is cut open. */
export async function splitByMesh(
  name: string,
  mesh: TriMesh,
  cutter: TriMesh,
  cap: boolean,
  work: Work,
): Promise<Halves> {
  if (closed(mesh) && closed(cutter) && meshVolume(cutter) > 0) {
    try {
      const inputs = [
        { name, mesh },
        { name: 'the cutter', mesh: cutter },
      ]
      const inside = await csg('intersection', inputs),
        outside = await csg('difference', inputs)
      if (!triangleCount(inside.mesh) || !triangleCount(outside.mesh)) throw nothing('cutter')
      return { a: outside.mesh, b: inside.mesh, warnings: [], facts: { exactSides: true } }
    } catch (error) {
      if (!(error instanceof StepError) || error.code === 'no-cut') throw error
    }
  }
  const whole = closed(mesh)
  const c = cutBySurface(mesh, cutter, work, cap && whole)
  if (!triangleCount(c.above) || !triangleCount(c.below)) throw nothing('cutter')
  const warnings: string[] = []
  if (c.undivided)
    warnings.push(
      `The cutter does not pass right through: ${c.undivided} ${c.undivided === 1 ? 'part hangs' : 'parts hang'} together across it. Make it larger.`,
    )
  const facts = { cutLength: Number(c.length.toFixed(6)), undivided: c.undivided }
  if (c.covered) {
    const [a, b] = [removeDegenerate(c.covered.above).mesh, removeDegenerate(c.covered.below).mesh]
    if (closed(a) && closed(b)) {
      const differ = piecesDiffer(meshVolume(mesh), [meshVolume(a), meshVolume(b)])
      return { a, b, warnings: differ ? [differ] : [], facts }
    }
  }
  let a = removeDegenerate(c.above).mesh,
    b = removeDegenerate(c.below).mesh
  if (cap) {
    // Only rims that lie on the cut; others were there before.
    const onCut = new Set<string>()
    const mark = (m: TriMesh, rim: Uint8Array) =>
      rim.forEach((f, v) => {
        if (f) onCut.add(`${m.positions[3 * v]} ${m.positions[3 * v + 1]} ${m.positions[3 * v + 2]}`)
      })
    mark(c.above, c.aboveRim)
    mark(c.below, c.belowRim)
    const cover = (m: TriMesh) =>
      closeHoles(m, {
        how: 'flat',
        accept: (r) =>
          r.vertices.every((v) =>
            onCut.has(`${m.positions[3 * v]} ${m.positions[3 * v + 1]} ${m.positions[3 * v + 2]}`),
          ),
      }).mesh
    a = cover(a)
    b = cover(b)
    if (whole && closed(a) && closed(b)) {
      const differ = piecesDiffer(meshVolume(mesh), [meshVolume(a), meshVolume(b)])
      if (differ) warnings.push(`${differ} The covers do not follow the cutter.`)
    }
  }
  return { a, b, warnings, facts }
}

/** By a line drawn across a view; side A is to the left of it as drawn. By an outline with `outline`: side A is inside. */
export async function trimByView(
  name: string,
  mesh: TriMesh,
  view: ViewLine,
  outline: boolean,
  cap: boolean,
  work: Work,
): Promise<Halves> {
  const bounds = meshBounds(mesh)
  const swept = sweepViewLine(view, bounds, outline ? 'outline' : 'line')
  if (!outline && view.line.length === 2) {
    // A single straight stroke is a plane, and its covers come out exact.
    const p = swept.positions
    const at = (i: number): Vec3 => [p[3 * i], p[3 * i + 1], p[3 * i + 2]]
    const o = at(2),
      e = sub(at(3), o),
      f = sub(at(4), o)
    return trimByPlane(mesh, o, cross(f, e), cap)
  }
  if (closed(mesh)) {
    // What the line cuts off is a prism, and booleans give both sides their exact covers.
    const solid = capEnds(outline ? swept : sweepViewLine(view, bounds, 'left-of-line'))
    const halves = await splitByMesh(name, mesh, meshVolume(solid) < 0 ? flipped(solid) : solid, cap, work)
    return { ...halves, a: halves.b, b: halves.a }
  }
  const halves = await splitByMesh(name, mesh, swept, cap, work)
  if (!outline) return halves
  // Whichever way round the outline was drawn, inside is the part with less area within it.
  return signedTurn(view) > 0 ? halves : { ...halves, a: halves.b, b: halves.a }
}

const flipped = (m: TriMesh): TriMesh => ({
  positions: m.positions,
  triangles: m.triangles.map((_, i, t) => (i % 3 === 0 ? t[i] : i % 3 === 1 ? t[i + 1] : t[i - 1])),
})

/** Closes the two ends of a swept tube, which are flat. */
function capEnds(tube: TriMesh): TriMesh {
  const n = tube.positions.length / 6
  const p = (i: number): Vec3 => [tube.positions[3 * i], tube.positions[3 * i + 1], tube.positions[3 * i + 2]]
  let out = tube
  for (const end of [0, 1]) {
    const a = p(end),
      m = [0, 0, 0]
    for (let i = 0; i < n; i++) {
      const u = p(2 * i + end),
        v = p(2 * ((i + 1) % n) + end)
      m[0] += (u[1] - a[1]) * (v[2] - a[2]) - (u[2] - a[2]) * (v[1] - a[1])
      m[1] += (u[2] - a[2]) * (v[0] - a[0]) - (u[0] - a[0]) * (v[2] - a[2])
      m[2] += (u[0] - a[0]) * (v[1] - a[1]) - (u[1] - a[1]) * (v[0] - a[0])
    }
    const l = Math.hypot(...m) || 1
    // The near end's cap runs against the tube's rim as the tube itself turns; capFlat turns by the normal it is given.
    const way = end === 0 ? -1 : 1
    out = capFlat(out, [(way * m[0]) / l, (way * m[1]) / l, (way * m[2]) / l], (rim) =>
      rim.vertices.every((v) => v % 2 === end),
    ).mesh
  }
  const t = buildTopology(out)
  if (!t.flippedEdges) return out
  // The outline ran the other way round: both caps face the wrong way.
  const first = tube.triangles.length
  return {
    positions: out.positions,
    triangles: out.triangles.map((_, i, k) => (i < first || i % 3 === 0 ? k[i] : i % 3 === 1 ? k[i + 1] : k[i - 1])),
  }
}

/** Turning of an outline as seen in its view: positive counter-clockwise. */
function signedTurn(view: ViewLine): number {
  const w = view.toward
  const line = view.line
  let s = 0
  for (let i = 1; i + 1 < line.length; i++) {
    s += dot(cross(sub(line[i], line[0]), sub(line[i + 1], line[0])), w)
  }
  return -s
}
