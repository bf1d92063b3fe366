/** Resizes, moves or closes a bore on a raw mesh, leaving every other vertex where it is. */
import type { FacePart, SourceTags } from '@/core/bodies/body'
import { csg } from '@/core/join/csg'
import { add, addScaled, dot, frame, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { closeHoles } from '@/core/mend/close-holes'
import { buildTopology, findRims, triangleOf } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { corners, keepTriangles, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { checkStop, type Work } from '@/core/base/work'
import { boreField, type Bore } from '@/core/find/bore'
import { alongAxis, distanceToAxis } from '@/core/find/cylinder-fit'

export type HoleAction =
  | { readonly do: 'resize'; readonly diameter: number }
  | { readonly do: 'move'; readonly by: Vec3; readonly diameter?: number }
  | { readonly do: 'close' }

export interface HoleEdited {
  readonly mesh: TriMesh
  readonly tags: SourceTags
  readonly untouched: number
  readonly volumeBefore: number
  readonly volume: number
  readonly sides: number
  readonly reach: readonly { from: number; to: number }[]
}

/** Sides of the polygon that stands for a circle: chord error at most `chord`, corners on the circle, a multiple of four. */
export function sidesFor(radius: number, chord: number): number {
  const n = Math.PI / Math.acos(Math.max(-1, 1 - Math.min(chord, radius) / radius))
  return Math.min(720, Math.max(24, 4 * Math.ceil(n / 4)))
}

/** Closed prism on a regular polygon with its corners on the circle. */
export function cutterMesh(centre: Vec3, axis: Vec3, radius: number, from: number, to: number, sides: number): TriMesh {
  const [x, y] = frame(axis)
  const positions: number[] = []
  const triangles: number[] = []
  for (const z of [from, to]) {
    for (let i = 0; i < sides; i++) {
      const a = (2 * Math.PI * i) / sides
      positions.push(
        ...add(addScaled(centre, axis, z), add(scale(x, radius * Math.cos(a)), scale(y, radius * Math.sin(a)))),
      )
    }
  }
  positions.push(...addScaled(centre, axis, from), ...addScaled(centre, axis, to))
  for (let i = 0; i < sides; i++) {
    const j = (i + 1) % sides
    triangles.push(i, j, sides + j, i, sides + j, sides + i, 2 * sides, j, i, 2 * sides + 1, sides + i, sides + j)
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
}

/** Takes out a bore's wall (and its floor when blind) and closes the rims flat where they are flat: the body as if never drilled. */
function fillBore(mesh: TriMesh, bore: Bore): TriMesh {
  const f = boreField(mesh)
  const gone = new Uint8Array(triangleCount(mesh))
  for (const t of bore.triangles) gone[t] = 1
  if (!bore.through) {
    // The floor is the skin past the wall's inner end that stays inside the bore's cylinder.
    const inner = -bore.depth / 2
    const queue = [...bore.triangles]
    for (let i = 0; i < queue.length; i++) {
      for (let h = 3 * queue[i]; h < 3 * queue[i] + 3; h++) {
        const w = f.topology.twin[h]
        if (w < 0 || gone[triangleOf(w)]) continue
        const t = triangleOf(w)
        const inside = corners(mesh, t).every(
          (p) =>
            distanceToAxis(p, bore.centre, bore.axis) < bore.diameter * 0.51 + 3 * bore.rms &&
            alongAxis(p, bore.centre, bore.axis).at < inner + 0.25 * bore.depth + 3 * bore.rms,
        )
        if (!inside) continue
        gone[t] = 1
        queue.push(t)
      }
    }
  }
  const cut = keepTriangles(
    mesh,
    gone.map((g) => (g ? 0 : 1)),
  )
  const wanted = bore.through ? 2 : 1
  const rims = findRims(cut.mesh, buildTopology(cut.mesh))
  if (rims.length !== wanted) {
    throw new StepError(
      'hole-not-plain',
      `The hole's wall ends in ${rims.length} rims where ${wanted} ${wanted === 1 ? 'was' : 'were'} expected: it meets another hole or an edge.`,
      { where: { point: bore.centre }, tryThis: 'Fill it with a cylinder by Union, then cut anew by Difference.' },
    )
  }
  return closeHoles(cut.mesh, { how: 'flat' }).mesh
}

/**
 * How far a cutter must reach to pass the skin above and below the bore's middle, and no further than half-way to the next skin.
 * Rays run along the axis from the bore's middle, over the cutter's whole face.
 */
function cutRange(filled: TriMesh, centre: Vec3, axis: Vec3, radius: number, bore: Bore): { from: number; to: number } {
  const search = new MeshSearch(filled)
  const [x, y] = frame(axis)
  const origins: Vec3[] = [centre]
  for (const r of [0.35, 0.7, 1, 1.02])
    for (let i = 0; i < 24; i++) {
      const a = (2 * Math.PI * (i + 0.37)) / 24
      origins.push(add(centre, add(scale(x, r * radius * Math.cos(a)), scale(y, r * radius * Math.sin(a)))))
    }
  const side = (direction: Vec3) => {
    let exit = 0,
      next = Infinity
    for (const o of origins) {
      const hits = search.all(o, direction).map((h) => h.distance)
      const distinct = hits.filter((d, i) => i === 0 || d - hits[i - 1] > 1e-6 * (1 + d))
      // From inside the body the first hit is the way out; an origin that already lies outside meets skin in pairs.
      if (distinct.length % 2 === 1) {
        exit = Math.max(exit, distinct[0])
        if (distinct.length > 1) next = Math.min(next, distinct[1])
      } else if (distinct.length) next = Math.min(next, distinct[0])
    }
    if (exit === 0) exit = bore.depth / 2
    const margin = 0.05 * bore.depth + 0.02 * radius + 2 * bore.rms
    return next > exit ? exit + Math.min(margin, (next - exit) / 2) : exit + 1e-4 * bore.depth
  }
  const up = side(axis)
  const down = bore.through ? side(scale(axis, -1)) : bore.depth / 2
  return { from: -down, to: up }
}

const trianglePoints = (m: TriMesh, t: number): string => {
  // Start at the least corner so that a triangle reads the same however it is turned.
  const keys = [0, 1, 2].map((c) => {
    const v = 3 * m.triangles[3 * t + c]
    return `${m.positions[v]},${m.positions[v + 1]},${m.positions[v + 2]}`
  })
  const least = keys[0] <= keys[1] && keys[0] <= keys[2] ? 0 : keys[1] <= keys[2] ? 1 : 2
  return `${keys[least]};${keys[(least + 1) % 3]};${keys[(least + 2) % 3]}`
}

/** Triangles of `before` that stand in `after` bit for bit. */
export function countUntouched(before: TriMesh, after: TriMesh): number {
  const have = new Set<string>()
  for (let t = 0; t < triangleCount(after); t++) have.add(trianglePoints(after, t))
  let n = 0
  for (let t = 0; t < triangleCount(before); t++) if (have.has(trianglePoints(before, t))) n++
  return n
}

/**
 * Edits bores of a closed mesh. The old wall is taken out and its rims closed on the rims' own vertices, so the plug has no seam to
 * gape; then the new bore is cut with an exact-circle polygon. Each new wall triangle is tagged with the hole's name.
 * @param chord greatest distance between circle and polygon, mm
 */
export async function editHoles(
  name: string,
  mesh: TriMesh,
  bores: readonly Bore[],
  action: HoleAction,
  chord: number,
  work: Work,
): Promise<HoleEdited> {
  const volumeBefore = meshVolume(mesh)
  let current = mesh
  // Numbers of wall triangles shift as walls go, so all walls are taken out by place: later ones first.
  const plain = removeAll(current, bores)
  current = plain
  checkStop(work)
  work.progress(0.3, 'plugged')
  const reach: { from: number; to: number }[] = []
  let sides = 0
  let tags: SourceTags = {
    names: [name],
    source: new Uint32Array(triangleCount(current)),
    face: Uint32Array.from({ length: triangleCount(current) }, (_, t) => t),
  }
  if (action.do !== 'close') {
    const cutters = bores.map((bore) => {
      const diameter = action.do === 'resize' ? action.diameter : (action.diameter ?? bore.diameter)
      // A move along the axis means nothing for a through bore; across it the cutter goes with the hole.
      const by =
        action.do === 'move' ? sub(action.by, scale(bore.axis, dot(action.by, bore.axis))) : ([0, 0, 0] as Vec3)
      const centre = add(bore.centre, by)
      const range = cutRange(plain, centre, bore.axis, diameter / 2, bore)
      reach.push(range)
      sides = sidesFor(diameter / 2, chord)
      return cutterMesh(centre, bore.axis, diameter / 2, range.from, range.to, sides)
    })
    work.progress(0.5, 'cutting')
    const result = await csg('difference', [
      { name, mesh: plain },
      ...cutters.map((m, i) => ({ name: `hole ${i + 1}`, mesh: m })),
    ])
    if (!triangleCount(result.mesh))
      throw new StepError('empty-result', 'The new hole would take the whole body away.', {
        tryThis: 'Choose a smaller diameter.',
      })
    current = result.mesh
    const names = [name, ...cutters.map((_, i) => (cutters.length === 1 ? 'hole' : `hole ${i + 1}`))]
    // The walls of the new holes are exact cylinders: later steps take their true axis and diameter.
    const exact = [null, ...cutters.map((_, i) => [wallOf(names[i + 1], bores[i], action, reach[i])])]
    tags = {
      names,
      source: result.source,
      face: result.triangle.map((t, i) => (result.source[i] ? 0 : t)),
      exact,
    }
  }
  work.progress(0.9, 'comparing')
  const volume = meshVolume(current)
  return { mesh: current, tags, untouched: countUntouched(mesh, current), volumeBefore, volume, sides, reach }
}

/** The wall of an edited hole as an exact face. */
function wallOf(name: string, bore: Bore, action: HoleAction, { from, to }: { from: number; to: number }): FacePart {
  const radius = (action.do === 'resize' ? action.diameter : bore.diameter) / 2
  const by = action.do === 'move' ? action.by : ([0, 0, 0] as Vec3)
  const centre = add(bore.centre, sub(by, scale(bore.axis, dot(by, bore.axis))))
  const middle = addScaled(centre, bore.axis, (from + to) / 2)
  return {
    name: `${name}/wall`,
    shape: 'cylinder',
    at: addScaled(middle, perpendicular(bore.axis), radius),
    area: 2 * Math.PI * radius * (to - from),
    axis: bore.axis,
    centre,
    radius,
  }
}

function removeAll(mesh: TriMesh, bores: readonly Bore[]): TriMesh {
  let current = mesh
  let pending = bores.map((b) => ({ ...b, points: b.triangles.map((t) => trianglePoints(mesh, t)) }))
  while (pending.length) {
    const [bore, ...rest] = pending
    let triangles = bore.triangles
    if (current !== mesh) {
      const at = new Map<string, number>()
      for (let t = 0; t < triangleCount(current); t++) at.set(trianglePoints(current, t), t)
      triangles = bore.points.flatMap((p) => at.get(p) ?? [])
    }
    current = fillBore(current, { ...bore, triangles })
    pending = rest
  }
  return current
}
