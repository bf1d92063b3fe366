/** Where a tool starts from: settings that follow from what is on the bench, and what the next click does. */
import type { JobState } from '@/core/recipe/job-state'
import type { FieldInfo } from '@/core/step/fields'
import { fieldsOf } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'
import type { Slot } from '@/bench/stage3d/slots'
import type { BenchBody } from './job'
import type { ToolInHand } from './store'

const plain: Record<string, string> = {
  'build/block': 'block',
  'build/cylinder': 'cylinder',
  'bring-in/practice-scan': 'scan',
}

export function startValues(
  kind: string,
  bodies: readonly BenchBody[],
  selected: string | null,
  job: JobState | undefined,
): Record<string, unknown> {
  const step = stepOf(kind)
  const values: Record<string, unknown> = {}
  if (!step) return values
  for (const { key, info } of fieldsOf(step.settings)) {
    const fit = (b: BenchBody) => !info.kinds || (b.summary !== undefined && info.kinds.includes(b.summary.kind))
    const some = bodies.filter(fit)
    if (info.field === 'body') {
      const own = some.find((b) => b.name === selected) ?? (some.length === 1 && !info.when ? some[0] : undefined)
      if (own && kind !== 'build/edit-hole') values[key] = own.name
    } else if (info.field === 'bodies' && kind === 'send-out/file') values[key] = some.map((b) => b.name)
    else if (info.field === 'bodies' && selected && key === 'bodies' && some.some((b) => b.name === selected))
      values[key] = [selected]
    else if (info.field === 'new-body') {
      const base = plain[kind] ?? 'body'
      let name = base
      for (let i = 2; bodies.some((b) => b.name === name); i++) name = `${base} ${i}`
      values[key] = name
      if (info.when && base === 'body') values[key] = undefined
    } else if (info.field === 'out-file')
      values[key] = `${
        (job?.title ?? 'part')
          .toLowerCase()
          .replace(/[^a-z0-9]+/g, '-')
          .replace(/^-|-$/g, '') || 'part'
      }.3mf`
  }
  return values
}

/** One line at the foot of the bench: what the next click does. */
export function hintFor(
  tool: ToolInHand | null,
  slot: Slot | null,
  fields: (t: ToolInHand) => { info: FieldInfo }[],
): string {
  if (!tool) return 'Click a body to pick it; drag to look around'
  if (tool.kind === 'build/edit-hole')
    return tool.values.at ? 'Type a diameter, then Enter' : "Click a hole's wall, then type a diameter"
  if (slot?.info.field === 'view-line')
    return tool.values.by === 'outline'
      ? 'Draw round the part: click corners and click the first one again, or drag freely'
      : 'Drag a line across the body, or click its corners and press Enter'
  if (slot?.info.field === 'touch') return `Click on a body: ${slot.info.label.toLowerCase()}`
  if (slot?.info.field === 'points' && slot.info.pick === 'point')
    return `Click on a body: ${slot.info.label.toLowerCase()}`
  if (slot?.info.field === 'point' && slot.info.pick === 'point')
    return `Click near the rim: ${slot.info.label.toLowerCase()}`
  if (slot?.info.field === 'region') return 'Pick an area on the body: click, or drag with Brush, Box, Lasso or Circle'
  if (slot?.info.pick === 'face') return 'Click a face to place it there, or type numbers'
  if (slot?.info.pick === 'rims') return 'Click near the rims to close'
  if (slot?.info.field === 'body') return `Click the body: ${slot.info.label.toLowerCase()}`
  if (slot?.info.field === 'bodies') return `Click bodies: ${slot.info.label.toLowerCase()}`
  return fields(tool).length ? 'Enter applies, Esc cancels' : ''
}
