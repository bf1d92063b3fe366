/** `steps`: every step kind with what it takes. */
import { existsSync } from 'node:fs'
import { z } from 'zod'
import { fieldsOf } from '@/core/step/fields'
import { stageOf, stages, stageTitles } from '@/core/step/step'
import { allSteps } from '@/core/steps/registry'

export function listStepsJson(): unknown {
  return allSteps.map((s) => ({
    kind: s.kind,
    stage: stageOf(s.kind),
    title: s.title,
    summary: s.summary,
    settings: z.toJSONSchema(s.settings.strict(), { io: 'input' }),
  }))
}

export function listSteps(): string {
  return `${allSteps
    .map(
      (s) =>
        `${s.kind.padEnd(26)} ${s.title} - ${s.summary}\n${fieldsOf(s.settings)
          .map(
            (f) =>
              `    ${f.key}${f.optional ? '?' : ''}: ${f.info.label}${f.info.unit ? `, ${f.info.unit}` : ''}${f.info.labels ? ` (${Object.keys(f.info.labels).join(' | ')})` : ''}${f.fallback !== undefined ? ` [${JSON.stringify(f.fallback)}]` : ''}`,
          )
          .join('\n')}`,
    )
    .join('\n')}\n`
}

/** The file of a step's example recipe. */
const exampleOf = (kind: string) => `${kind.replace('/', '-')}.json`

/** The page of all tools, one short section each: `docs/tools.md` is this, and a test holds it to it. */
export function stepsPage(): string {
  const out = [
    '# Tools',
    '',
    'Made by `./glue-bench steps --markdown`. Settings in brackets may be left out; lengths in mm, angles in degrees.',
    '',
  ]
  for (const stage of stages) {
    const some = allSteps.filter((s) => stageOf(s.kind) === stage)
    if (!some.length) continue
    out.push(`## ${stageTitles[stage]}`, '')
    for (const s of some) {
      out.push(
        `### ${s.title}`,
        '',
        s.summary,
        '',
        `\`${s.kind}\` ${fieldsOf(s.settings)
          .map((f) => {
            const t = `${f.key}${f.info.labels ? `: ${Object.keys(f.info.labels).join(' | ')}` : ''}`
            return `\`${f.optional ? `[${t}]` : t}\``
          })
          .join(' ')}`,
        '',
        ...(existsSync(`examples/${exampleOf(s.kind)}`)
          ? [`Example: [${exampleOf(s.kind)}](../examples/${exampleOf(s.kind)})`, '']
          : []),
      )
    }
  }
  return out.join('\n')
}
