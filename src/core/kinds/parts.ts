/**
 * Faces and edges found again: by name where a reference has one and the body still has it, else by what is nearest to its place. A name
 * that is gone is looked for by its stem, and then by the only part of its kind close to the place; what cannot be told is asked for.
 */
import { mm } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { Line3, Triangle, Vector3 } from 'three'
import { distance, type Vec3 } from '@/core/math/vec'
import type { Part, PartRef, PartSort } from './kind'

/** A lost part may be taken for the one within this share of the body's diagonal, when there is only one. */
const nearShare = 0.01

/** A place further from every part than this share of the diagonal, and a little, means none of them. */
const farShare = 0.05
const farFrom = (body: ExactBody): number => 1 + farShare * Math.hypot(...body.facts.size)

const lists = new WeakMap<ExactBody, Record<PartSort, readonly Part[]>>()

/** All faces or edges of a body. */
export function partsOf(body: ExactBody, sort: PartSort): readonly Part[] {
  let both = lists.get(body)
  if (!both) {
    both = {
      face: body.parts.faces.map((f, index) => ({ index, ...f })),
      edge: body.parts.edges.map(({ faces: _faces, ...e }, index) => ({ index, ...e })),
    }
    lists.set(body, both)
  }
  return both[sort]
}

/** Distance of a point from each part, mm. */
function distances(body: ExactBody, sort: PartSort, at: Vec3): Float64Array {
  const { display: d } = body
  const out = new Float64Array(sort === 'face' ? body.parts.faces.length : body.parts.edges.length).fill(Infinity)
  const from = new Vector3(...at),
    near = new Vector3()
  if (sort === 'face') {
    const tri = new Triangle()
    for (let t = 0; t < d.face.length; t++) {
      tri.a.fromArray(d.positions, 3 * d.triangles[3 * t])
      tri.b.fromArray(d.positions, 3 * d.triangles[3 * t + 1])
      tri.c.fromArray(d.positions, 3 * d.triangles[3 * t + 2])
      out[d.face[t]] = Math.min(out[d.face[t]], tri.closestPointToPoint(from, near).distanceTo(from))
    }
  } else {
    const line = new Line3()
    for (let s = 0; s < d.edge.length; s++) {
      line.start.fromArray(d.lines, 6 * s)
      line.end.fromArray(d.lines, 6 * s + 3)
      out[d.edge[s]] = Math.min(out[d.edge[s]], line.closestPointToPoint(from, true, near).distanceTo(from))
    }
  }
  return out
}

const middlesOf = (list: readonly Part[]): Vec3[] => list.flatMap((p) => [p.at, ...(p.centre ? [p.centre] : [])])

const stem = (name: string) => name.replace(/ #\d+$/, '')

/** The part a reference means. Throws StepError `lost-part` with the place, so that it can be picked again. */
export function resolvePart(body: ExactBody, sort: PartSort, ref: PartRef): Part {
  const list = partsOf(body, sort)
  const lost = (why: string) =>
    new StepError('lost-part', `The ${sort} ${ref.name ? `"${ref.name}" ` : ''}${why}.`, {
      where: { point: ref.at },
      tryThis: `Pick the ${sort} again.`,
    })
  if (!list.length) throw lost('cannot be found: the body has none')
  const d = distances(body, sort, ref.at)
  const nearest = (some: readonly Part[]) => some.reduce((a, b) => (d[b.index] < d[a.index] ? b : a))
  if (!ref.name) {
    const one = nearest(list)
    // The middle of a round face or edge lies off it.
    const off = Math.min(d[one.index], ...middlesOf(list).map((p) => distance(p, ref.at)))
    if (off > farFrom(body)) throw lost(`cannot be told: the nearest one lies ${mm(d[one.index], 1)} from the place`)
    return one
  }
  const same = list.filter((p) => p.name === ref.name)
  if (same.length) return nearest(same)
  // A face that was split, or edges that became one, keep their stem.
  const kin = list.filter((p) => stem(p.name) === stem(ref.name!))
  if (kin.length) return nearest(kin)
  const reach = nearShare * Math.hypot(...body.facts.size)
  const close = list.filter((p) => d[p.index] <= reach)
  if (close.length === 1) return close[0]
  throw lost(close.length ? 'is gone, and several others are where it was' : 'is not there any more')
}
