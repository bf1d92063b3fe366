/** What every step says of its settings, its figures and its bodies, kept: any change to fields shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { digest, outcome } from '@/testing/digest'
import { allSteps } from '@/core/steps/registry'
import { plausible, ways } from '@/testing/plausible'
import { factRows } from './facts'
import { bodiesIn, fieldsOf, fits } from './fields'
import { bodyName, freeName, namer, stageOf } from './step'

const kinds = ['mesh', 'solid', 'sheet', 'net', 'cage', 'outline', 'datum']
/** Facts that lines may show: every key a number, but some. */
const facts = new Proxy({} as Record<string, unknown>, {
  get: (_, key) => (key === 'deviation' ? { max: 0.0123, p95: 0.004 } : String(key).length * 1.37),
  has: () => true,
})

describe.each(allSteps.map((s) => [s.kind, s] as const))('%s', (kind, step) => {
  it('fields, bodies it reads and makes, figures', () => {
    const fields = fieldsOf(step.settings)
    expect(
      digest({
        fields,
        fits: fields.map((f) => kinds.map((k) => fits(f.info, k))),
        bodies: ways(step).map((set) => bodiesIn(step.settings, set)),
        parsed: outcome(() => step.settings.strict().parse(plausible(step))),
        stage: stageOf(kind),
        rows: outcome(() => factRows(step.facts ?? [], facts as never)),
      }),
    ).toMatchSnapshot()
  })
})

it('names that are free', () => {
  const taken = new Set(['pin', 'pin 2', 'a'])
  const next = namer(taken)
  expect(
    digest([
      ['pin', 'b'].map((n) => outcome(() => freeName(taken, n))),
      ['pin', 'pin', 'a', 'x', 'x'].map(next),
      ['', '  a  b ', 'part.stl', 'x'.repeat(300), 'a/b'].map((n) => outcome(() => bodyName(n))),
    ]),
  ).toMatchSnapshot()
})
