import { expect, it } from '@jest/globals'
import { readFileSync } from 'node:fs'

/** Licences that ask for nothing but their text to be kept. */
const plain =
  /^(MIT|ISC|BSD-[23]-Clause|Apache-2\.0|0BSD|BlueOak-1\.0\.0)( AND (MIT|ISC|BSD-[23]-Clause|Apache-2\.0))*$/

it('every package that is shipped under another licence than the plain ones is named in docs/dependencies.md', () => {
  const { packages } = JSON.parse(readFileSync('package-lock.json', 'utf8')) as {
    packages: Record<string, { license?: string; dev?: boolean }>
  }
  const page = readFileSync('docs/dependencies.md', 'utf8')
  // "@img/sharp-*" stands for all that begin so.
  const named = [...page.matchAll(/[@\w./-]+\*?/g)].map((m) => m[0])
  const covers = (name: string) =>
    named.some((n) => (n.endsWith('*') ? n.length > 6 && name.startsWith(n.slice(0, -1)) : n === name))
  const others = Object.entries(packages).flatMap(([at, p]) =>
    at && !p.dev && !plain.test(p.license ?? '') ? [at.replace(/^.*node_modules\//, '')] : [],
  )
  expect(others.length).toBeGreaterThan(5)
  expect(others.filter((name) => !covers(name))).toEqual([])
})
