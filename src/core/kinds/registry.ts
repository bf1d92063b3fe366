/** Every kind of body there is, and what is asked of any body. A new kind is one file and one line here. */
import { one } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { isMesh, type Body } from '@/core/bodies/body'
import { badBody, packBytes, unpackBytes } from '@/core/bodies/container'
import type { Affine } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { boundsSize, emptyMesh, type Bounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { cageKind } from './cage'
import { datumKind } from './datum'
import { sheetKind, solidKind } from './exact'
import { capabilities, type BodyFacts, type Capability, type KindDefinition } from './kind'
import { meshKind } from './mesh'
import { netKind } from './net'
import { outlineKind } from './outline'

/** A kind whose body type is known only at run time: it is only ever given bodies of its own kind. */
export type AnyKind = KindDefinition<Body>

const builtIn = [meshKind, solidKind, sheetKind, outlineKind, datumKind, netKind, cageKind] as unknown as AnyKind[]
const byName = new Map(builtIn.map((k) => [k.kind, k]))

export const allKinds = (): readonly AnyKind[] => [...byName.values()]

/** Adds a kind for as long as a test runs; gives what takes it out again. */
export function withKind<B extends Body>(kind: KindDefinition<B>): () => void {
  byName.set(kind.kind, kind as unknown as AnyKind)
  return () => void byName.delete(kind.kind)
}

/** The definition of a body's kind. Throws StepError `bad-body` for a kind that is not known here. */
export function kindOf(body: Pick<Body, 'kind'>): AnyKind {
  const k = byName.get(body.kind)
  if (!k) throw badBody(`there is no kind "${body.kind}"`)
  return k
}

export const can = (kind: AnyKind, capability: Capability): boolean => kind[capability] !== undefined

/** Names of the kinds that have a capability. */
export const kindsThat = (capability: Capability): string[] =>
  allKinds()
    .filter((k) => can(k, capability))
    .map((k) => k.kind)

/** Versions of all kinds: results are kept under them. */
export const kindVersions = (): Record<string, number> =>
  Object.fromEntries(
    allKinds()
      .filter((k) => k.version > 1)
      .map((k) => [k.kind, k.version]),
  )

/** Bytes of a body of any kind; the same body always gives the same bytes. */
export function encodeBody(body: Body): Uint8Array {
  const k = kindOf(body)
  return packBytes({ kind: k.kind, version: k.version, ...k.pack(body) })
}

/** The body back from its bytes, whichever version of its kind wrote them. Throws StepError `bad-body`. */
export function decodeBody(bytes: Uint8Array): Body {
  const from = unpackBytes(bytes)
  const k = kindOf(from)
  if (from.version > k.version) throw badBody(`its kind "${k.kind}" is of a later version than this program knows`)
  return k.unpack(from, from.version)
}

export const boundsOf = (body: Body): Bounds => kindOf(body).bounds(body)
export const sizeOf = (body: Body): Vec3 => boundsSize(boundsOf(body))
export const moveBody = (body: Body, map: Affine): Promise<Body> => kindOf(body).move(body, map)

/** What lists and readouts show of a body. */
export function factsOf(body: Body): BodyFacts {
  const k = kindOf(body)
  return { kind: k.kind, ...k.facts(body), can: capabilities.filter((c) => can(k, c)) }
}

/** The triangles a body is shown by: what a touch, a pick or a look at it meets. */
export function shownSkin(body: Body): TriMesh {
  // The very mesh, so that what was found on it once is known again.
  if (isMesh(body)) return body.mesh
  const skin = kindOf(body).draw(body).skin
  return skin ?? emptyMesh()
}

/** Laws of its kind that a body breaks, each a sentence without its end that goes on after the body's name. */
export const flawsOf = (body: Body): readonly string[] => kindOf(body).flaws?.(body) ?? []

/** The corners of a body that may be no numbers, or null. */
export const coordinatesOf = (body: Body): Float32Array | null => kindOf(body).coordinates?.(body) ?? null

/** The kind of a body that must have a capability. Throws StepError `wrong-kind` in the maker's words. */
export function requireCapability(name: string, body: Body, capability: Capability): AnyKind {
  const k = kindOf(body)
  if (can(k, capability)) return k
  const words: Record<Capability, string> = {
    surface: 'has no skin to work with',
    exact: 'has no exact faces',
    parts: 'has no faces and edges to pick',
    check: 'cannot be checked up',
  }
  throw new StepError('wrong-kind', `"${name}" is ${one(k.title)}, which ${words[capability]}.`, {
    where: { body: name },
    tryThis: `Pick a body of another kind: ${kindsThat(capability).join(', ')}.`,
  })
}
