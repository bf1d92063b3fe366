/** STL, binary and ASCII (3D Systems, StereoLithography Interface Specification, 1988). Told apart by content: many binary files open with "solid". */
import { certainty, defineFormat } from './format'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { CornerTable, weldSoup } from '@/core/mesh/weld'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { mostObjects, tooMuch } from './limits'
import { damaged, type FileModel, type FilePart } from './model'
import { Floats, TextScanner } from './text-scanner'

const headSize = 84
const recordSize = 50

function looksBinary(bytes: Uint8Array): boolean {
  if (bytes.length < headSize) return false
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true)
  if (bytes.length === headSize + recordSize * count) return true
  const opening = new TextDecoder('latin1').decode(bytes.subarray(0, Math.min(bytes.length, 1024)))
  if (/^\s*solid\b[^\0]*?\b(facet|endsolid)\b/i.test(opening)) return false
  return true
}

function readBinary(bytes: Uint8Array): FileModel {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const stated = view.getUint32(80, true)
  const room = Math.floor((bytes.length - headSize) / recordSize)
  if (room < stated)
    throw damaged(
      `it promises ${stated} triangles and ends inside triangle ${room + 1}`,
      `byte ${bytes.length}`,
      'Fetch or export the file again.',
    )
  const notes: string[] = []
  if (bytes.length > headSize + recordSize * stated)
    notes.push(`${bytes.length - headSize - recordSize * stated} bytes after the last triangle were not read`)
  const table = new CornerTable(3 * stated)
  const triangles = new Uint32Array(3 * stated)
  for (let t = 0, o = headSize + 12; t < stated; t++, o += recordSize) {
    for (let c = 0; c < 3; c++)
      triangles[3 * t + c] = table.at(
        view.getInt32(o + 12 * c, true),
        view.getInt32(o + 12 * c + 4, true),
        view.getInt32(o + 12 * c + 8, true),
      )
  }
  return { format: 'stl', parts: [{ name: 'model', mesh: { positions: table.positions(), triangles } }], notes }
}

function readAscii(bytes: Uint8Array): FileModel {
  const s = new TextScanner(bytes)
  const parts: FilePart[] = []
  const notes: string[] = []
  let soup = new Floats()
  let name = ''
  let inFacet = -1
  let ended = true
  const close = () => {
    if (soup.length || !parts.length)
      parts.push({ name: name || `model${parts.length ? ` ${parts.length + 1}` : ''}`, mesh: weldSoup(soup.done()) })
    soup = new Floats()
  }
  while (s.wordAnywhere()) {
    const line = s.line
    const word = s.text().toLowerCase()
    if (word === 'vertex') {
      const [x, y, z] = s.numbers(3, 'a vertex')
      if (inFacet < 0 || inFacet > 2)
        throw damaged(
          inFacet < 0 ? 'a vertex outside a facet' : 'a facet with more than three vertices',
          `line ${line}`,
        )
      soup.push3(x, y, z)
      inFacet++
    } else if (word === 'facet') {
      if (inFacet > 0) throw damaged('a facet begins inside another', `line ${line}`)
      inFacet = 0
    } else if (word === 'endfacet') {
      if (inFacet !== 3) throw damaged(`a facet with ${Math.max(0, inFacet)} vertices`, `line ${line}`)
      inFacet = -1
    } else if (word === 'solid' || word === 'endsolid') {
      if (inFacet >= 0) throw damaged(`"${word}" inside a facet`, `line ${line}`)
      if (word === 'endsolid') {
        close()
        ended = true
        s.rest()
        continue
      }
      if (parts.length >= mostObjects) throw tooMuch('solids', mostObjects)
      name = s.rest().slice(0, 80)
      ended = false
    } else if (word !== 'outer' && word !== 'loop' && word !== 'endloop' && word !== 'normal') {
      throw damaged(`"${word.slice(0, 30)}" is no STL word`, `line ${line}`)
    }
    if (word === 'facet' || word === 'outer') s.rest()
  }
  if (inFacet >= 0) throw damaged('it ends inside a facet', `line ${s.line}`, 'Fetch or export the file again.')
  if (!ended) {
    notes.push('the closing word "endsolid" is missing')
    close()
  }
  return { format: 'stl', parts, notes }
}

