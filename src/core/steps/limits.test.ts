/** What every setting of every step takes, and what it is when it is left out: kept, since recipes of others rely on it. */
import { expect, it } from '@jest/globals'
import { fieldsOf } from '@/core/step/fields'
import { digest } from '@/testing/digest'
import { allSteps } from './registry'

/** Numbers near the bounds that settings have, and far off. */
const tried = [
  -1e6, -360, -1, -1e-3, 0, 1e-6, 1e-4, 1e-3, 0.01, 0.5, 1, 1.5, 2, 3, 30, 45, 99, 100, 180, 360, 1000, 1e5, 1e6,
]

it.each(allSteps.map((s) => [s.kind, s] as const))('%s', (_kind, step) => {
  const rows = fieldsOf(step.settings).map(({ key, info, fallback, optional }) => {
    const schema = step.settings.shape[key] as { safeParse(v: unknown): { success: boolean } }
    const takes = tried.map((v) => (schema.safeParse(v).success ? '1' : '0')).join('')
    const choices = 'labels' in info && info.labels ? Object.keys(info.labels).join(' ') : ''
    return [key, info.field, optional, fallback, takes, choices]
  })
  expect(digest(rows)).toMatchSnapshot()
})
