/**
 * Sharp edges of a mesh rounded or cut off on the mesh itself, however they run: a ball of the radius is thought to roll along the edge,
 * touching both sides; what lies between its path and the edge is taken away, or filled in at an inner edge (rolling-ball blends: Vida,
 * Martin, Varady 1994, "A survey of blending methods that use parametric surfaces"). The sides count as flat over the width of the strip.
 */
import { meshBody, type MeshBody } from '@/core/bodies/body'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { checkStop, span, type Work } from '@/core/base/work'
import type { SpaceRow } from '@/core/find/taken-rows'
import { add, addScaled, cross, distance, dot, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { joinBodies } from './boolean'

export type EdgeSort = 'fillet' | 'chamfer'

/** What is done along which edges. */
export interface Strip {
  readonly rows: readonly SpaceRow[]
  readonly sort: EdgeSort
  /** Radius of a fillet, or a chamfer's distance on the left side, mm. */
  readonly size: number
  /** A chamfer's distance on the other side, mm. */
  readonly second: number
}

export interface StripDone {
  readonly body: MeshBody
  readonly volumeChange: number
  /** How far the lines where the strip meets the two sides lie off the skin, mm. */
  readonly off: number
  /** Bits of edges that were worked on. */
  readonly bits: number
}

/** A corner of the row with the normals of its two sides, averaged over the bits that meet there; all unit. */
interface Station {
  readonly at: Vec3
  readonly way: Vec3
  readonly left: Vec3
  readonly right: Vec3
}

/** Steps of the round from side to side, radians each at most. */
const arcStep = Math.PI / 60

const key = (p: Vec3) => p.join(' ')

/** Normals of the triangles on both sides of each bit of a row: left of the way it runs, and right. */
function sidesAlong(mesh: TriMesh, row: SpaceRow): { left: Vec3; right: Vec3 }[] {
  const { twin } = buildTopology(mesh)
  const byEnds = new Map<string, number>()
  const wanted = new Set(row.places.map(key))
  for (let h = 0; h < twin.length; h++) {
    const [a, b] = [vertex(mesh, mesh.triangles[h]), vertex(mesh, mesh.triangles[nextIn(h)])]
    if (wanted.has(key(a)) && wanted.has(key(b))) byEnds.set(`${key(a)} ${key(b)}`, h)
  }
  const n = row.places.length
  return Array.from({ length: row.closed ? n : n - 1 }, (_, i) => {
    const h = byEnds.get(`${key(row.places[i])} ${key(row.places[(i + 1) % n])}`)
    if (h === undefined || twin[h] < 0)
      throw new StepError('no-part', 'The edge is at the border of the mesh: it has one side only.', {
        where: { point: row.places[i] },
        tryThis: 'Close the mesh first.',
      })
    return {
      left: normalize(crossOf(mesh, triangleOf(h))),
      right: normalize(crossOf(mesh, triangleOf(twin[h]))),
    }
  })
}

function stationsOf(mesh: TriMesh, row: SpaceRow): Station[] {
  const sides = sidesAlong(mesh, row)
  const n = row.places.length
  return row.places.map((at, i) => {
    const before = row.closed ? (i + n - 1) % n : i - 1
    const after = row.closed || i < n - 1 ? i : -1
    const bits = [before, after].filter((k) => k >= 0)
    const sum = (of: (k: number) => Vec3) => bits.reduce((s, k) => add(s, of(k)), [0, 0, 0] as Vec3)
    const way = normalize(sum((k) => normalize(sub(row.places[(k + 1) % n], row.places[k]))))
    // Square to the way, so that the round is one in the plane across it.
    const across = (v: Vec3) => normalize(addScaled(v, way, -dot(v, way)))
    return { at, way, left: across(sum((k) => sides[k].left)), right: across(sum((k) => sides[k].right)) }
  })
}

/** The corner's cross section in its own plane: where the strip meets the two sides, the places between them, and the far side of the tool. */
function section(s: Station, sort: EdgeSort, size: number, second: number, arcs: number) {
  const inward: Vec3 = cross(s.left, s.way)
  const other: Vec3 = cross(s.way, s.right)
  const outer = dot(inward, s.right) < 0
  const cosine = dot(s.left, s.right)
  const middle = scale(add(s.left, s.right), 1 / (1 + cosine))
  const sign = outer ? -1 : 1
  let line: Vec3[]
  if (sort === 'fillet') {
    const centre = addScaled(s.at, middle, sign * size)
    const [a, b] = [scale(s.left, -sign), scale(s.right, -sign)]
    const angle = Math.acos(Math.max(-1, Math.min(1, cosine)))
    line = Array.from({ length: arcs + 1 }, (_, i) => {
      const t = i / arcs
      // From one normal to the other at even angles.
      const w =
        angle < 1e-9
          ? a
          : add(scale(a, Math.sin((1 - t) * angle) / Math.sin(angle)), scale(b, Math.sin(t * angle) / Math.sin(angle)))
      return addScaled(centre, normalize(w), size)
    })
  } else {
    const [a, b] = [addScaled(s.at, inward, size), addScaled(s.at, other, second)]
    line = Array.from({ length: arcs + 1 }, (_, i) => add(scale(a, 1 - i / arcs), scale(b, i / arcs)))
  }
  // Beyond the sides, so that the tool and the skin cross and do not only touch.
  const spare = -sign * (0.15 * size + 0.01)
  const beyond = [
    addScaled(line[arcs], s.right, spare),
    addScaled(s.at, middle, spare),
    addScaled(line[0], s.left, spare),
  ]
  return { round: [...line, ...beyond], line, outer, angle: Math.acos(Math.max(-1, Math.min(1, cosine))) }
}

/** The tool along a row, as a closed mesh; and what it is to take away or add, mm³. */
function toolAlong(mesh: TriMesh, row: SpaceRow, sort: EdgeSort, size: number, second: number) {
  let stations = stationsOf(mesh, row)
  if (!row.closed) {
    // Past both ends, so that the edge is worked on to its very ends.
    const [a, b] = [stations[0], stations[stations.length - 1]]
    const past = 0.02 * size + 0.01
    stations = [
      { ...a, at: addScaled(a.at, a.way, -past) },
      ...stations.slice(1, -1),
      { ...b, at: addScaled(b.at, b.way, past) },
    ]
  }
  const most = Math.max(...stations.map((s) => Math.acos(Math.max(-1, Math.min(1, dot(s.left, s.right))))))
  const arcs = sort === 'fillet' ? Math.max(3, Math.ceil(most / arcStep)) : 1
  const sections = stations.map((s) => section(s, sort, size, second, arcs))
  const outer = sections.filter((s) => s.outer).length > sections.length / 2
  if (sections.some((s) => s.outer !== outer))
    throw new StepError('mixed', 'The edge stands out in places and lies in a corner in others.', {
      where: { point: row.places[0] },
      tryThis: 'Cut the mesh there first, or round the parts one by one.',
    })
  const m = sections[0].round.length
  const n = sections.length
  const positions = Float32Array.from(sections.flatMap((s) => s.round.flat()))
  const triangles: number[] = []
  for (let i = 0; i < (row.closed ? n : n - 1); i++)
    for (let k = 0; k < m; k++) {
      const [a, b] = [i * m + k, i * m + ((k + 1) % m)]
      const [c, d] = [((i + 1) % n) * m + k, ((i + 1) % n) * m + ((k + 1) % m)]
      triangles.push(a, b, d, a, d, c)
    }
  if (!row.closed)
    for (const [i, turned] of [
      [0, true],
      [n - 1, false],
    ] as const) {
      // Seen from the far corner of the tool, all of the section lies open.
      const from = i * m + arcs + 2
      for (let k = 1; k < m - 1; k++) {
        const [a, b] = [i * m + ((arcs + 2 + k) % m), i * m + ((arcs + 2 + k + 1) % m)]
        triangles.push(...(turned ? [from, b, a] : [from, a, b]))
      }
    }
  const tool: TriMesh = { positions, triangles: Uint32Array.from(triangles) }
  if (meshVolume(tool) < 0)
    for (let t = 0; t < tool.triangles.length; t += 3)
      [tool.triangles[t], tool.triangles[t + 1]] = [tool.triangles[t + 1], tool.triangles[t]]
  // Area between the corner and the strip, along the row.
  const areaOf = (s: (typeof sections)[number]) => {
    const a = s.angle
    return sort === 'fillet' ? size * size * (Math.tan(a / 2) - a / 2) : (size * second * Math.sin(a)) / 2
  }
  let expected = 0
  for (let i = 0; i < (row.closed ? n : n - 1); i++) {
    const [p, q] = [stations[i].at, stations[(i + 1) % n].at]
    expected += ((areaOf(sections[i]) + areaOf(sections[(i + 1) % n])) / 2) * distance(p, q)
  }
  return { tool, outer, expected, sections }
}

/** A mesh may lose or gain this share more or less than the strip's own volume: curved sides make a difference. */
const mayDiffer = 0.35

/** The strip's lines may lie off the skin by this share of its size: more, and the sides are no sides over its width. */
const mayLieOff = 0.1
/** Tries for the largest size that works. */
const tries = 5

/** Throws StepError `too-large` with the largest that works, `mixed`, `no-part`, `not-closed`. */
export async function creaseFeature(name: string, body: MeshBody, strip: Strip, work: Work): Promise<StripDone> {
  const { sort, size, second } = strip
  const run = (share: number) => attempt(name, body, { ...strip, size: size * share, second: second * share }, work)
  try {
    return await run(1)
  } catch (error) {
    if (!(error instanceof StepError) || error.code !== 'too-large') throw error
    let [low, high] = [0, 1]
    for (let i = 0; i < tries; i++) {
      checkStop(work)
      const middle = (low + high) / 2
      const works = await run(middle).then(
        () => true,
        (e: unknown) => {
          if (e instanceof StepError) return false
          throw e
        },
      )
      if (works) low = middle
      else high = middle
    }
    const best = Math.floor(low * size * 100) / 100
    if (!best) throw error
    throw new StepError('too-large', `${error.message.slice(0, -1)}; ${num(best)} mm does.`, {
      ...error.details,
      offer: { set: sort === 'fillet' ? 'radius' : 'distance', to: best },
    })
  }
}

async function attempt(
  name: string,
  body: MeshBody,
  { rows, sort, size, second }: Strip,
  work: Work,
): Promise<StripDone> {
  let now = body
  let off = 0
  let bits = 0
  for (const [i, row] of rows.entries()) {
    checkStop(work)
    const part = span(work, i / rows.length, 1 / rows.length)
    const tooLarge = () =>
      new StepError('too-large', `A ${sort} of ${num(size)} mm does not fit along that edge of the mesh.`, {
        where: { body: name, point: row.places[0] },
        tryThis: 'Take a smaller one: it must be smaller than the edge bends, and than the faces beside it are wide.',
      })
    // The tool of a bend tighter than the strip is wide runs through itself.
    const { tool, outer, expected, sections } = toolAlong(now.mesh, row, sort, size, second)
    if (!(Math.abs(meshVolume(tool)) > 0.5 * expected)) throw tooLarge()
    const search = new MeshSearch(now.mesh)
    for (const s of row.closed ? sections : sections.slice(1, -1))
      for (const p of [s.line[0], s.line[s.line.length - 1]]) off = Math.max(off, search.nearest(p)?.distance ?? 0)
    if (off > mayLieOff * size) throw tooLarge()
    const before = meshVolume(now.mesh)
    const { body: done } = await joinBodies(
      outer ? 'difference' : 'union',
      [
        { name, body: now },
        { name: `${sort} ${i + 1}`, body: meshBody(tool) },
      ],
      {},
      part,
    )
    const made = done as MeshBody
    const changed = Math.abs(meshVolume(made.mesh) - before)
    if (Math.abs(changed - expected) > mayDiffer * expected) throw tooLarge()
    now = made
    bits += row.closed ? row.places.length : row.places.length - 1
  }
  return { body: now, volumeChange: meshVolume(now.mesh) - meshVolume(body.mesh), off, bits }
}
