/**
 * Whether shapes are bits of a surface that bends freely: what is made has round faces whose axes are parallel to each other or to the way a
 * flat face looks; bits of anything else have axes that lie as chance has it.
 */
import { dot, type Vec3 } from '@/core/math/vec'
import type { Shape } from '../shape'

/** Axes nearer than this are parallel. */
const parallel = Math.cos((3 * Math.PI) / 180)
/** So many round faces, and this share of their area, tell it. */
const leastRound = 8
const mostAstray = 0.5

export function astray(regions: readonly { readonly shape: Shape | null; readonly area: number }[]): boolean {
  const axes = regions.flatMap(({ shape, area }) =>
    shape?.axis ? [{ axis: shape.axis, area, round: shape.kind !== 'plane' }] : [],
  )
  const round = axes.filter((a) => a.round)
  const meets = (a: Vec3, b: Vec3) => Math.abs(dot(a, b)) > parallel
  const lost = round.filter((a) => !axes.some((b) => b !== a && meets(a.axis, b.axis)))
  const areaOf = (some: typeof round) => some.reduce((s, a) => s + a.area, 0)
  return lost.length >= leastRound && areaOf(lost) > mostAstray * areaOf(round)
}
