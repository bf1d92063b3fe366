/** The tool in hand: its settings so far, the picks made for it, and how they are taken back. */
import { create } from 'zustand'
import type { Pick as RegionPick } from '@/core/find/region'
import type { TakenAs } from '@/core/find/taken'
import type { TouchAs } from '@/core/find/touch'
import { fieldsOf, type FieldEntry, type FieldInfo } from '@/core/step/fields'
import { withValues } from '@/core/recipe/values'
import { stepOf } from '@/core/steps/registry'
import type { LiveFit } from '@/bench/picking/worker'
import { jobValues } from './values'

export type Values = Record<string, unknown>
export type Field = FieldEntry

export interface ToolInHand {
  kind: string
  values: Values
  /** The step under edit, or null for a new one. */
  editing: string | null
  /** The field that takes the next picks, where the maker chose one. */
  slot: string | null
  /** What a touch means, or what a place is to be taken from, where the maker chose it before clicking. */
  means: Record<string, TouchAs | TakenAs | undefined>
  /** Settings before each pick on the bench, and those that were taken back. */
  past: Values[]
  future: Values[]
  /** When the first pick was made. */
  since: number | null
}

interface ToolState {
  tool: ToolInHand | null
  /** Triangles of the region under way. */
  picked: number
  /** A pick under the pointer, not made yet. */
  painting: RegionPick | null
  /** What fits the region under way, where its tool asks for that. */
  fit: LiveFit | null
  /** Esc has taken back a pick; the next one clears all of them. */
  backing: boolean
  take(tool: (Pick<ToolInHand, 'kind' | 'values'> & { editing?: string | null }) | null): void
  /** Settings typed or chosen in the card. */
  setValues(values: Values): void
  /** Settings that a pick on the bench made; they can be taken back one by one. */
  pick(values: Values, slot?: string | null): void
  /** Settings while a handle is dragged: one pick from its first change to its last. */
  drag(values: Values, first: boolean): void
  change(change: Partial<Pick<ToolInHand, 'slot' | 'means'>>): void
  undo(): boolean
  redo(): boolean
  clearPicks(): boolean
}

/** At most this many picks can be taken back. */
const most = 500

export const useTool = create<ToolState>((set, get) => ({
  tool: null,
  picked: 0,
  painting: null,
  fit: null,
  backing: false,
  take: (tool) =>
    set({
      tool: tool && { editing: null, slot: null, means: {}, past: [], future: [], since: null, ...tool },
      picked: 0,
      painting: null,
      fit: null,
      backing: false,
    }),
  setValues: (values) =>
    set(({ tool }) => (tool ? { tool: { ...tool, values: { ...tool.values, ...values } }, backing: false } : {})),
  pick: (values, slot) =>
    set(({ tool }) =>
      tool
        ? {
            backing: false,
            tool: {
              ...tool,
              values: { ...tool.values, ...values },
              past: [...tool.past.slice(1 - most), tool.values],
              future: [],
              since: tool.since ?? performance.now(),
              ...(slot === undefined ? {} : { slot }),
            },
          }
        : {},
    ),
  drag: (values, first) => (first ? get().pick(values) : get().setValues(values)),
  change: (change) => set(({ tool }) => (tool ? { tool: { ...tool, ...change } } : {})),
  undo() {
    const { tool } = get()
    const before = tool?.past.at(-1)
    if (!tool || !before) return false
    set({
      backing: false,
      tool: { ...tool, values: before, past: tool.past.slice(0, -1), future: [...tool.future, tool.values] },
    })
    return true
  },
  redo() {
    const { tool } = get()
    const next = tool?.future.at(-1)
    if (!tool || !next) return false
    set({
      backing: false,
      tool: { ...tool, values: next, past: [...tool.past, tool.values], future: tool.future.slice(0, -1) },
    })
    return true
  },
  clearPicks() {
    const { tool } = get()
    if (!tool?.past.length) return false
    set({ tool: { ...tool, values: tool.past[0], past: [], future: [...tool.future, tool.values], slot: null } })
    return true
  },
}))

/** All fields of the tool's step. */
export const fieldsOfTool = (tool: Pick<ToolInHand, 'kind'>): Field[] => {
  const step = stepOf(tool.kind)
  return step ? fieldsOf(step.settings) : []
}

export const visible = (info: FieldInfo, values: Values): boolean =>
  !info.when || info.when.is.includes(values[info.when.field] as string | boolean)

/** Settings with named values put in; those that speak of a value that there is not stay as they are. */
export function asNumbers(kind: string, values: Values): Values {
  const step = stepOf(kind)
  try {
    return step ? withValues(step.settings, values, jobValues.getState().numbers) : values
  } catch {
    return values
  }
}

/** Settings with the defaults of fields that were not touched, all numbers as numbers. */
export const withDefaults = (tool: Pick<ToolInHand, 'kind' | 'values'>): Values =>
  asNumbers(tool.kind, {
    ...Object.fromEntries(fieldsOfTool(tool).map((f) => [f.key, f.fallback])),
    ...tool.values,
  })

/** The fields that show with the settings as they are. */
export function shownFields(tool: Pick<ToolInHand, 'kind' | 'values'>): Field[] {
  const values = withDefaults(tool)
  return fieldsOfTool(tool).filter((f) => visible(f.info, values))
}
