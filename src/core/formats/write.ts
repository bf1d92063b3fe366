/** Writes meshes in mm to any mesh format. */
import { concatMeshes } from '@/core/mesh/tri-mesh'
import type { FilePart } from './model'
import { writeObj } from './obj'
import { writeOff } from './off'
import { writePly } from './ply'
import { writeStlAscii, writeStlBinary } from './stl'
import { writeThreeMf } from './three-mf'

/** Bytes of a mesh file in the format named; parts in mm. */
export function writeFile(format: string, parts: readonly FilePart[], stl: 'binary' | 'text' = 'binary'): Uint8Array {
  const title = parts.map((p) => p.name).join(', ')
  switch (format) {
    case 'stl': {
      const mesh = concatMeshes(parts.map((p) => p.mesh))
      return stl === 'binary' ? writeStlBinary(mesh) : writeStlAscii(mesh, title)
    }
    case 'obj':
      return writeObj(parts)
    case 'ply':
      return writePly(parts)
    case 'off':
      return writeOff(parts)
    case '3mf':
      return writeThreeMf(parts, title)
    default:
      throw new Error(`no writer for ${format}`)
  }
}
