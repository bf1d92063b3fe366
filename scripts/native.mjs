/** Builds the native programs of the benchmark's comparisons on demand: Debian's compiler and libraries. Nothing of it is shipped. */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, statSync } from 'node:fs'
import path from 'node:path'
import { installDebian, Problem, root, say } from './setup.mjs'

const programs = {
  compare: {
    needs: { 'bin/g++': 'g++', 'include/CGAL': 'libcgal-dev', 'include/eigen3': 'libeigen3-dev' },
    flags: ['-I/usr/include/eigen3', '-DCGAL_EIGEN3_ENABLED'],
    libraries: ['-lgmp', '-lmpfr'],
  },
  quads: { needs: { 'bin/g++': 'g++', 'include/gmsh.h': 'libgmsh-dev' }, flags: [], libraries: ['-lgmsh'] },
}

/** The path of a native program, compiled anew where its source is younger. */
export function nativeProgram(name) {
  const { needs, flags, libraries } = programs[name]
  const source = path.join(root, `benchmarks/native/${name}.cpp`),
    out = path.join(root, `.build/native-${name}`)
  if (existsSync(out) && statSync(out).mtimeMs > statSync(source).mtimeMs) return out
  const missing = Object.entries(needs).filter(([at]) => !existsSync(path.join('/usr', at)))
  if (missing.length) installDebian(missing.map(([, name]) => name))
  mkdirSync(path.dirname(out), { recursive: true })
  say(`compiling the native program "${name}" (up to a few minutes, once)`)
  const done = spawnSync('g++', ['-O2', '-DNDEBUG', '-std=c++17', '-w', ...flags, source, '-o', out, ...libraries], {
    stdio: ['ignore', 2, 2],
  })
  if (done.status !== 0) throw new Problem(`The native program "${name}" could not be compiled.`)
  return out
}
