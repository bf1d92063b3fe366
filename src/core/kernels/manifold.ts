/** Adapter to the manifold-3d library: booleans of closed meshes, with the source triangle of each result triangle. */
import loadManifold, { type ManifoldToplevel } from 'manifold-3d'
import { meshVolume } from '@/core/mesh/measures'
import { diagonal, meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { isTrap, spoil } from './trap'

let loading: Promise<ManifoldToplevel> | null = null

/** The library, loaded once. */
export function manifoldKernel(): Promise<ManifoldToplevel> {
  loading ??= loadManifold().then(
    (m) => {
      m.setup()
      return m
    },
    (error: unknown) => {
      loading = null // its file may come at the next try
      throw error
    },
  )
  return loading
}

export interface CsgInput {
  readonly name: string
  readonly mesh: TriMesh
}
export interface CsgResult {
  readonly mesh: TriMesh
  /** For each triangle the number of the input it lies on, and its triangle number there. */
  readonly source: Uint32Array
  readonly triangle: Uint32Array
  /** Volume of each input, mm³. */
  readonly volumes: readonly number[]
}

/** Detail below this share of the diagonal is merged in a result. */
const resultShare = 5e-7

export type CsgKind = 'union' | 'difference' | 'intersection'

/** A result's triangles, with the input and the triangle of it that each lies on. `first`: the number of the first input. */
function readResult(
  out: ReturnType<InstanceType<ManifoldToplevel['Manifold']>['getMesh']>,
  first: number,
): Omit<CsgResult, 'volumes'> {
  const triangles = out.triVerts.slice()
  let positions: Float32Array
  if (out.numProp === 3) positions = out.vertProperties.slice()
  else {
    positions = new Float32Array((out.vertProperties.length / out.numProp) * 3)
    for (let v = 0; 3 * v < positions.length; v++)
      positions.set(out.vertProperties.subarray(v * out.numProp, v * out.numProp + 3), 3 * v)
  }
  const n = triangles.length / 3
  const source = new Uint32Array(n)
  const runs = out.runOriginalID?.length ?? 0
  for (let r = 0; r < runs; r++) source.fill(out.runOriginalID[r] - first, out.runIndex[r] / 3, out.runIndex[r + 1] / 3)
  const triangle = out.faceID?.length === n ? out.faceID.slice() : new Uint32Array(n)
  return { mesh: { positions, triangles }, source, triangle }
}

/**
 * Boolean of closed meshes; difference takes all later ones from the first.
 * With `mergeFlat`, flat areas are triangulated anew and the triangle numbers mean nothing.
 * Rounding to single precision may leave a few needles along the seam: `join/csg` clears them.
 * Throws StepError `not-closed` naming the input that is no solid.
 */
export async function booleanOf(
  kind: CsgKind,
  inputs: readonly CsgInput[],
  { mergeFlat = false } = {},
): Promise<CsgResult> {
  const { Manifold, Mesh } = await manifoldKernel()
  const made: InstanceType<typeof Manifold>[] = []
  // Corners closer than single precision can tell apart would come out as triangles without area.
  const tolerance = resultShare * Math.max(...inputs.map(({ mesh }) => diagonal(meshBounds(mesh))))
  try {
    const first = Manifold.reserveIDs(inputs.length)
    const volumes = inputs.map(({ mesh }) => meshVolume(mesh))
    inputs.forEach(({ name, mesh }, i) => {
      const n = mesh.triangles.length / 3
      const faceID = new Uint32Array(n)
      for (let t = 0; t < n; t++) faceID[t] = t
      try {
        const m = new Manifold(
          new Mesh({
            numProp: 3,
            vertProperties: mesh.positions,
            triVerts: mesh.triangles,
            tolerance,
            ...(mergeFlat ? {} : { faceID }),
            runIndex: new Uint32Array([0, mesh.triangles.length]),
            runOriginalID: new Uint32Array([first + i]),
          }),
        )
        made.push(m)
        if (m.status() !== 'NoError') throw new Error(String(m.status()))
        if (volumes[i] < 0)
          throw new StepError('inside-out', `"${name}" faces inward, so it has no inside to work with.`, {
            where: { body: name },
            tryThis: 'Run Face outward or Mend all on it first.',
          })
      } catch (error) {
        if (error instanceof StepError || isTrap(error)) throw error
        throw new StepError('not-closed', `"${name}" is not a closed, sound skin, so it has no inside to work with.`, {
          where: { body: name },
          tryThis: 'Run Mend all on it first.',
        })
      }
    })
    const result =
      kind === 'union'
        ? Manifold.union(made)
        : kind === 'intersection'
          ? Manifold.intersection(made)
          : Manifold.difference(made)
    made.push(result)
    if (result.status() !== 'NoError')
      throw new StepError('boolean-failed', `The ${kind} failed: ${result.status()}.`, {
        tryThis: 'Move one body by a hundredth of a millimetre, or mend both and try again.',
      })
    return { ...readResult(result.getMesh(), first), volumes }
  } catch (error) {
    if (!isTrap(error)) throw error
    // Nothing of this instance is to be trusted or touched again.
    loading = null
    made.length = 0
    spoil()
    throw new StepError('out-of-memory', `The ${kind} needs more memory than there is.`, {
      tryThis: 'Simplify the bodies first, or take fewer at a time.',
    })
  } finally {
    for (const m of made) m.delete()
  }
}

/**
 * What skins cover seen along z: closed rows of x and y in mm, holes among them the other way round. A closed, sound skin is projected by
 * its contour; any other by all of its triangles.
 */
export async function coveredBy(skins: readonly TriMesh[]): Promise<[number, number][][]> {
  const { Manifold, Mesh, CrossSection } = await manifoldKernel()
  const made: { delete(): void }[] = []
  const keep = <T extends { delete(): void }>(x: T): T => {
    made.push(x)
    return x
  }
  const shadow = (mesh: TriMesh) => {
    try {
      const solid = keep(
        new Manifold(new Mesh({ numProp: 3, vertProperties: mesh.positions, triVerts: mesh.triangles })),
      )
      if (solid.status() === 'NoError' && solid.volume() > 0) return keep(solid.project())
    } catch (error) {
      if (isTrap(error)) throw error // an open skin is no fault here
    }
    const p = mesh.positions
    const polygons: [number, number][][] = []
    for (let t = 0; t < mesh.triangles.length; t += 3) {
      const [a, b, c] = [0, 1, 2].map((k): [number, number] => {
        const v = 3 * mesh.triangles[t + k]
        return [p[v], p[v + 1]]
      })
      const turn = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
      if (turn) polygons.push(turn > 0 ? [a, b, c] : [a, c, b])
    }
    return polygons.length ? keep(CrossSection.ofPolygons(polygons, 'NonZero')) : null
  }
  try {
    const parts = skins.flatMap((m) => shadow(m) ?? [])
    if (!parts.length) return []
    const whole = parts.length > 1 ? keep(CrossSection.union(parts)) : parts[0]
    return whole.toPolygons().map((row) => row.map(([x, y]): [number, number] => [x, y]))
  } catch (error) {
    if (!isTrap(error)) throw error
    loading = null
    made.length = 0
    spoil()
    throw new StepError('out-of-memory', 'The silhouette needs more memory than there is.', {
      tryThis: 'Simplify the bodies first.',
    })
  } finally {
    for (const m of made) m.delete()
  }
}
