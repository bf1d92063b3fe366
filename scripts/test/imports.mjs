/** Who imports whom among the project's own sources. */
import { readdirSync, readFileSync } from 'node:fs'
import path from 'node:path'

/** TypeScript sources below a folder; paths begin as `dir` does. */
export function sourcesBelow(dir) {
  return readdirSync(dir, { withFileTypes: true }).flatMap((e) => {
    const at = path.join(dir, e.name)
    return e.isDirectory() ? sourcesBelow(at) : /\.tsx?$/.test(e.name) ? [at] : []
  })
}

/** Whom each of some files imports, of those files, types included. Files are named from the project's folder. */
export function importsOf(files) {
  const known = new Set(files)
  const endings = ['', '.ts', '.tsx', '/index.ts', '/index.tsx']
  const resolved = (from, to) => {
    const base = to.startsWith('@/') ? path.join('src', to.slice(2)) : path.join(path.dirname(from), to)
    return endings.map((ending) => base + ending).find((file) => known.has(file))
  }
  return new Map(
    files.map((file) => {
      const text = readFileSync(file, 'utf8')
      const named = [...text.matchAll(/(?:\bfrom|\bimport)\s*\(?\s*'((?:@\/|\.)[^']+)'/g)].map((m) => m[1])
      return [file, named.flatMap((to) => resolved(file, to) ?? [])]
    }),
  )
}

/** Whether a file reaches another by imports. */
export function reaches(imports, from, to) {
  const seen = new Set([from])
  for (const file of seen) {
    if (file === to) return true
    for (const next of imports.get(file) ?? []) seen.add(next)
  }
  return false
}
