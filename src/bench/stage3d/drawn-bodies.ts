/** Which bodies are drawn: those that are shown, with the ghost standing in for the bodies it changes. */
import type { Plane } from 'three'
import type { GhostState } from '@/bench/ghost/ghost-state'
import type { BenchBody } from '@/bench/state/job'
import type { Comparison, DeviationMap, KeptMap, Look } from '@/bench/state/store'

export interface DrawnBody extends BenchBody {
  readonly isGhost: boolean
}

export const shownBodies = (
  bodies: readonly BenchBody[],
  looks: Record<string, Look>,
  comparison: Comparison | null,
): BenchBody[] =>
  bodies.filter((b) => (comparison ? b.name === comparison.a || b.name === comparison.b : !looks[b.name]?.hidden))

export function drawnBodies(
  bodies: readonly BenchBody[],
  shown: readonly BenchBody[],
  ghost: Pick<GhostState, 'bodies' | 'summaries'>,
  map: DeviationMap | null,
  keptMap: KeptMap | null = null,
): DrawnBody[] {
  const mapped = (name: string, hash: string) =>
    keptMap?.name === name ? keptMap.after : map?.name === name ? map.hash : hash
  const list = shown.map((b) => ({ ...b, isGhost: false }))
  const made = ghost.bodies
  if (!made) return list.map((b) => ({ ...b, hash: mapped(b.name, b.hash) }))
  const kept: DrawnBody[] = list.filter((b) => !(b.name in made))
  for (const [name, hash] of Object.entries(made)) {
    if (!hash) continue
    const old = bodies.find((b) => b.name === name)
    // A new body that the map measures against would hide the colours it lies on.
    if (!old && map?.againstName === name) continue
    kept.push({ name, hash: mapped(name, hash), facts: ghost.summaries?.[hash] ?? old?.facts, isGhost: true })
  }
  return kept
}

/** How far the second body of a comparison is set aside so that both are seen whole, mm. */
export function sideShift(bodies: readonly BenchBody[], a: string, b: string): number {
  const of = (n: string) => bodies.find((x) => x.name === n)?.facts
  const p = of(a),
    q = of(b)
  return p && q ? p.min[0] + p.size[0] - q.min[0] + 0.15 * Math.max(p.size[0], q.size[0]) : 0
}

/** The half-spaces that are cut from a body. */
export const clipFor = (
  name: string,
  clips: Plane[],
  comparison: Comparison | null,
  wipe: readonly [Plane, Plane] | null,
): Plane[] | undefined =>
  comparison?.how === 'wiped' && wipe
    ? [...clips, wipe[name === comparison.a ? 0 : 1]]
    : clips.length
      ? clips
      : undefined
