/** Places and directions that settings take from bodies: a datum, a face, an axis, an edge or a corner. They follow what they were taken from. */
import { z } from 'zod'
import { isDatum, isOutline, type Body, type OutlineBody } from '@/core/bodies/body'
import { one } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { curveNear } from '@/core/kinds/outline'
import type { Part } from '@/core/kinds/kind'
import { kindOf, shownSkin } from '@/core/kinds/registry'
import { add, distance, dot, addScaled, scale, sub, type Vec3 } from '@/core/math/vec'
import { vertex, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { creaseNear } from './crease'
import { exactFaceAt } from './exact-face'
import { resolveTouch } from './touch'
import { triple } from './triple'

export const takenAs = ['face', 'axis', 'edge', 'corner'] as const
export type TakenAs = (typeof takenAs)[number]

/** `from`: the body; `as`: what of it, none for a datum; `at`: the nearest one to this place; `name`: the very face or edge that was picked. */
export const takenSchema = z
  .object({
    from: z.string().trim().min(1).max(80),
    as: z.enum(takenAs).optional(),
    at: triple.optional(),
    name: z.string().max(500).optional(),
  })
  .strict()
export type Taken = z.output<typeof takenSchema>

export const isTaken = (v: unknown): v is Taken =>
  !!v && typeof v === 'object' && !Array.isArray(v) && typeof (v as Taken).from === 'string'

/** A place, and the direction that goes with it: normal of a face (outward), way of an axis or edge; a corner has none. */
export interface Whereabouts {
  readonly at: Vec3
  readonly way: Vec3 | null
  /** Of a round wall or edge, mm. */
  readonly diameter?: number
}

const onPlane = (p: Vec3, at: Vec3, normal: Vec3): Vec3 => addScaled(p, normal, dot(sub(at, p), normal))

/** What a face or edge with exact form tells; null when it has no such thing. */
export function fromPart(part: Part, as: 'face' | 'axis' | 'edge', at: Vec3): Whereabouts | null {
  const { axis, centre, radius } = part
  const round = radius === undefined ? {} : { diameter: 2 * radius }
  if (as === 'face') return part.shape === 'plane' && axis ? { at: onPlane(at, part.at, axis), way: axis } : null
  if (as === 'axis') {
    if (part.shape === 'plane' || !centre) return null
    return axis ? { at: addScaled(centre, axis, dot(sub(part.at, centre), axis)), way: axis, ...round } : null
  }
  return { at: centre ?? part.at, way: axis ?? null, ...round }
}

const lost = (name: string, sentence: string, at?: Vec3, tryThis = 'Pick another place.') =>
  new StepError('no-place', sentence, { where: { body: name, ...(at ? { point: at } : {}) }, tryThis })

/** Ends of a body's edges, or its corners. */
function cornerNear(body: Body, p: Vec3): Vec3 | null {
  const { skin, lines } = kindOf(body).draw(body)
  let best: Vec3 | null = null,
    least = Infinity
  const take = (q: Vec3) => {
    const d = distance(q, p)
    if (d < least) {
      least = d
      best = q
    }
  }
  if (lines?.part && lines.part.length)
    lines.part.forEach((e, s) => {
      const end = (k: number): Vec3 => [
        lines.points[6 * s + k],
        lines.points[6 * s + k + 1],
        lines.points[6 * s + k + 2],
      ]
      if (s === 0 || lines.part![s - 1] !== e) take(end(0))
      if (s === lines.part!.length - 1 || lines.part![s + 1] !== e) take(end(3))
    })
  else if (skin) for (let v = 0, n = vertexCount(skin); v < n; v++) take(vertex(skin, v))
  return best
}

/** Finds what a setting takes from a body. Throws StepError `no-place`, `lost-part` or what a touch throws. */
export function resolveTaken(taken: Taken, body: Body): Whereabouts {
  const { from: name, as } = taken
  if (isDatum(body)) return { at: body.at, way: body.datum === 'point' ? null : body.direction }
  if (isOutline(body)) return ofOutline(taken, body)
  if (!as || !taken.at)
    throw lost(
      name,
      `"${name}" is ${one(kindOf(body).title)}: it has to be told which face, axis, edge or corner of it is meant.`,
      undefined,
      'Pick one on the bench.',
    )
  const at = taken.at
  if (as === 'corner') {
    const corner = cornerNear(body, at)
    if (corner) return { at: corner, way: null }
    throw lost(name, `"${name}" has no corner.`, at)
  }
  const { parts } = kindOf(body)
  const ref = { at, ...(taken.name ? { name: taken.name } : {}) }
  if (parts) {
    const part = parts.resolve(body, as === 'edge' ? 'edge' : 'face', ref)
    const found = fromPart(part, as, at)
    if (found) return found
    throw lost(name, `The face there is ${as === 'face' ? 'not flat' : 'not round'} (${part.shape}).`, at)
  }
  const known = as === 'edge' ? null : exactFaceAt(body, at)
  const exact = known && fromPart({ index: 0, ...known }, as as 'face' | 'axis', at)
  return exact ?? ofSkin(name, as, at, shownSkin(body))
}

function ofOutline({ from: name, as, at }: Taken, body: OutlineBody): Whereabouts {
  if (as !== 'edge') return { at: as && at ? at : body.plane.at, way: body.plane.normal }
  const near = curveNear(body, at ?? body.plane.at)
  if (near) return near
  throw lost(name, `"${name}" holds no curve to take a direction from.`)
}

/** What a skin of facets has at a place. */
function ofSkin(name: string, as: 'face' | 'axis' | 'edge', at: [number, number, number], mesh: TriMesh): Whereabouts {
  if (as === 'edge') {
    const crease = creaseNear(mesh, at)
    if (!crease) throw lost(name, `"${name}" has no sharp edge.`, at)
    const d = sub(crease.to, crease.from)
    return { at: scale(add(crease.from, crease.to), 0.5), way: scale(d, 1 / (Math.hypot(...d) || 1)) }
  }
  const t = resolveTouch(mesh, { as: as === 'face' ? 'plane' : 'axis', at })
  return { at: t.point, way: t.direction, ...(t.diameter ? { diameter: t.diameter } : {}) }
}
