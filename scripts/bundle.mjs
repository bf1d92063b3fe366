/** Bundles the command line and the compute process; only what changed is done again. */
import { build } from 'esbuild'
import { existsSync, readdirSync, statSync } from 'node:fs'
import path from 'node:path'
import { writeRegistries } from './registries.mjs'

const root = path.resolve(import.meta.dirname, '..')
const entries = {
  cli: 'src/cli/main.ts',
  compute: 'src/server/compute/process.ts',
  'compute-child': 'src/server/compute/child.ts',
  migrate: 'src/server/db/prepare.ts',
  web: 'src/server/web/main.ts',
  benchmark: 'benchmarks/main.ts',
  fuzz: 'fuzz/main.ts',
  'fuzz-child': 'fuzz/child.ts',
}

/** Newest change below the sources the bundles are made of; tests are not among them. */
function newest(dir) {
  let at = 0
  for (const e of readdirSync(dir, { withFileTypes: true })) {
    if (/\.test\.tsx?$/.test(e.name)) continue
    const p = path.join(dir, e.name)
    at = Math.max(at, e.isDirectory() ? newest(p) : statSync(p).mtimeMs)
  }
  return at
}

export async function bundle() {
  writeRegistries()
  const present = Object.fromEntries(Object.entries(entries).filter(([, f]) => existsSync(path.join(root, f))))
  const out = path.join(root, '.build')
  const source = Math.max(
    ...['src/core', 'src/server', 'src/cli', 'src/demo', 'benchmarks', 'fuzz', 'scripts']
      .filter((d) => existsSync(path.join(root, d)))
      .map((d) => newest(path.join(root, d))),
  )
  const done = Object.keys(present).every(
    (n) => existsSync(path.join(out, `${n}.mjs`)) && statSync(path.join(out, `${n}.mjs`)).mtimeMs > source,
  )
  if (done) return
  await build({
    absWorkingDir: root,
    entryPoints: present,
    outdir: '.build',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    tsconfig: 'tsconfig.json',
    sourcemap: true,
    logLevel: 'warning',
    // Kernels stay separate, replaceable files; the rest of the externals are only needed by some verbs.
    external: [
      'manifold-3d',
      'replicad-opencascadejs',
      'meshoptimizer',
      '@salusoft89/planegcs',
      'next',
      'rate-limiter-flexible',
      'pg',
      'graphile-worker',
      'drizzle-orm',
      'drizzle-orm/*',
    ],
  })
}
