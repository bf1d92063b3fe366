/** Which field of the tool in hand takes the next pick. */
import type { FieldInfo } from '@/core/step/fields'
import { shownFields, type Field, type ToolInHand } from '@/bench/state/tool'
import { kitOf } from './kits'

const order = (info: FieldInfo) => {
  const { picks } = kitOf(info)
  return typeof picks === 'function' ? picks(info) : picks
}

/** Whether a field still wants a pick: while it is empty, unless its kind says otherwise. */
const waits = (f: Field, values: Record<string, unknown>): boolean => {
  const v = values[f.key]
  return kitOf(f.info).waits?.(v, f.info) ?? v === undefined
}

/** The chosen field, else the first that lives on picks and waits for one, else the first of those, else a body that is missing. */
export function activeField(tool: Pick<ToolInHand, 'kind' | 'values' | 'slot'> | null): Field | null {
  if (!tool) return null
  const fields = shownFields(tool)
  const first = fields.filter((f) => order(f.info) === 'first')
  return (
    fields.find((f) => f.key === tool.slot && order(f.info)) ??
    first.find((f) => waits(f, tool.values)) ??
    first[0] ??
    fields.find((f) => order(f.info) === 'last' && waits(f, tool.values)) ??
    null
  )
}