/** Reads STL, binary or ASCII; corners that are equal bit for bit are joined. Throws StepError `damaged-file` with the byte or line. */
export function readStl(bytes: Uint8Array): FileModel {
  if (bytes.length === 0) throw damaged('it is empty', 'byte 0')
  if (looksBinary(bytes)) return readBinary(bytes)
  if (!/^\s*solid/i.test(new TextDecoder('latin1').decode(bytes.subarray(0, 200))))
    throw damaged('it is neither binary nor ASCII STL', 'byte 0')
  return readAscii(bytes)
}

function unitNormal(mesh: TriMesh, t: number): [number, number, number] {
  const c = crossOf(mesh, t)
  const l = Math.hypot(...c) || 1
  return [c[0] / l, c[1] / l, c[2] / l]
}

/** Binary STL of a mesh in mm; the same mesh gives the same bytes. */
export function writeStlBinary(mesh: TriMesh): Uint8Array {
  const n = triangleCount(mesh)
  const out = new Uint8Array(headSize + recordSize * n)
  // The heading must not open with "solid", or readers take the file for ASCII.
  out.set(new TextEncoder().encode('Binary STL in mm, written by Glue Bench'))
  const view = new DataView(out.buffer)
  view.setUint32(80, n, true)
  for (let t = 0; t < n; t++) {
    let o = headSize + recordSize * t
    for (const v of unitNormal(mesh, t)) {
      view.setFloat32(o, v, true)
      o += 4
    }
    for (let c = 0; c < 3; c++) {
      const v = 3 * mesh.triangles[3 * t + c]
      for (let a = 0; a < 3; a++) {
        view.setFloat32(o, mesh.positions[v + a], true)
        o += 4
      }
    }
  }
  return out
}

/** ASCII STL of a mesh in mm. */
export function writeStlAscii(mesh: TriMesh, name: string): Uint8Array {
  const title = name.replace(/\s+/g, '_') || 'model'
  const lines = [`solid ${title}`]
  for (let t = 0; t < triangleCount(mesh); t++) {
    lines.push(
      `facet normal ${unitNormal(mesh, t)
        .map((v) => v.toExponential(6))
        .join(' ')}`,
      'outer loop',
    )
    for (let c = 0; c < 3; c++) {
      const v = 3 * mesh.triangles[3 * t + c]
      lines.push(`vertex ${short(mesh.positions[v])} ${short(mesh.positions[v + 1])} ${short(mesh.positions[v + 2])}`)
    }
    lines.push('endloop', 'endfacet')
  }
  lines.push(`endsolid ${title}`, '')
  return new TextEncoder().encode(lines.join('\n'))
}

/** The shortest decimal that reads back as the same single-precision number. */
export function short(v: number): string {
  for (let d = 6; d < 9; d++) {
    const s = v.toPrecision(d)
    if (Math.fround(Number(s)) === v) return String(Number(s))
  }
  return String(v)
}

/** A binary file says by its length what it is, whatever its 80 bytes of heading look like. */
function isBinary(bytes: Uint8Array): boolean {
  if (bytes.length < 84) return false
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true)
  return count > 0 && bytes.length === 84 + 50 * count
}

export const stlFormat = defineFormat({
  name: 'stl',
  title: 'STL',
  endings: ['stl'],
  holds: 'meshes',
  unit: 'not stated',
  carries: 'nothing else',
  sniff: ({ bytes, words }) =>
    isBinary(bytes) ? certainty.length : /^solid$/i.test(words[0] ?? '') ? certainty.words : certainty.none,
  read: readStl,
  write(parts, { text }) {
    const mesh = concatMeshes(parts.map((p) => p.mesh))
    return text ? writeStlAscii(mesh, parts.map((p) => p.name).join(', ')) : writeStlBinary(mesh)
  },
})
