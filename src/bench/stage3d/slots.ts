/** Which field of the tool in hand the next click fills, and how. */
import { stepOf } from '@/core/steps/registry'
import { fieldsOf, type FieldInfo } from '@/core/recipe/fields'
import type { Hit } from '@/bench/picking/worker'
import { useBench, type ToolInHand } from '@/bench/state/store'

export interface Slot { key: string; info: FieldInfo }

export const fieldsOfTool = (tool: ToolInHand): { key: string; info: FieldInfo; optional: boolean; fallback: unknown }[] => {
  const step = stepOf(tool.kind)
  return step ? fieldsOf(step.settings) : []
}

/** The chosen slot, else the first field that lives on picks. */
export function slotOf(tool: ToolInHand | null): Slot | null {
  if (!tool) return null
  const fields = fieldsOfTool(tool).filter((f) => visible(f.info, tool.values))
  return fields.find((f) => f.key === tool.slot) ?? fields.find((f) => f.info.field === 'region' || f.info.pick) ?? fields.find((f) => (f.info.field === 'body' && !tool.values[f.key]) || f.info.field === 'bodies') ?? null
}

export const visible = (info: FieldInfo, values: Record<string, unknown>): boolean => !info.when || info.when.is.includes(values[info.when.field] as string | boolean)

const round = (v: readonly number[]) => v.map((x) => Number(x.toFixed(4)))

/** A click on a body fills the slot: its name, the point, or the point with the direction of the face there. */
export function takePoint(tool: ToolInHand, slot: Slot, hit: Hit): void {
  const { setValues, set } = useBench.getState()
  if (slot.info.field === 'body') setValues({ [slot.key]: hit.name })
  else if (slot.info.field === 'bodies') {
    const old = (tool.values[slot.key] as string[] | undefined) ?? []
    setValues({ [slot.key]: old.includes(hit.name) ? old.filter((n) => n !== hit.name) : [...old, hit.name] })
  } else if (slot.info.field === 'points') setValues({ [slot.key]: [...((tool.values[slot.key] as number[][] | undefined) ?? []), round(hit.point)] })
  else if (slot.info.pick === 'face') {
    setValues({ [slot.key]: round(hit.point), ...(fieldsOfTool(tool).some((f) => f.key === 'axis') ? { axis: round(hit.normal) } : {}) })
  } else if (slot.info.field === 'point') setValues({ [slot.key]: round(hit.point) })
  set({ selected: hit.name })
}
