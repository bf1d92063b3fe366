/** A kind of field: the control in the card and, where picks on the bench fill it, the hand that takes them. */
import type { FC } from 'react'
import type { Facts } from '@/core/base/facts'
import type { FieldInfo } from '@/core/step/fields'
import type { BenchView, Hand, Pointer } from '@/bench/hands/hand'
import { hoverHit, hoverSnap } from '@/bench/hands/hover'
import type { Hit } from '@/bench/picking/worker'
import type { BenchBody } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'
import { useTool, type Field, type ToolInHand } from '@/bench/state/tool'

export interface FieldProps {
  readonly field: Field
  readonly value: unknown
  readonly tool: ToolInHand
  readonly bodies: readonly BenchBody[]
  /** What the ghost tells, where it is there. */
  readonly found?: Facts
  /** The field takes the next pick. */
  readonly active: boolean
  onChange(value: unknown): void
  onPickHere(): void
  onEnter(): void
}

export interface FieldKit {
  readonly Input: FC<FieldProps>
  readonly hand?: Hand | ((info: FieldInfo) => Hand | undefined)
  /** Whether picks are looked for: `first` before other fields, `last` only where nothing else wants one. */
  readonly picks?: 'first' | 'last' | ((info: FieldInfo) => 'first' | 'last' | undefined)
  /** Whether a value still wants a pick; left out: while it is empty. */
  waits?(value: unknown, info: FieldInfo): boolean
}

/** A place as settings keep it. */
export const tidyPoint = (v: readonly number[]): number[] => v.map((x) => Number(x.toFixed(4)))

interface Clicked {
  readonly hit: Hit
  readonly tool: ToolInHand
  readonly field: Field
}

/** A hand for fields that a click on a body fills. `take` gives the settings the click makes, and the field that is active then. */
export function clickHand(options: {
  snaps?: boolean
  hint: (field: Field, tool: ToolInHand) => string
  take: (c: Clicked) => { values: Record<string, unknown>; slot?: string | null } | null
}): Hand {
  const { snaps, hint, take } = options
  return {
    hint: (b) => (b.field && b.tool ? hint(b.field, b.tool) : null),
    move(p: Pointer) {
      ;(snaps ? hoverSnap : hoverHit)(p)
      return true
    },
    async click(p, { tool, field }: BenchView) {
      const hit = snaps ? await p.snap() : await p.hit()
      if (!hit || !tool || !field) return true
      const made = take({ hit, tool, field })
      if (made) useTool.getState().pick(made.values, made.slot)
      useBench.getState().set({ selected: hit.name })
      return true
    },
  }
}
