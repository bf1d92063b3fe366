/** Writes meshes in mm to any mesh format. */
import type { FilePart } from './model'
import { formats } from './registry'

/** Bytes of a mesh file in the format named; parts in mm. */
export function writeFile(name: string, parts: readonly FilePart[], stl: 'binary' | 'text' = 'binary'): Uint8Array {
  const format = formats.find((f) => f.name === name)
  if (format?.holds !== 'meshes') throw new Error(`no writer for ${name}`)
  return format.write(parts, { text: stl === 'text' })
}
