/**
 * The transform of the unit tests. Jest runs modules in a sandbox whose global object answers every look-up through an
 * interceptor, which makes number code four to five times slower; each module therefore takes the globals it uses by name once.
 */
import path from 'node:path'
import swcJest from '@swc/jest'
import { changed, withMutant } from './mutant.mjs'

const taken = [
  'Math',
  'Number',
  'Infinity',
  'NaN',
  'Array',
  'Map',
  'Set',
  'Float64Array',
  'Float32Array',
  'Int32Array',
  'Int8Array',
  'Uint32Array',
  'Uint16Array',
  'Uint8Array',
  'Int16Array',
  'BigInt64Array',
  'performance',
]
const swc = swcJest.createTransformer({
  jsc: {
    parser: { syntax: 'typescript', tsx: true },
    target: 'es2022',
    transform: { react: { runtime: 'automatic' } },
  },
  module: { type: 'es6' },
})

function withGlobals(made) {
  const names = taken.filter(
    (name) =>
      new RegExp(`\\b${name}\\b`).test(made.code) &&
      !new RegExp(`import[^;]*\\b${name}\\b[^;]*from|(?:const|let|var|class|function)\\s+${name}\\b`).test(made.code),
  )
  // On the first line, so that line numbers stay true.
  return names.length ? { ...made, code: `const { ${names.join(', ')} } = globalThis; ${made.code}` } : made
}

const root = path.resolve(import.meta.dirname, '../..')
const name = (file) => path.relative(root, file)

export default {
  ...swc,
  process: (source, file, ...rest) => withGlobals(swc.process(withMutant(name(file), source), file, ...rest)),
  processAsync: async (source, file, ...rest) =>
    withGlobals(await swc.processAsync(withMutant(name(file), source), file, ...rest)),
  getCacheKey: (source, file, ...rest) => `${swc.getCacheKey(source, file, ...rest)}-globals-1${changed(name(file))}`,
}
