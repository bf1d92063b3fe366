/** Reads any mesh file, told by its content. */
import { readObj } from './obj'
import { readOff } from './off'
import { readPly } from './ply'
import { readStl } from './stl'
import { readThreeMf } from './three-mf'
import { detectFormat } from './detect'
import { damaged, type FileModel } from './model'
import { cleanNumbers } from './numbers'

/**
 * Reads a mesh file. Corners whose coordinates are no numbers are left out, with a note. Throws StepError `damaged-file` with the byte, line or
 * entry at fault, and `too-large` when it asks for more than a file may. STEP is read by the exact kernel, not here.
 */
export const readMeshFile = (bytes: Uint8Array, name: string): FileModel => cleanNumbers(readAny(bytes, name))

function readAny(bytes: Uint8Array, name: string): FileModel {
  if (!bytes.length) throw damaged('it is empty', 'byte 0')
  switch (detectFormat(bytes, name)) {
    case 'stl':
      return readStl(bytes)
    case 'obj':
      return readObj(bytes)
    case 'ply':
      return readPly(bytes)
    case 'off':
      return readOff(bytes)
    case '3mf':
      return readThreeMf(bytes)
    case 'step':
      throw damaged('it is a STEP file, which holds exact faces and no mesh', 'byte 0')
    case 'dxf':
    case 'svg':
      throw damaged('it is a plane drawing, which holds no mesh', 'byte 0')
    default:
      throw damaged(
        'it is none of STL, OBJ, PLY, OFF, 3MF, STEP, DXF or SVG',
        'byte 0',
        'Export it in one of these formats.',
      )
  }
}
