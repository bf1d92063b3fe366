/** Adds to what is told of regions, so that one undo takes it back. */
import type { Told } from '@/core/fit/told'
import { useTool } from '@/bench/state/tool'
import { activeField } from '../slot'
import { useTold } from './state'

export function tell(one: Partial<Told>): void {
  const { tool, pick } = useTool.getState()
  const field = tool && activeField(tool)
  if (field?.info.field !== 'told') return
  pick({ [field.key]: [...((tool!.values[field.key] as Partial<Told>[] | undefined) ?? []), one] })
  useTold.setState({ picked: [] })
}
