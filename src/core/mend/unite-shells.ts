/** Makes shells that cross into one skin by cutting along the crossings, and takes out what rounding the new corners left. */
import { span, quiet, type Work } from '@/core/base/work'
import { CutError } from '@/core/arrange/plane-net'
import { unite } from '@/core/arrange/unite'
import { pieceFacts, type PieceFacts } from '@/core/mesh/orient'
import { concatMeshes, flipTriangles, keepTriangles, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { WindingNumber } from '@/core/gauge/winding'
import { keepSound } from './keep-sound'
import { cleanUp } from './tidy'

export interface UnitedShells {
  readonly mesh: TriMesh
  /** Triangles that were cut. */
  readonly cut: number
  /** Pairs that met. */
  readonly pairs: number
}

/** A shell that faces inward is a hollow of others only when this share of it lies within them. */
const hollowShare = 0.95
const hollowSamples = 60

/** Triangles of some pieces, and all others. */
function partOf(mesh: TriMesh, facts: PieceFacts, pieces: readonly number[]): { part: TriMesh; rest: TriMesh | null } {
  const flags = new Uint8Array(triangleCount(mesh))
  for (const i of pieces) for (const t of facts.triangles[i]) flags[t] = 1
  if (!flags.includes(0)) return { part: mesh, rest: null }
  return {
    part: keepTriangles(mesh, flags).mesh,
    rest: keepTriangles(
      mesh,
      flags.map((f) => 1 - f),
    ).mesh,
  }
}

/**
 * Turns closed pieces outward that enclose a negative volume, unless nearly all of one lies within others: then it lines a hollow. Which way
 * a piece with holes faced was a guess until they were closed, and shells that cross cannot tell by who is round whom.
 */
export function faceShells(mesh: TriMesh, facts = pieceFacts(mesh)): TriMesh {
  const inward = facts.volume.flatMap((v, i) => (facts.sound[i] && v < 0 ? [i] : []))
  if (!inward.length) return mesh
  const triangles = mesh.triangles.slice()
  const turn = (i: number) => {
    for (const t of facts.triangles[i])
      [triangles[3 * t + 1], triangles[3 * t + 2]] = [triangles[3 * t + 2], triangles[3 * t + 1]]
  }
  for (const i of inward) turn(i)
  const outward = { positions: mesh.positions, triangles }
  const winding = new WindingNumber(outward)
  for (const i of inward) {
    const list = facts.triangles[i]
    const step = Math.max(1, Math.floor(list.length / hollowSamples))
    let inside = 0,
      all = 0
    for (let k = 0; k < list.length; k += step) {
      const t = list[k]
      const at = [0, 1, 2].map((a) => [0, 1, 2].reduce((s, c) => s + vertex(mesh, triangles[3 * t + c])[a] / 3, 0))
      // On its own skin a closed piece counts a half; a whole one more comes from others.
      if (winding.at(at[0], at[1], at[2], (u) => u === t) >= 1) inside++
      all++
    }
    if (inside >= hollowShare * all) turn(i)
  }
  return outward
}

/** Unites closed shells; what cannot be cut, which exact signs rule out, is left as it is. */
function cutAlong(mesh: TriMesh, work: Work): UnitedShells {
  try {
    const u = unite(mesh, span(work, 0, 0.8))
    if (!u.pairs || !triangleCount(u.mesh)) return { mesh, cut: 0, pairs: 0 }
    const clean = cleanUp(u.mesh)
    return { mesh: keepSound(clean, span(work, 0.8, 1)), cut: u.cut, pairs: u.pairs }
  } catch (error) {
    if (error instanceof CutError) return { mesh, cut: 0, pairs: 0 }
    throw error
  }
}

/** Unites the closed pieces of a mesh that run one way round, each with itself and with the others; other pieces stay as they are. */
export function uniteShells(input: TriMesh, work: Work = quiet): UnitedShells {
  const facts = pieceFacts(input)
  const closed = facts.sound.flatMap((s, i) => (s ? [i] : []))
  if (!closed.length) return { mesh: input, cut: 0, pairs: 0 }
  const { part, rest } = partOf(faceShells(input, facts), facts, closed)
  const u = cutAlong(part, work)
  if (!u.pairs) return { mesh: input, cut: 0, pairs: 0 }
  return { ...u, mesh: rest ? concatMeshes([u.mesh, rest]) : u.mesh }
}

/** Closed pieces united each with itself alone, so that pieces that cross stay apart. @param pairs crossings within pieces */
export function uniteEach(input: TriMesh, pairs: Uint32Array, work: Work = quiet): UnitedShells {
  const facts = pieceFacts(input)
  const tangled = new Set(pairs)
  const pieces = facts.sound.flatMap((s, i) => (s && facts.triangles[i].some((t) => tangled.has(t)) ? [i] : []))
  const { rest } = partOf(input, facts, pieces)
  let cut = 0,
    met = 0
  const parts = pieces.map((i, k) => {
    const { part } = partOf(input, facts, [i])
    const turned = (m: TriMesh) => ({ positions: m.positions, triangles: flipTriangles(m.triangles) })
    // The lining of a hollow is cut as the solid it would enclose.
    const hollow = facts.volume[i] < 0
    const u = cutAlong(hollow ? turned(part) : part, span(work, k / pieces.length, (k + 1) / pieces.length))
    cut += u.cut
    met += u.pairs
    return hollow ? turned(u.mesh) : u.mesh
  })
  return met ? { mesh: concatMeshes(rest ? [...parts, rest] : parts), cut, pairs: met } : { mesh: input, cut, pairs: 0 }
}
