import { z } from 'zod'
import { piecesDiffer } from '@/core/gauge/adds-up'
import type { Body } from '@/core/bodies/body'
import { plural, volumeText } from '@/core/base/say'
import { splitBy as run } from '@/core/kernels/exact/divide'
import { bodyRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, namer } from '@/core/step/step'

export const splitBy = defineStep({
  kind: 'build/split-by',
  version: 1,
  title: 'Split by',
  order: 56,
  past: 'Split',
  group: 'Booleans',
  namesItself: true,
  facts: shown({ key: 'pieces', label: 'Pieces', as: 'count' }, 'volume'),
  summary: 'Divides a solid or sheet into pieces by a sheet or another solid; exact.',
  subject: (s) => `${String(s.body ?? '')} by ${String(s.by ?? '')}`,
  settings: z.object({
    body: bodyRef({ can: 'exact' }, 'Body'),
    by: bodyRef({ can: 'exact' }, 'Divided by'),
    keep: toggle('Keep what divides').default(false),
  }),
  async run({ settings: s, exact, names }) {
    const [first, ...rest] = await run(exact(s.body), exact(s.by), s.by)
    const free = namer(names)
    const bodies: Record<string, Body | null> = { [s.body]: first, ...(s.keep ? {} : { [s.by]: null }) }
    for (const piece of rest) bodies[free(s.body)] = piece
    const sizes = [first, ...rest].map((b) => b.facts.volume)
    const whole = exact(s.body)
    const differ = whole.kind === 'solid' ? piecesDiffer(whole.facts.volume, sizes) : null
    return {
      ...(differ ? { warnings: [differ] } : {}),
      bodies,
      facts: { pieces: sizes.length, volume: first.facts.volume, volumes: sizes },
      said: `${plural(sizes.length, 'piece')}: ${sizes.slice(0, 4).map(volumeText).join(', ')}`,
    }
  },
})
