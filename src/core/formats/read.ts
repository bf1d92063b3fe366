/** Reads any mesh file, told by its content. */
import { damaged, type FileModel } from './model'
import { cleanNumbers } from './numbers'
import { formatOf, titlesInWords } from './registry'

/**
 * Reads a mesh file. Corners whose coordinates are no numbers are left out, with a note. Throws StepError `damaged-file` with the byte, line or
 * entry at fault, and `too-large` when it asks for more than a file may. Files of exact bodies and outlines hold no mesh.
 */
export const readMeshFile = (bytes: Uint8Array, name: string): FileModel => cleanNumbers(readAny(bytes, name))

function readAny(bytes: Uint8Array, name: string): FileModel {
  if (!bytes.length) throw damaged('it is empty', 'byte 0')
  const format = formatOf(bytes, name)
  switch (format?.holds) {
    case 'meshes':
      return format.read(bytes)
    case 'exact bodies':
      throw damaged(`it is a ${format.title} file, which holds exact faces and no mesh`, 'byte 0')
    case 'outlines':
      throw damaged('it is a plane drawing, which holds no mesh', 'byte 0')
    case undefined:
      throw damaged(`it is none of ${titlesInWords()}`, 'byte 0', 'Export it in one of these formats.')
  }
}
