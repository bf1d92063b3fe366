/** Every tool on every awkward mesh: a right result or a sentence; never a hang, never a worse mesh. */
import { beforeAll, describe, expect, it } from '@jest/globals'
import { build } from 'esbuild'
import { spawnSync } from 'node:child_process'
import type { Outcome } from '@/testing/awkward-run'
import { mostly } from '@/testing/long'
import { awkward } from '@/testing/shapes'

beforeAll(async () => {
  await build({
    entryPoints: ['src/testing/awkward-run.ts'],
    outfile: '.build/awkward.mjs',
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    tsconfig: 'tsconfig.json',
    logLevel: 'error',
    external: ['manifold-3d', 'replicad-opencascadejs', 'meshoptimizer'],
  })
}, 60_000)

/** Those that every run has; the others take minutes each. */
const quick = ['empty', 'not numbers']

describe('awkward meshes', () => {
  it.each(mostly(Object.keys(awkward()), (name) => quick.includes(name)))(
    '%s',
    (name) => {
      const r = spawnSync(process.execPath, ['.build/awkward.mjs', name], {
        encoding: 'utf8',
        timeout: 420_000,
        maxBuffer: 1 << 26,
      })
      expect(r.status).toBe(0) // null when it hung
      const outcomes = JSON.parse(r.stdout) as Outcome[]
      expect(outcomes.length).toBeGreaterThan(25)
      for (const o of outcomes) {
        expect([o.tool, o.crashed]).toEqual([o.tool, undefined])
        if (o.refused !== undefined) expect(o.refused).toMatch(/^["A-Z0-9].*[.!]$/)
        else expect(o.said!.length).toBeGreaterThan(0)
        expect([o.tool, o.finite, o.indices]).toEqual([o.tool, true, true])
        if (o.faultsAfter !== undefined) expect([o.tool, o.faultsAfter <= o.faultsBefore!]).toEqual([o.tool, true])
      }
    },
    450_000,
  )
})
