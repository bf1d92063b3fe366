/** What a picked region of a mesh is: one shape through all of it, or one through each of its patches, equal ones together. */
import { StepError } from '@/core/base/step-error'
import type { Topology } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import type { Care } from './fit-shape'
import { fitHeld, type FitWish, type HeldFit } from './held'
import { patchesOf } from './patches'
import { flagged, samplesOf, type Samples } from './samples'
import { fitTogether, type Group } from './together'

export interface RegionWish extends FitWish {
  /** A shape through each patch. */
  readonly each: boolean
  /** Patches whose shapes agree share their size and direction. */
  readonly equal: boolean
}

export interface PatchFit extends HeldFit {
  readonly triangles: readonly number[]
  readonly samples: Samples
}

export interface RegionFit {
  readonly patches: readonly PatchFit[]
  readonly groups: readonly Group[]
  /** Patches that tell no shape. */
  readonly left: number
}

/** More patches than this are no picked holes but something else. */
const mostPatches = 400

/**
 * @param flags which triangles are picked
 * Throws StepError `empty-region`, `too-many`, and what a single fit throws when nothing could be fitted.
 */
export function fitRegion(
  mesh: TriMesh,
  flags: ArrayLike<number>,
  wish: RegionWish,
  care: Care = {},
  topology?: Topology,
): RegionFit {
  const all = flagged(flags)
  if (!all.length)
    throw new StepError('empty-region', 'Nothing is picked.', { tryThis: 'Brush or grow over the wall that is meant.' })
  const lots = wish.each ? patchesOf(mesh, flags, topology) : [all]
  if (lots.length > mostPatches)
    throw new StepError(
      'too-many',
      `The region is in ${lots.length} patches; up to ${mostPatches} are fitted at once.`,
      {
        tryThis: 'Pick less, or take one shape through all.',
      },
    )
  const patches: PatchFit[] = []
  let trouble: StepError | null = null
  for (const triangles of lots) {
    const samples = samplesOf(mesh, triangles)
    try {
      patches.push({ triangles, samples, ...fitHeld(samples, wish, care) })
    } catch (error) {
      if (!(error instanceof StepError)) throw error
      trouble ??= error
    }
  }
  if (!patches.length) throw trouble!
  const left = lots.length - patches.length
  if (!wish.each || !wish.equal || patches.length < 2) return { patches, groups: [], left }
  const { fits, groups } = fitTogether(
    patches.map((p) => ({ samples: p.samples, held: { fit: p.fit, known: p.known } })),
    care,
  )
  return { patches: patches.map((p, i) => ({ ...p, ...fits[i] })), groups, left }
}
