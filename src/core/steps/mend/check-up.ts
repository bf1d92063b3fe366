import { z } from 'zod'
import { bodyRef } from '@/core/step/fields'
import { defineStep } from '@/core/step/step'
import { requireCapability } from '@/core/kinds/registry'

export const checkUp = defineStep({
  kind: 'mend/check-up',
  version: 2,
  title: 'Check-up',
  order: 10,
  past: 'Checked up',
  group: 'First',
  slow: true,
  takesBadNumbers: true,
  summary: 'Counts and places every fault of a body; changes nothing.',
  settings: z.object({ body: bodyRef({ can: 'check' }, 'Body', { changes: false }) }),
  run({ settings: s, body, work }) {
    const b = body(s.body)
    const { facts, said } = requireCapability(s.body, b, 'check').check!(b, work)
    return Promise.resolve({ bodies: {}, facts, said })
  },
})
