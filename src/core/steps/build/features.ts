/** What the features on exact bodies share. */
import { isMesh, type Body, type ExactBody, type MeshBody } from '@/core/bodies/body'
import { mm, num, plural, volumeText } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span, type Work } from '@/core/base/work'
import { resolveParts, type PartReference } from '@/core/find/part'
import { takenRows, type SpaceRow } from '@/core/find/taken-rows'
import { creaseFeature } from '@/core/join/crease-feature'
import { requireClosed } from '@/core/join/boolean'
import { facetSolidOf } from '@/core/join/facet-solid'
import { requireCapability } from '@/core/kinds/registry'
import { rimFeature, roundRim, type RoundRim } from '@/core/join/rim-feature'
import { add, distance, dot, normalize, scale, sub } from '@/core/math/vec'
import { meshVolume } from '@/core/mesh/measures'
import type { Facts, StepResult } from '@/core/step/step'

type Refs = 'all' | readonly PartReference[]

/** Features on meshes of more flat faces than this take the kernel too long. */
const mostFeatureFaces = 4000
/** Facets of a round wall bend less than this from one to the next, radians: between them there is no edge to round. */
const facetTurn = 0.3

export interface FeatureBody {
  readonly exact: ExactBody
  /** It was made of a mesh: how far corners were moved for it, mm. */
  readonly moved?: number
  /** Edges that turn less count as none, radians. */
  readonly smooth?: number
  /** Numbers of edges: by themselves, with what they run on to on a mesh, and as edges of faces. Throws StepError `no-part`. */
  edges(edges: Refs | undefined, faces?: Refs): number[]
  faces(faces: Refs): number[]
}

/** A body that a feature works on: exact ones as they are, meshes as a solid of flat faces. Throws StepError in the maker's words. */
export async function featureBody(name: string, body: Body, work: Work): Promise<FeatureBody> {
  const mesh = isMesh(body) ? body.mesh : null
  if (mesh) requireClosed(name, mesh)
  const made = mesh
    ? await facetSolidOf(name, mesh, { angle: 0.5, distance: 0.005, most: mostFeatureFaces }, span(work, 0, 0.4))
    : null
  const exact = made?.solid ?? requireCapability(name, body, 'exact').exact!(body)
  const faces = (refs: Refs) => resolveParts(name, exact, 'face', refs).map((p) => p.index)
  return {
    exact,
    faces,
    ...(made ? { moved: made.moved, smooth: facetTurn } : {}),
    edges(edges, ofFaces) {
      const out = new Set<number>()
      if (mesh && edges && edges !== 'all')
        // A sharp edge of a mesh is many bits: those that run on from the one that was picked.
        for (const ref of edges)
          for (const { places, closed } of takenRows({ from: name, as: 'edge', at: ref.at }, body))
            for (let i = closed ? 0 : 1; i < places.length; i++) {
              const at = scale(add(places[i], places[(i + places.length - 1) % places.length]), 0.5)
              out.add(resolveParts(name, exact, 'edge', [{ at: [...at] }])[0].index)
            }
      else if (edges) for (const p of resolveParts(name, exact, 'edge', edges)) out.add(p.index)
      if (ofFaces) {
        const on = new Set(faces(ofFaces))
        exact.parts.edges.forEach((e, i) => {
          if (e.faces.some((f) => on.has(f))) out.add(i)
        })
      }
      if (!out.size)
        throw new StepError('no-part', `No edge of "${name}" is picked.`, {
          where: { body: name },
          tryThis: 'Click the edges, or a face whose edges are meant.',
        })
      return [...out].sort((a, b) => a - b)
    },
  }
}

/** The changed body with its figures. */
export function changed(name: string, on: FeatureBody, body: ExactBody, words: string, facts: Facts = {}): StepResult {
  const by = body.facts.volume - on.exact.facts.volume
  const { moved } = on
  return {
    bodies: { [name]: body },
    facts: {
      volume: body.facts.volume,
      volumeChange: by,
      faces: body.facts.faces,
      ...facts,
      ...(moved === undefined ? {} : { moved }),
    },
    warnings:
      moved === undefined
        ? []
        : [
            `"${name}" was a mesh: it is a solid of flat faces now${moved > 1e-5 ? `, its corners moved by up to ${mm(moved, 4)}` : ''}. Round walls are as faceted as they were.`,
          ],
    said: `${words} · ${by < 0 ? '−' : '+'} ${volumeText(Math.abs(by))}`,
  }
}

/** Sizes in words, each once. */
export const sizes = (list: readonly number[]): string => [...new Set(list)].map((v) => num(v)).join(' and ')

