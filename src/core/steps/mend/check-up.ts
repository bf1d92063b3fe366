import { z } from 'zod'
import { bodyRef } from '@/core/step/fields'
import { defineStep, type Facts } from '@/core/step/step'
import { isMesh } from '@/core/bodies/body'
import { checkUp as check, faultWords } from '@/core/mesh/check-up'

export const checkUp = defineStep({
  kind: 'mend/check-up',
  version: 2,
  title: 'Check-up',
  takesBadNumbers: true,
  summary: 'Counts and places every fault of a body; changes nothing.',
  settings: z.object({ body: bodyRef('any', 'Body', { changes: false }) }),
  run({ settings: s, body, work }) {
    const b = body(s.body)
    if (!isMesh(b))
      return Promise.resolve({
        bodies: {},
        facts: { ...b.facts } as unknown as Facts,
        said: b.facts.valid && b.facts.closed ? 'exact, closed, valid' : 'not valid',
      })
    const { facts } = check(b.mesh, work)
    return Promise.resolve({
      bodies: {},
      facts: facts as unknown as Facts,
      said: `${facts.closed ? 'closed' : 'open'} · faults: ${faultWords(facts)}`,
    })
  },
})
