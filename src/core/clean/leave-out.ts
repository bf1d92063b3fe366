/** A clean solid built with its fillets left out: all of them, or those chains of them whose neighbours come together without. */
import { span, type Work } from '@/core/base/work'
import { StepError } from '@/core/base/step-error'
import type { Fitted } from '@/core/fit/fit-shape'
import { triangleOf, type Topology } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { faceByFace, type FaceByFace, type FaceByFaceChoice } from './face-by-face'
import { withoutFillets, type WithoutFillets } from './fillets'

export interface LeftOut {
  readonly built: FaceByFace
  readonly out: WithoutFillets
  /** Regions of fillets that are gone. */
  readonly gone: ReadonlySet<number>
}

/** More chains than this are left out all together or not at all. */
const mostChains = 24

/** Fillets that hang together. */
function chainsOf({ twin }: Topology, of: ArrayLike<number>, fillets: ReadonlySet<number>): number[][] {
  const beside = new Map<number, Set<number>>([...fillets].map((r) => [r, new Set<number>()]))
  for (let h = 0; h < twin.length; h++) {
    const [a, b] = [of[triangleOf(h)], twin[h] < 0 ? -1 : of[triangleOf(twin[h])]]
    if (a !== b && fillets.has(a) && fillets.has(b)) beside.get(a)!.add(b)
  }
  const seen = new Set<number>()
  return [...fillets].flatMap((first) => {
    if (seen.has(first)) return []
    seen.add(first)
    const chain = [first]
    for (const r of chain)
      for (const q of beside.get(r)!)
        if (!seen.has(q)) {
          seen.add(q)
          chain.push(q)
        }
    return [chain]
  })
}

const goneBy = (l: LeftOut | null): Iterable<number> => l?.gone ?? []

/** Null where none of the fillets can be left out. */
export async function leaveOut(
  mesh: TriMesh,
  topology: Topology,
  of: ArrayLike<number>,
  shapes: readonly (Fitted | null)[],
  fillets: ReadonlySet<number>,
  choice: FaceByFaceChoice,
  work: Work,
): Promise<LeftOut | null> {
  const tried = async (gone: ReadonlySet<number>, own: Work): Promise<LeftOut | null> => {
    const out = withoutFillets(mesh, topology, of, shapes, gone)
    try {
      const moved = { flags: out.moved, reach: out.reach }
      const built = await faceByFace(mesh, topology, out.of, shapes, { ...choice, moved }, own)
      return built.given ? null : { built, out, gone }
    } catch (error) {
      if (error instanceof StepError && error.code === 'not-valid') return null
      throw error
    }
  }
  if (!fillets.size) return null
  const all = await tried(fillets, span(work, 0, 0.5))
  const chains = chainsOf(topology, of, fillets)
  if (all || chains.length < 2 || chains.length > mostChains) return all
  let best: LeftOut | null = null
  for (const [i, chain] of chains.entries()) {
    const own = span(work, 0.5 + (0.5 * i) / chains.length, 0.5 + (0.5 * (i + 1)) / chains.length)
    best = (await tried(new Set<number>([...goneBy(best), ...chain]), own)) ?? best
  }
  return best
}