/** Round rims of a mesh, where all that was picked are such: they are worked on the mesh itself. Null where it is no mesh or not all are. */
export function roundRims(
  name: string,
  body: Body,
  edges: Refs | undefined,
): { mesh: MeshBody; rims: RoundRim[] } | null {
  if (!isMesh(body) || !edges || edges === 'all') return null
  const rims: RoundRim[] = []
  for (const ref of edges) {
    const row = takenRows({ from: name, as: 'edge', at: ref.at }, body)[0]
    const rim = row && roundRim(body.mesh, row)
    if (!rim) return null
    if (!rims.some((r) => distance(r.centre, rim.centre) < 1e-6 * rim.radius && Math.abs(r.radius - rim.radius) < 1e-6))
      rims.push(rim)
  }
  return { mesh: body, rims }
}

/** Turns of an edge of a mesh that make it a curve, degrees in all. */
const curveTurn = 15

/** The edges of a mesh that were picked, as rows with all that runs on from them; null where it is no mesh or all edges are meant. */
export function meshRows(
  name: string,
  body: Body,
  edges: Refs | undefined,
): { mesh: MeshBody; rows: SpaceRow[] } | null {
  if (!isMesh(body) || !edges || edges === 'all') return null
  const rows: SpaceRow[] = []
  const seen = new Set<string>()
  for (const ref of edges)
    for (const row of takenRows({ from: name, as: 'edge', at: ref.at }, body)) {
      const key = row.places.map((p) => p.join(' ')).sort()[0] + row.places.length
      if (!seen.has(key)) rows.push(row)
      seen.add(key)
    }
  return { mesh: body, rows }
}

/** Whether any of some rows bends: then it is worked on as a curve, on the mesh itself. */
export const anyBends = (rows: readonly SpaceRow[]): boolean =>
  rows.some(({ places, closed }) => {
    let turn = 0
    for (let i = closed ? 0 : 1; i < (closed ? places.length : places.length - 1); i++) {
      const [a, b, c] = [-1, 0, 1].map((k) => places[(i + k + places.length) % places.length])
      turn += Math.acos(Math.max(-1, Math.min(1, dot(normalize(sub(b, a)), normalize(sub(c, b))))))
    }
    return turn > (curveTurn * Math.PI) / 180
  })

/** A mesh with curved edges rounded or cut off, and how far off the strip is. */
export async function onCreases(
  name: string,
  { mesh, rows }: { mesh: MeshBody; rows: SpaceRow[] },
  sort: 'fillet' | 'chamfer',
  size: number,
  second: number,
  work: Work,
): Promise<StepResult> {
  const { body, volumeChange: by, off, bits } = await creaseFeature(name, mesh, { rows, sort, size, second }, work)
  return {
    bodies: { [name]: body },
    facts: { volume: meshVolume(body.mesh), volumeChange: by, edges: bits, off },
    said: `${plural(rows.length, 'edge')} of ${plural(bits, 'bit')} on the mesh, ${num(size)} mm · ${by < 0 ? '−' : '+'} ${volumeText(Math.abs(by))}${off > 1e-4 ? ` · off the skin by at most ${mm(off, 4)}` : ''}`,
  }
}

/** Runs the exact way of a feature on a mesh; where it cannot, the way on the mesh itself. The first failure is told when both fail. */
export async function exactOrOnMesh(exact: () => Promise<StepResult>, onMesh: (() => Promise<StepResult>) | null) {
  try {
    return await exact()
  } catch (error) {
    if (!onMesh || !(error instanceof StepError) || error.code === 'no-part') throw error
    try {
      return await onMesh()
    } catch (second) {
      // Stopped, or ended by the kernel: that is told, not what went before.
      throw second instanceof StepError ? error : second
    }
  }
}

/** A mesh with its round rims rounded or cut off, and how far off they were from circles. */
export async function onRims(
  name: string,
  { mesh, rims }: { mesh: MeshBody; rims: RoundRim[] },
  sort: 'fillet' | 'chamfer',
  size: number,
  second: number,
  work: Work,
): Promise<StepResult> {
  const done = await rimFeature(name, mesh, rims, sort, size, second, work)
  const by = done.volume - done.volumeBefore
  const off = Math.max(...rims.map((r) => r.off))
  return {
    bodies: { [name]: done.body },
    facts: { volume: done.volume, volumeChange: by, edges: rims.length, off },
    said: `${plural(rims.length, 'round rim')} on the mesh, ${num(size)} mm · ${by < 0 ? '−' : '+'} ${volumeText(Math.abs(by))}${off > 1e-4 ? ` · rims off their circles by at most ${mm(off, 4)}` : ''}`,
  }
}
