/** Which field of the tool in hand the next click fills, and how. */
import { stepOf } from '@/core/steps/registry'
import { fieldsOf, type FieldInfo } from '@/core/step/fields'
import type { Touch } from '@/core/find/touch'
import type { Hit } from '@/bench/picking/worker'
import { useBench, type ToolInHand } from '@/bench/state/store'

export interface Slot {
  key: string
  info: FieldInfo
}

export const fieldsOfTool = (
  tool: ToolInHand,
): { key: string; info: FieldInfo; optional: boolean; fallback: unknown }[] => {
  const step = stepOf(tool.kind)
  return step ? fieldsOf(step.settings) : []
}

/** The chosen slot, else the first field that lives on picks. */
export function slotOf(tool: ToolInHand | null): Slot | null {
  if (!tool) return null
  const all = fieldsOfTool(tool)
  const values = { ...Object.fromEntries(all.map((f) => [f.key, f.fallback])), ...tool.values }
  const fields = all.filter((f) => visible(f.info, values))
  return (
    fields.find((f) => f.key === tool.slot) ??
    fields.find(
      (f) => (f.info.field === 'region' || f.info.field === 'view-line' || f.info.pick) && waits(f, tool.values),
    ) ??
    fields.find((f) => f.info.field === 'region' || f.info.field === 'view-line' || f.info.pick) ??
    fields.find((f) => (f.info.field === 'body' && !tool.values[f.key]) || f.info.field === 'bodies') ??
    null
  )
}

/** A slot that still wants a pick: empty, or a list, or the far end of a line. */
const waits = (f: { key: string; info: FieldInfo }, values: Record<string, unknown>): boolean => {
  const v = values[f.key]
  if (f.info.field === 'touch') return v === undefined || ((v as Touch).as === 'line' && !(v as Touch).to)
  return f.info.field === 'points' || f.info.field === 'region' || v === undefined
}

/** What a click means for a touch, unless the maker chose otherwise. */
export function touchKind(tool: ToolInHand, key: string): Touch['as'] {
  const have = tool.values[key] as Touch | undefined
  if (have) return have.as
  const chosen = tool.values[`as-${key}`] as Touch['as'] | undefined
  if (chosen) return chosen
  if (tool.kind === 'set-down/three-touch') return key === 'face' ? 'plane' : key === 'direction' ? 'line' : 'point'
  if (tool.kind === 'set-down/line-up') {
    const how = (tool.values.how as string | undefined) ?? 'concentric'
    return how === 'concentric' ? 'axis' : how === 'point' ? 'point' : 'plane'
  }
  const what = (tool.values.what as string | undefined) ?? 'distance'
  return what === 'faces' || what === 'angle' ? 'plane' : what === 'diameter' ? 'axis' : 'point'
}

export const visible = (info: FieldInfo, values: Record<string, unknown>): boolean =>
  !info.when || info.when.is.includes(values[info.when.field] as string | boolean)

const round = (v: readonly number[]) => v.map((x) => Number(x.toFixed(4)))

/** A click on a body fills the slot: its name, the point, or the point with the direction of the face there. */
export function takePoint(tool: ToolInHand, slot: Slot, hit: Hit): void {
  const { setValues, set } = useBench.getState()
  const at = round(hit.snap?.point ?? hit.point)
  if (slot.info.field === 'touch') {
    const as = touchKind(tool, slot.key)
    const have = tool.values[slot.key] as Touch | undefined
    const half = have?.as === 'line' && !have.to
    const bodyField = slot.info.on ?? 'body'
    // A second place on another body names that body.
    const other =
      tool.kind === 'prove/measure' && slot.key === 'to'
        ? { other: hit.name === tool.values.body ? undefined : hit.name }
        : { [bodyField]: hit.name }
    setValues({
      ...other,
      [slot.key]: half ? { ...have, to: at } : { as, at: as === 'point' || as === 'line' ? at : round(hit.point) },
    })
    const done = as !== 'line' || half
    set({ selected: hit.name, tool: { ...useBench.getState().tool!, slot: done ? null : slot.key } })
    return
  }
  if (slot.info.field === 'body') setValues({ [slot.key]: hit.name })
  else if (slot.info.field === 'bodies') {
    const old = (tool.values[slot.key] as string[] | undefined) ?? []
    setValues({ [slot.key]: old.includes(hit.name) ? old.filter((n) => n !== hit.name) : [...old, hit.name] })
  } else if (slot.info.field === 'points')
    setValues({
      ...(slot.info.on ? { [slot.info.on]: hit.name } : tool.values.body ? {} : { body: hit.name }),
      [slot.key]: [...((tool.values[slot.key] as number[][] | undefined) ?? []), at],
    })
  else if (slot.info.pick === 'face') {
    setValues({
      [slot.key]: round(hit.point),
      ...(fieldsOfTool(tool).some((f) => f.key === 'axis') ? { axis: round(hit.normal) } : {}),
    })
  } else if (slot.info.field === 'point') {
    setValues({ ...(tool.values.body ? {} : { body: hit.name }), [slot.key]: at })
    set({ tool: { ...useBench.getState().tool!, slot: null } })
  }
  set({ selected: hit.name })
}
