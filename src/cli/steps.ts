/** `steps`: every step kind with what it takes. */
import { z } from 'zod'
import { fieldsOf } from '@/core/recipe/fields'
import { stageOf } from '@/core/recipe/step'
import { allSteps } from '@/core/steps/registry'

export function listStepsJson(): unknown {
  return allSteps.map((s) => ({ kind: s.kind, stage: stageOf(s.kind), title: s.title, summary: s.summary, settings: z.toJSONSchema(s.settings.strict(), { io: 'input' }) }))
}

export function listSteps(): string {
  return `${allSteps.map((s) => `${s.kind.padEnd(26)} ${s.title} - ${s.summary}\n${fieldsOf(s.settings).map((f) => `    ${f.key}${f.optional ? '?' : ''}: ${f.info.label}${f.info.unit ? `, ${f.info.unit}` : ''}${f.info.labels ? ` (${Object.keys(f.info.labels).join(' | ')})` : ''}${f.fallback !== undefined ? ` [${JSON.stringify(f.fallback)}]` : ''}`).join('\n')}`).join('\n')}\n`
}
