/** Edges of bodies as rows of places: one edge or the round of edges of a face, of exact bodies and of meshes. */
import { isMesh, type Body, type ExactBody } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import { one } from '@/core/base/say'
import { kindOf, shownSkin } from '@/core/kinds/registry'
import { dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { creasesOf, endsOfCrease } from './crease'
import { resolveRegion } from './region'
import type { Taken } from './taken'

export interface SpaceRow {
  readonly places: Vec3[]
  readonly closed: boolean
}

/** Segments in the order in which they stand, as one row. */
function rowOf(segments: readonly (readonly [Vec3, Vec3])[]): SpaceRow {
  const places = [segments[0][0], ...segments.map((s) => s[1])]
  const closed = places.length > 3 && length(sub(places[0], places[places.length - 1])) < 1e-6
  return { places: closed ? places.slice(0, -1) : places, closed }
}

function ofExact(body: ExactBody, taken: Taken): SpaceRow[] {
  const { lines, edge } = body.display
  const { parts } = kindOf(body)
  const ref = { at: taken.at!, ...(taken.name ? { name: taken.name } : {}) }
  const wanted =
    taken.as === 'edge'
      ? [parts!.resolve(body, 'edge', ref).index]
      : body.parts.edges.flatMap((e, i) => (e.faces.includes(parts!.resolve(body, 'face', ref).index) ? [i] : []))
  return wanted.flatMap((index) => {
    const segments: [Vec3, Vec3][] = []
    edge.forEach((e, s) => {
      if (e !== index) return
      const p = (k: number): Vec3 => [lines[6 * s + k], lines[6 * s + k + 1], lines[6 * s + k + 2]]
      segments.push([p(0), p(3)])
    })
    return segments.length ? [rowOf(segments)] : []
  })
}

/** Sharp edges that run on from one of them while they turn less than `degrees`: round a bore's mouth, along a side. */
export function creaseRow(mesh: TriMesh, start: number, degrees = runsOn): SpaceRow {
  const limit = Math.cos((degrees * Math.PI) / 180)
  const { around } = creasesOf(mesh)
  const ends = (h: number) => endsOfCrease(mesh, h)
  const used = new Set([start])
  const walk = (from: number, to: number): number[] => {
    const list: number[] = []
    let [a, b] = [from, to]
    for (;;) {
      const way = normalize(sub(vertex(mesh, b), vertex(mesh, a)))
      let best = -1,
        most = limit
      for (const h of around.get(b) ?? []) {
        if (used.has(h)) continue
        const c = ends(h)[0] === b ? ends(h)[1] : ends(h)[0]
        const turn = dot(normalize(sub(vertex(mesh, c), vertex(mesh, b))), way)
        if (turn > most) {
          most = turn
          best = h
        }
      }
      if (best < 0) return list
      used.add(best)
      const c = ends(best)[0] === b ? ends(best)[1] : ends(best)[0]
      list.push(c)
      ;[a, b] = [b, c]
    }
  }
  const [a, b] = ends(start)
  const ahead = walk(a, b),
    back = walk(b, a)
  const list = [...back.reverse(), a, b, ...ahead]
  const closed = list.length > 3 && list[0] === list[list.length - 1]
  return { places: (closed ? list.slice(0, -1) : list).map((v) => vertex(mesh, v)), closed }
}

/** The sharp edge of a mesh that a place lies on, or is nearest to; -1 without any. */
function creaseAt(mesh: TriMesh, p: Vec3): number {
  let best = -1,
    least = Infinity
  for (const h of creasesOf(mesh).list) {
    const [a, b] = endsOfCrease(mesh, h).map((v) => vertex(mesh, v))
    const e = sub(b, a)
    const t = Math.max(0, Math.min(1, dot(sub(p, a), e) / (dot(e, e) || 1)))
    const d = length(sub(p, [a[0] + t * e[0], a[1] + t * e[1], a[2] + t * e[2]]))
    if (d < least) {
      least = d
      best = h
    }
  }
  return best
}

/** Edges of an area of a mesh to what is not in it, as pairs of places. */
export function rimPieces(mesh: TriMesh, flags: Uint8Array): [Vec3, Vec3][] {
  const { twin } = buildTopology(mesh)
  const out: [Vec3, Vec3][] = []
  for (let h = 0; h < twin.length; h++) {
    if (!flags[triangleOf(h)] || (twin[h] >= 0 && flags[triangleOf(twin[h])])) continue
    out.push([vertex(mesh, mesh.triangles[h]), vertex(mesh, mesh.triangles[nextIn(h)])])
  }
  return out
}

/** Flat areas of a mesh end where it turns more than this, degrees. */
const flatTurn = 1
/** Sharp edges run on while they turn less than this, degrees. */
export const runsOn = 35

/** The edges that a reference means, as rows; those of a mesh's face come as straight pieces. Throws StepError `no-place`, `lost-part` or `wrong-kind`. */
export function takenRows(taken: Taken, body: Body): SpaceRow[] {
  if (!taken.at || (taken.as !== 'edge' && taken.as !== 'face'))
    throw new StepError('no-place', `Of "${taken.from}" an edge or a face has to be picked.`, {
      where: { body: taken.from },
    })
  if (kindOf(body).parts && kindOf(body).exact) return ofExact(kindOf(body).exact!(body), taken)
  if (!isMesh(body))
    throw new StepError(
      'wrong-kind',
      `"${taken.from}" is ${one(kindOf(body).title)}, which has no edges to take over.`,
      {
        where: { body: taken.from },
        tryThis: 'Pick a solid, a sheet or a mesh.',
      },
    )
  const mesh = shownSkin(body)
  if (taken.as === 'edge') {
    const start = creaseAt(mesh, taken.at)
    if (start >= 0) return [creaseRow(mesh, start)]
    throw new StepError('no-place', `"${taken.from}" has no sharp edge.`, {
      where: { body: taken.from, point: taken.at },
    })
  }
  const flags = resolveRegion(mesh, [{ pick: 'grow', mode: 'add', at: taken.at, angle: flatTurn }])
  return rimPieces(mesh, flags).map((places) => ({ places, closed: false }))
}
