/**
 * The transform of the unit tests. Jest runs modules in a sandbox whose global object answers every look-up through an
 * interceptor, which makes number code four to five times slower; each module therefore takes the globals it uses by name once.
 */
import swcJest from '@swc/jest'

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

export default {
  ...swc,
  process: (...args) => withGlobals(swc.process(...args)),
  processAsync: async (...args) => withGlobals(await swc.processAsync(...args)),
  getCacheKey: (...args) => `${swc.getCacheKey(...args)}-globals-1`,
}
