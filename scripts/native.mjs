/** Builds the native program of the benchmark's comparisons on demand: Debian's compiler and CGAL. Nothing of it is shipped. */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, statSync } from 'node:fs'
import path from 'node:path'
import { installDebian, Problem, root, say } from './setup.mjs'

export function nativeProgram() {
  const source = path.join(root, 'benchmarks/native/compare.cpp'),
    out = path.join(root, '.build/native-compare')
  if (existsSync(out) && statSync(out).mtimeMs > statSync(source).mtimeMs) return out
  const has = (p) => existsSync(path.join('/usr', p))
  if (!has('bin/g++') || !has('include/CGAL') || !has('include/eigen3'))
    installDebian(['g++', 'libcgal-dev', 'libeigen3-dev'])
  mkdirSync(path.dirname(out), { recursive: true })
  say('compiling the native program (a few minutes, once)')
  const done = spawnSync(
    'g++',
    [
      '-O2',
      '-DNDEBUG',
      '-std=c++17',
      '-w',
      '-I/usr/include/eigen3',
      '-DCGAL_EIGEN3_ENABLED',
      source,
      '-o',
      out,
      '-lgmp',
      '-lmpfr',
    ],
    { stdio: ['ignore', 2, 2] },
  )
  if (done.status !== 0) throw new Problem('The native program could not be compiled.')
  return out
}
