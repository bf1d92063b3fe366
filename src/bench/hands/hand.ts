/**
 * A hand: one way of working on the bench with pointer and keys. The canvas routes to the hands there are, in order: section, active field,
 * tool, look. It knows no tool.
 */
import type { FC } from 'react'
import type { PerspectiveCamera } from 'three'
import type { Vec3 } from '@/core/math/vec'
import type { PartSort } from '@/core/kinds/kind'
import type { AreaHit, BoreHit, Hit, PartHit } from '@/bench/picking/worker'
import type { BenchBody } from '@/bench/state/job'
import type { Field, ToolInHand } from '@/bench/state/tool'

export type Screen = readonly [x: number, y: number]
export interface Ray {
  readonly origin: Vec3
  readonly direction: Vec3
}

/** The pointer at one moment. What it meets is answered by the picking worker. */
export interface Pointer {
  /** Pixels in the window. */
  readonly screen: Screen
  readonly ray: Ray
  readonly shift: boolean
  readonly alt: boolean
  /** The nearest body under it. */
  hit(): Promise<Hit | null>
  /** The same, with the corner, edge or centre of a bore that is meant. */
  snap(): Promise<Hit | null>
  /** The face or edge under it. */
  part(want: PartSort | 'any'): Promise<PartHit | null>
  /** The closed area of an outline that it points at. */
  area(): Promise<AreaHit | null>
  /** The bore it points at. */
  bore(): Promise<BoreHit | null>
  /** Where it meets a plane; null when it looks along it. */
  on(point: Vec3, normal: Vec3): Vec3 | null
  /** The parameter along a line (mm from its point) nearest to the pointer's ray; null when they run side by side. */
  along(point: Vec3, direction: Vec3): number | null
}

/** Owns the pointer from when it goes down until it lets go; orbiting rests. */
export interface Grip {
  move(p: Pointer): void
  up(p: Pointer): void
  cancel(): void
}

/** What hands see of the bench. */
export interface BenchView {
  readonly tool: ToolInHand | null
  /** The field that takes the next pick. */
  readonly field: Field | null
  /** Bodies that are shown and can be picked. */
  readonly bodies: readonly BenchBody[]
  /** The body the tool works on, else the selected one, else the first. */
  readonly target: BenchBody | undefined
  readonly camera: PerspectiveCamera
  /** Where a place of the model stands, in pixels of the window. */
  toScreen(p: Vec3): Screen
  /** The same for many places, x y z each: x y each. */
  toScreens(p: ArrayLike<number>): Float64Array
  toRay(s: Screen): Ray
  /** How many mm a pixel is at a place. */
  pixel(at: Vec3): number
  /** Draws again: for what is changed past React. */
  redraw(): void
}

export interface Hand {
  /** What the next click does, for the line at the foot. */
  hint?(b: BenchView): string | null
  /** The pointer moves with no button down. Gives whether later hands rest. */
  move?(p: Pointer, b: BenchView): boolean
  /** The button goes down: takes the pointer, or leaves it to orbiting and to later hands. */
  down?(p: Pointer, b: BenchView): Grip | null
  /** The button came up where it went down. Gives whether it was used. */
  click?(p: Pointer, b: BenchView): boolean | Promise<boolean>
  key?(e: KeyboardEvent, b: BenchView): boolean
  /** The pointer left, or the hand is put away: what it drew for the moment goes. */
  leave?(b: BenchView): void
  /** What it draws among the bodies. */
  Over?: FC
  /** What it draws over the picture, as elements of the page. */
  Flat?: FC
  /** Takes back, or does again, what it holds that is not yet in the settings. Gives whether there was something. */
  undo?(b: BenchView): boolean
  redo?(b: BenchView): boolean
}
