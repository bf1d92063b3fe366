/** What each way of each quick step comes to on the bodies it is for, kept as figures: any change to steps shows here, and is looked at. */
import { readFileSync } from 'node:fs'
import { expect } from '@jest/globals'
import { digest } from '@/testing/digest'
import { fixtures, ways } from '@/testing/plausible'
import { itUsually } from '@/testing/long'
import { runStep } from '@/testing/run-step'
import { fieldsOf } from '@/core/step/fields'
import { allSteps } from './registry'

const answers = JSON.parse(readFileSync('src/core/steps/answers.json', 'utf8')) as Record<
  string,
  Record<string, string>
>
/** The first sort of body that a step does its work on. */
const bodyFor = (kind: string) => Object.keys(fixtures).find((name) => answers[name]?.[kind] === '')!
const quick = allSteps.filter((s) => !s.slow && !fieldsOf(s.settings).some((f) => f.info.field === 'file'))

for (const step of quick) {
  const { kind } = step
  // What builds exact bodies is tried where the kernel is.
  itUsually(!kind.startsWith('build/'))(`${kind} in each of its ways`, async () => {
    const all = []
    for (const set of ways(step)) {
      try {
        const { said, facts, warnings, bodies } = await runStep(kind, set, { ...(await fixtures[bodyFor(kind)]()) })
        all.push([said, facts, warnings, Object.entries(bodies).map(([n, b]) => [n, b?.kind])])
      } catch (e) {
        // A way that needs settings of its own is refused in words.
        all.push([(e as Error).message])
      }
    }
    expect(digest(all)).toMatchSnapshot()
  })
}
