/**
 * A cage whose smooth surface lies on a whole skin to a tolerance: a net, its cage fitted to the skin, what lies off, and again with more quads,
 * the finer ones where the last lay off.
 */
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { limitSkin } from '@/core/kinds/cage'
import { NearestInGrid } from '@/core/mesh/nearest'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { quadNet } from '@/core/net/quad-net'
import { Ground } from '@/core/net/relax-quads'
import type { Cage } from '@/core/subdivision/subdivide'
import { cageOfNet } from './cage-of-net'
import { fitCage } from './fit-cage'

export interface AutoSkinChoice {
  /** Nothing is to lie farther off, mm. */
  readonly within: number
  /** Quads of the first net, and at most. */
  readonly first: number
  readonly most: number
  /** Edges that bend by more stay sharp, degrees; null: none. */
  readonly hardAngle: number | null
}

export interface AutoSkin {
  readonly cage: Cage
  /** Greatest distance of a vertex of the skin from the surface, mm, where it is, and the share of vertices beyond the tolerance. */
  readonly max: number
  readonly at: readonly [number, number, number]
  readonly beyond: number
  readonly tries: number
}

/** Each net has so many times the quads of the one before. */
const growth = 1.9
/** Less gained by twice the quads is noise of the skin, which no surface meets. */
const gained = 0.85
const adaptive = 0.4

function offOf(mesh: TriMesh, cage: Cage, within: number): Omit<AutoSkin, 'cage' | 'tries'> {
  const grid = new NearestInGrid(limitSkin(cage).mesh)
  const { positions: p } = mesh
  let [max, worst, out] = [0, 0, 0]
  for (let v = 0; v < p.length / 3; v++) {
    const d = Math.sqrt(grid.square(p[3 * v], p[3 * v + 1], p[3 * v + 2]))
    if (d > max) [max, worst] = [d, v]
    if (d > within) out++
  }
  return { max, at: [p[3 * worst], p[3 * worst + 1], p[3 * worst + 2]], beyond: out / (p.length / 3) }
}

/** The first cage inside the tolerance, or the nearest there was. @throws StepError as `quadNet`, Stopped */
export async function autoSkin(mesh: TriMesh, choice: AutoSkinChoice, work: Work = quiet): Promise<AutoSkin> {
  const { within, first, most, hardAngle } = choice
  const counts: number[] = []
  for (let n = first; n < most; n *= growth) counts.push(Math.round(n))
  counts.push(most)
  const ground = new Ground(mesh)
  let best: AutoSkin | null = null
  // Later nets take longer: shares of the work by their counts.
  const whole = counts.reduce((s, n) => s + n, 0)
  let done = 0
  for (const [i, count] of counts.entries()) {
    checkStop(work)
    const part = span(work, done / whole, (done + count) / whole)
    done += count
    const { net } = await quadNet(mesh, { count, adaptive, hardAngle, detail: true }, span(part, 0, 0.75))
    const cage = fitCage(cageOfNet(net, hardAngle), ground, span(part, 0.75, 0.98))
    const made: AutoSkin = { cage, ...offOf(mesh, cage, within), tries: i + 1 }
    const gain: number = best ? made.max / best.max : 0
    if (!best || made.max < best.max) best = made
    if (best.max <= within || (i > 1 && gain > gained && best.beyond < 0.02)) break
  }
  return best!
}
