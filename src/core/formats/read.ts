/** Reads any mesh file, told by its content; the name's ending only decides where the content leaves a doubt. */
import { readObj } from './obj'
import { readOff } from './off'
import { readPly } from './ply'
import { readStl } from './stl'
import { readThreeMf } from './three-mf'
import { damaged, type FileModel, type FormatName } from './model'

/** Which format some bytes are in, or null. */
export function detectFormat(bytes: Uint8Array, name: string): FormatName | null {
  const opening = new TextDecoder('latin1').decode(bytes.subarray(0, 512))
  if (/^PK\x03\x04/.test(opening)) return '3mf'
  if (/^ply\s/.test(opening)) return 'ply'
  if (/^\s*(#[^\n]*\n\s*)*(ST)?C?N?OFF\s/.test(opening)) return 'off'
  if (/^\s*ISO-10303-21/.test(opening)) return 'step'
  if (/^\s*solid\b/i.test(opening)) return 'stl'
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1].toLowerCase()
  if (bytes.length >= 84 && bytes.length === 84 + 50 * new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true))
    return 'stl'
  if (/^(\s*(#[^\n]*|(v|vn|vt|vp|f|o|g|s|mtllib|usemtl)[ \t][^\n]*)?\r?\n)*\s*(v|vn|vt|o|g|mtllib)[ \t]/.test(opening))
    return 'obj'
  if (ending === 'stl' || ending === 'obj' || ending === 'ply' || ending === 'off' || ending === '3mf') return ending
  return ending === 'stp' || ending === 'step' ? 'step' : null
}

/** Reads a mesh file. Throws StepError `damaged-file` with the byte, line or entry at fault. STEP is read by the exact kernel, not here. */
export function readMeshFile(bytes: Uint8Array, name: string): FileModel {
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
    default:
      throw damaged('it is none of STL, OBJ, PLY, OFF, 3MF or STEP', 'byte 0', 'Export it in one of these formats.')
  }
}
