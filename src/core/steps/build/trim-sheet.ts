import { z } from 'zod'
import { areaText, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { isDatum, isOutline, type Body, type ExactBody } from '@/core/bodies/body'
import { makeExtrusion } from '@/core/kernels/exact/extrude'
import { planeTool, trimSheet as run } from '@/core/kernels/exact/trim-sheet'
import { boundsOf, requireCapability } from '@/core/kinds/registry'
import { heightOver, profileOf } from '@/core/outline/profile'
import { bodyRef, bodyRefs, points, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import type { Vec3 } from '@/core/math/vec'

/** What cuts: sheets and solids as they are, planes wide enough, outlines drawn through square to their plane. */
async function toolOf(name: string, body: Body, sheet: ExactBody): Promise<ExactBody> {
  const { min, size } = sheet.facts
  const middle = min.map((v, k) => v + size[k] / 2) as unknown as Vec3
  const reach = Math.hypot(...size)
  if (isDatum(body)) {
    if (body.datum !== 'plane')
      throw new StepError(
        'wrong-kind',
        `"${name}" is ${body.datum === 'axis' ? 'an axis' : 'a point'}; only a plane trims.`,
        {
          where: { body: name },
        },
      )
    // Its middle is brought beside the sheet, so that it need not be drawn out further than the sheet is long.
    const over = middle.reduce((sum, v, k) => sum + (v - body.at[k]) * body.direction[k], 0)
    return planeTool(middle.map((v, k) => v - over * body.direction[k]) as unknown as Vec3, body.direction, reach + 1)
  }
  if (isOutline(body)) {
    const p = profileOf(name, body, [])
    const height = heightOver(p.plane, middle)
    return makeExtrusion(p, { from: height - reach - 1, to: height + reach + 1, name })
  }
  return requireCapability(name, body, 'exact').exact!(body)
}

/** Whether the boxes of two bodies are apart. */
const apart = (a: Body, b: Body) => {
  const [p, q] = [boundsOf(a), boundsOf(b)]
  return [0, 1, 2].some((k) => p.min[k] > q.max[k] + 1e-6 || q.min[k] > p.max[k] + 1e-6)
}

export const trimSheet = defineStep({
  kind: 'build/trim-sheet',
  version: 1,
  title: 'Trim sheet',
  order: 92,
  past: 'Trimmed',
  group: 'Sheets',
  facts: shown('area', { key: 'parts', label: 'Parts', as: 'count' }, { key: 'kept', label: 'Kept', as: 'count' }),
  summary: 'Cuts a sheet where sheets, solids, planes or outlines pass through it and keeps the parts that are picked.',
  subject: (s) => String(s.body ?? ''),
  settings: z.object({
    body: bodyRef(['sheet'], 'Sheet'),
    by: bodyRefs(['sheet', 'solid', 'datum', 'outline'], 'Trimmed by', { changes: false, besides: 'body' }),
    keep: points('Parts that stay', { pick: 'point', help: 'a click on each; none: the largest' }).default([]),
    both: toggle('Trim the other as well', { help: 'where it is a sheet too' }).default(false),
    keepOther: points('Parts of the other that stay', {
      pick: 'point',
      when: { field: 'both', is: [true] },
      help: 'none: the largest',
    }).default([]),
  }),
  async run({ settings: s, exact, body }) {
    if (s.by.includes(s.body))
      throw new StepError('same-body', 'A sheet cannot be trimmed by itself.', {
        tryThis: 'Choose what it is trimmed by.',
      })
    const sheet = exact(s.body)
    const names = s.by.join('", "')
    const tools: ExactBody[] = []
    for (const name of s.by) {
      const b = body(name)
      if (!isDatum(b) && !isOutline(b) && apart(b, sheet))
        throw new StepError('no-cut', `"${name}" does not reach "${s.body}".`, {
          where: { body: name },
          tryThis: 'Move or extend it so that it crosses the sheet from border to border.',
        })
      tools.push(await toolOf(name, b, sheet))
    }
    const { body: done, parts, kept } = await run(sheet, tools, s.keep as Vec3[], names)
    const bodies: Record<string, Body> = { [s.body]: done }
    let others = 0
    if (s.both)
      for (const name of s.by) {
        const b = body(name)
        if (b.kind !== 'sheet') continue
        bodies[name] = (await run(exact(name), [sheet], s.keepOther as Vec3[], s.body)).body
        others++
      }
    return {
      bodies,
      facts: { area: done.facts.area, parts, kept, areaChange: done.facts.area - sheet.facts.area },
      said: `${kept} of ${plural(parts, 'part')} kept${others ? ', the other trimmed as well' : ''} · ${areaText(done.facts.area)}`,
    }
  },
})
