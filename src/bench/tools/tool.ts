/** A tool on the bench: the icon of a step and, where its fields alone do not serve, a card, handles or a hand of its own. */
import type { LucideIcon } from 'lucide-react'
import type { FC } from 'react'
import type { Facts } from '@/core/step/step'
import type { HandleSpec } from '@/bench/hands/handle'
import type { Hand } from '@/bench/hands/hand'
import type { GhostState } from '@/bench/ghost/ghost-state'
import type { JobState } from '@/core/recipe/job-state'
import type { BenchBody } from '@/bench/state/job'
import type { ToolInHand, Values } from '@/bench/state/tool'

export interface CardProps {
  readonly job: string
  readonly tool: ToolInHand
  readonly bodies: readonly BenchBody[]
  readonly ghost: GhostState
  onEnter(): void
}

/** What a tool may do when it is taken. */
export interface StartPlace {
  readonly bodies: readonly BenchBody[]
  readonly selected: string | null
  openFiles(): void
}

export interface ToolDefinition {
  /** The step it makes. */
  readonly kind: string
  readonly icon: LucideIcon
  /** A part of the card before the fields; `fields` are those it shows itself. */
  readonly Card?: { readonly Head: FC<CardProps>; readonly fields: readonly string[] }
  /** A part of the card after the fields. */
  readonly Extra?: FC<CardProps>
  /** A way of working of its own. */
  readonly hand?: Hand
  /** Numbers that are dragged on the bench; `ghost`: what the ghost tells, such as where it lies. */
  handles?(values: Values, bodies: readonly BenchBody[], ghost: Facts): readonly HandleSpec[]
  /** Tools of its own, in the tray while it is in hand. */
  readonly Tray?: FC
  /**
   * Its hand draws what it makes, so there is no ghost: `beside` what is there, which stands back meanwhile, or `instead` of the body that it
   * changes.
   */
  readonly draws?: 'beside' | 'instead'
  /** Runs when the tool is taken; true: it is not taken in hand after all. */
  start?(place: StartPlace): boolean
  /** Settings it starts with beside those that follow from its fields. */
  starts?(values: Values, job: Pick<JobState, 'recipe'>, bodies: readonly BenchBody[]): Values
}

export const defineTool = (tool: ToolDefinition): ToolDefinition => tool
