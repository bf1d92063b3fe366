/** Regions that are picked to be told of, and how the next drag is meant. */
import { create } from 'zustand'
import type { Vec3 } from '@/core/math/vec'

/** A region as the ghost lists it. */
export interface FoundRegion {
  readonly shape: string
  readonly triangles: number
  readonly rms?: number
  readonly radius?: number
  readonly thickness?: number
  readonly halfAngle?: number
  /** A place on it. */
  readonly on: Vec3
}

interface ToldState {
  /** What was found last; it stays while a new ghost is made. */
  found: readonly FoundRegion[]
  /** The mesh that knows it. */
  hash: string | null
  /** Numbers of the regions that are picked, in the list. */
  picked: readonly number[]
  /** Dragging paints triangles over to the picked region, or to one of their own. */
  paints: boolean
  pick(i: number): void
}

export const useTold = create<ToldState>((set) => ({
  found: [],
  hash: null,
  picked: [],
  paints: false,
  pick: (i) => set(({ picked }) => ({ picked: picked.includes(i) ? picked.filter((k) => k !== i) : [...picked, i] })),
}))

/** Colours of the kinds, red green blue from 0 to 1 in sRGB; far enough apart in lightness for the colour-blind. */
export const kindColours: Readonly<Record<string, readonly [number, number, number]>> = {
  plane: [0.86, 0.77, 0.58],
  cylinder: [0.36, 0.62, 0.57],
  cone: [0.72, 0.42, 0.22],
  sphere: [0.55, 0.48, 0.72],
  ring: [0.3, 0.44, 0.66],
  free: [0.62, 0.61, 0.58],
}
export const kindCss = (kind: string): string =>
  `rgb(${(kindColours[kind] ?? kindColours.free).map((v) => Math.round(255 * v)).join(' ')})`
