/** What each way of each quick step comes to on the bodies it is for, kept as figures: any change to steps shows here, and is looked at. */
import { readFileSync } from 'node:fs'
import { describe, expect, it } from '@jest/globals'
import { digest } from '@/testing/digest'
import { fixtures, ways } from '@/testing/plausible'
import { longRun, mostly } from '@/testing/long'
import { runStep } from '@/testing/run-step'
import { fieldsOf } from '@/core/step/fields'
import { allSteps } from './registry'

const answers = JSON.parse(readFileSync('src/core/steps/answers.json', 'utf8')) as Record<
  string,
  Record<string, string>
>
/** The first sort of body that a step does its work on; in the long run the next one too. */
const bodiesFor = (kind: string) =>
  Object.keys(fixtures)
    .filter((name) => answers[name]?.[kind] === '')
    .slice(0, longRun ? 2 : 1)
/** What builds exact bodies is tried where the kernel is. */
const quick = mostly(
  allSteps.filter((s) => !s.slow && !fieldsOf(s.settings).some((f) => f.info.field === 'file')),
  (s) => !s.kind.startsWith('build/'),
)

describe.each(quick.map((s) => [s.kind, s] as const))('%s', (kind, step) => {
  it('in each of its ways', async () => {
    const names = bodiesFor(kind)
    expect(names.length).toBeGreaterThan(0)
    for (const name of names) {
      const all = []
      for (const set of ways(step)) {
        try {
          const { said, facts, warnings, bodies } = await runStep(kind, set, { ...(await fixtures[name]()) })
          all.push([said, facts, warnings, Object.entries(bodies).map(([n, b]) => [n, b?.kind])])
        } catch (e) {
          // A way that needs settings of its own is refused in words.
          all.push([(e as Error).message])
        }
      }
      expect(digest(all)).toMatchSnapshot(name)
    }
  })
})
