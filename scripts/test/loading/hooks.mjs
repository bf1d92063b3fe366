/** How sources are found and read by the unit tests: `@/` is `src/`, TypeScript loses its types, and a mutant takes its place. */
import { existsSync, readFileSync, statSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { transform } from 'esbuild'
import { withMutant } from '../mutant.mjs'

const root = path.resolve(import.meta.dirname, '../../..')
const standIns = new Map([
  ['@jest/globals', path.join(import.meta.dirname, 'globals.mjs')],
  ['@react-three/fiber', path.join(root, 'src/testing/fiber.ts')],
])
const endings = ['', '.ts', '.tsx', '/index.ts', '/index.tsx']

const isOwn = (url) => url?.startsWith('file:') && !url.includes('/node_modules/')
const sourceAt = (base) => endings.map((e) => base + e).find((file) => existsSync(file) && statSync(file).isFile())

/** The path that an import of ours means, without its ending; null for a package. */
function baseOf(specifier, parent) {
  if (specifier.startsWith('@/')) return path.join(root, 'src', specifier.slice(2))
  return specifier.startsWith('.') ? path.join(path.dirname(fileURLToPath(parent)), specifier) : null
}

export async function resolve(specifier, context, next) {
  if (!isOwn(context.parentURL)) return next(specifier, context)
  const base = standIns.get(specifier) ?? baseOf(specifier, context.parentURL)
  const file = base && sourceAt(base)
  if (file) return { url: pathToFileURL(file).href, shortCircuit: true }
  try {
    return await next(specifier, context)
  } catch (error) {
    // Packages that say nothing of their inner files leave out the ending.
    if (error.code === 'ERR_MODULE_NOT_FOUND') return next(`${specifier}.js`, context)
    throw error
  }
}

export async function load(url, context, next) {
  const file = isOwn(url) && fileURLToPath(url.replace(/\?.*/, ''))
  if (!file || !/\.tsx?$/.test(file)) return next(url, context)
  const source = withMutant(path.relative(root, file), readFileSync(file, 'utf8'))
  const { code } = await transform(source, {
    loader: file.endsWith('x') ? 'tsx' : 'ts',
    format: 'esm',
    target: 'node20',
    jsx: 'automatic',
    sourcemap: 'inline',
    sourcefile: file,
  })
  return { format: 'module', source: code, shortCircuit: true }
}
