/** The hooks of the test loader; they run in a thread beside the tests. */
import { transform } from '@swc/core'
import { existsSync, readFileSync, statSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { withMutant } from './mutant.mjs'

const root = path.resolve(import.meta.dirname, '..')
const standIns = {
  '@jest/globals': 'scripts/jest-globals.mjs',
  '@react-three/fiber': 'src/testing/fiber.ts',
}
const endings = ['', '.ts', '.tsx', '/index.ts', '/index.tsx']

function sourceFile(base) {
  for (const ending of endings) {
    const at = base + ending
    if (existsSync(at) && statSync(at).isFile()) return at
  }
  return null
}

export async function resolve(specifier, context, next) {
  if (standIns[specifier]) return { url: pathToFileURL(path.join(root, standIns[specifier])).href, shortCircuit: true }
  const from = context.parentURL?.startsWith('file:') ? fileURLToPath(context.parentURL) : null
  const ours = from && !from.includes('/node_modules/')
  const base = specifier.startsWith('@/')
    ? path.join(root, 'src', specifier.slice(2))
    : ours && /^\.\.?\//.test(specifier)
      ? path.resolve(path.dirname(from), specifier)
      : null
  const at = base && sourceFile(base)
  if (at && /\.tsx?$/.test(at)) return { url: pathToFileURL(at).href, shortCircuit: true }
  return next(specifier, context)
}

export async function load(url, context, next) {
  if (!/\.tsx?($|\?)/.test(url)) return next(url, context)
  const file = fileURLToPath(url.split('?')[0])
  const { code } = await transform(withMutant(path.relative(root, file), readFileSync(file, 'utf8')), {
    filename: file,
    sourceMaps: 'inline',
    jsc: {
      parser: { syntax: 'typescript', tsx: file.endsWith('x') },
      target: 'es2022',
      transform: { react: { runtime: 'automatic' } },
    },
    module: { type: 'es6' },
    swcrc: false,
  })
  return { format: 'module', source: code, shortCircuit: true }
}
