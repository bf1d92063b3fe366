/** Bodies that run through themselves: the exact kernel calls them sound, so their facets are asked. */
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { corners } from '@/core/mesh/tri-mesh'

/** Throws StepError `crosses-itself` with the place, for a body whose facets cross also when they are laid finer. */
export async function requireNoCrossing(what: string, body: ExactBody, tryThis: string, work: Work): Promise<void> {
  for (const chord of [body.tolerance, body.tolerance / 4]) {
    const { mesh } = await facetSolid(body, chord)
    const crossing = findSelfCrossings(mesh, work, 1)
    if (!crossing.length) return
    if (chord === body.tolerance) continue
    const [a, b, c] = corners(mesh, crossing[0])
    const point = [0, 1, 2].map((k) => (a[k] + b[k] + c[k]) / 3) as [number, number, number]
    throw new StepError(
      'crosses-itself',
      `${what} runs through itself near ${point.map((v) => num(v, 1)).join(', ')}.`,
      {
        where: { point },
        tryThis,
      },
    )
  }
}
