/** PLY (Turk, The PLY Polygon File Format, 1994): ASCII and both binary orders, faces of any number of corners, triangle strips passed over. */
import { certainty, defineFormat } from './format'
import { isSpace } from './opening'
import type { Vec3 } from '@/core/math/vec'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { damaged, type FileModel, type FilePart } from './model'
import { cutPolygon, Knife } from './polygon'
import { Floats, Indices, TextScanner } from './text-scanner'

const sizes = new Map(
  Object.entries({
    char: 1,
    uchar: 1,
    int8: 1,
    uint8: 1,
    short: 2,
    ushort: 2,
    int16: 2,
    uint16: 2,
    int: 4,
    uint: 4,
    int32: 4,
    uint32: 4,
    float: 4,
    float32: 4,
    double: 8,
    float64: 8,
  }),
)
interface Property {
  name: string
  type: string
  count?: string
}
interface Element {
  name: string
  count: number
  properties: Property[]
}

/** Reads values one after the other, from text or from bytes in either order. */
interface Values {
  next(type: string): number
  where(): string
  endOfRow(): void
}

function textValues(s: TextScanner): Values {
  return {
    next: () => {
      if (!s.wordAnywhere()) throw damaged('it ends too early', `line ${s.line}`, 'Fetch or export the file again.')
      return s.number()
    },
    where: () => `line ${s.line}`,
    endOfRow: () => {},
  }
}

function byteValues(bytes: Uint8Array, start: number, little: boolean): Values {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let at = start
  return {
    next: (type) => {
      const size = sizes.get(type)!
      if (at + size > bytes.length)
        throw damaged('it ends too early', `byte ${bytes.length}`, 'Fetch or export the file again.')
      const o = at
      at += size
      switch (type) {
        case 'char':
        case 'int8':
          return view.getInt8(o)
        case 'uchar':
        case 'uint8':
          return view.getUint8(o)
        case 'short':
        case 'int16':
          return view.getInt16(o, little)
        case 'ushort':
        case 'uint16':
          return view.getUint16(o, little)
        case 'int':
        case 'int32':
          return view.getInt32(o, little)
        case 'uint':
        case 'uint32':
          return view.getUint32(o, little)
        case 'float':
        case 'float32':
          return view.getFloat32(o, little)
        default:
          return view.getFloat64(o, little)
      }
    },
    where: () => `byte ${at}`,
    endOfRow: () => {},
  }
}

/** Reads PLY, ASCII or binary of either byte order. Throws StepError `damaged-file` with the line or byte. */
export function readPly(bytes: Uint8Array): FileModel {
  const s = new TextScanner(bytes)
  if (s.rest() !== 'ply') throw damaged('it does not open with ply', 'line 1')
  let format = ''
  const elements: Element[] = []
  const notes: string[] = []
  for (;;) {
    if (!s.nextLine()) throw damaged('its head does not end', `line ${s.line}`)
    const line = s.line
    const words = s.rest().split(/\s+/)
    if (words[0] === 'end_header') break
    if (words[0] === 'format') format = words[1]
    else if (words[0] === 'element') {
      const count = Number(words[2])
      if (!Number.isInteger(count) || count < 0)
        throw damaged(`element ${words[1]} with count ${words[2]}`, `line ${line}`)
      elements.push({ name: words[1], count, properties: [] })
    } else if (words[0] === 'property') {
      const owner = elements.at(-1)
      if (!owner) throw damaged('a property before any element', `line ${line}`)
      const list = words[1] === 'list'
      const property: Property = list
        ? { count: words[2], type: words[3], name: words[4] }
        : { type: words[1], name: words[2] }
      if (!sizes.has(property.type) || (property.count !== undefined && !sizes.has(property.count)) || !property.name)
        throw damaged(`property "${words.slice(1).join(' ')}"`, `line ${line}`)
      owner.properties.push(property)
    } else if (words[0] !== 'comment' && words[0] !== 'obj_info' && words[0] !== '')
      throw damaged(`"${words[0].slice(0, 30)}" in the head`, `line ${line}`)
  }
  let values: Values
  if (format === 'ascii') {
    s.nextLine()
    values = textValues(s)
  } else if (format === 'binary_little_endian' || format === 'binary_big_endian') {
    let at = s.at
    if (bytes[at] === 10) at++
    values = byteValues(bytes, at, format === 'binary_little_endian')
  } else throw damaged(`format "${format}"`, 'head')
  const points = new Floats()
  const tris = new Indices()
  const knife = new Knife()
  let total = 0
  for (const element of elements) {
    if (element.count && !element.properties.length) throw damaged(`element ${element.name} has no properties`, 'head')
    if (element.count > bytes.length)
      throw damaged(
        `it promises ${element.count} of element ${element.name}, more than its ${bytes.length} bytes can hold`,
        'head',
      )
    if (element.name === 'vertex') {
      const axes = ['x', 'y', 'z'].map((a) =>
        element.properties.findIndex((p) => p.name === a && p.count === undefined),
      )
      if (axes.includes(-1)) throw damaged('its points have no x, y and z', 'head')
      const row = new Array<number>(element.properties.length)
      for (let v = 0; v < element.count; v++) {
        element.properties.forEach((p, i) => {
          if (p.count === undefined) row[i] = values.next(p.type)
          else for (let n = values.next(p.count); n > 0; n--) values.next(p.type)
        })
        points.push3(row[axes[0]], row[axes[1]], row[axes[2]])
      }
      total = element.count
    } else {
      const faces = element.name === 'face'
      if (!faces && element.count) notes.push(`element "${element.name}" was passed over`)
      for (let f = 0; f < element.count; f++) {
        for (const p of element.properties) {
          if (p.count === undefined) {
            values.next(p.type)
            continue
          }
          const n = values.next(p.count)
          if (n < 0 || n > bytes.length) throw damaged(`a list of ${n}`, values.where())
          const ring: number[] = []
          for (let i = 0; i < n; i++) ring.push(values.next(p.type))
          if (!faces || !/^vertex_ind/.test(p.name)) continue
          for (const v of ring)
            if (!Number.isInteger(v) || v < 0 || v >= total)
              throw damaged(`face ${f + 1} asks for point ${v} of ${total}`, values.where())
          if (n === 3) tris.push3(ring[0], ring[1], ring[2])
          else if (n > 3) {
            const q = points.data
            const cut = cutPolygon(
              knife,
              ring.map((v): Vec3 => [q[3 * v], q[3 * v + 1], q[3 * v + 2]]),
            )
            for (let i = 0; i < cut.length; i += 3) tris.push3(ring[cut[i]], ring[cut[i + 1]], ring[cut[i + 2]])
          }
        }
      }
    }
  }
  if (!points.length) throw damaged('it holds no points', values.where())
  if (!tris.length)
    throw damaged(
      'it holds points and no faces',
      values.where(),
      'A cloud of points has no skin yet; mesh it in the scanner software first.',
    )
  return {
    format: 'ply',
    parts: [{ name: 'model', mesh: { positions: points.done(), triangles: tris.done() } }],
    notes: [...notes, ...knife.notes()],
  }
}

/** Binary little-endian PLY. */
export function writePly(parts: readonly FilePart[]): Uint8Array {
  const { positions, triangles } = concatMeshes(parts.map((p) => p.mesh))
  const vertices = positions.length / 3,
    faces = triangles.length / 3
  const head = new TextEncoder().encode(
    `ply\nformat binary_little_endian 1.0\ncomment mm, written by Glue Bench\nelement vertex ${vertices}\nproperty float x\nproperty float y\nproperty float z\nelement face ${faces}\nproperty list uchar int vertex_indices\nend_header\n`,
  )
  const out = new Uint8Array(head.length + 12 * vertices + 13 * faces)
  out.set(head)
  const view = new DataView(out.buffer)
  let o = head.length
  for (const c of positions) {
    view.setFloat32(o, c, true)
    o += 4
  }
  for (let i = 0; i < triangles.length; i += 3) {
    view.setUint8(o++, 3)
    for (let c = 0; c < 3; c++) {
      view.setInt32(o, triangles[i + c], true)
      o += 4
    }
  }
  return out
}

export const plyFormat = defineFormat({
  name: 'ply',
  title: 'PLY',
  endings: ['ply'],
  holds: 'meshes',
  unit: 'not stated',
  carries: 'quads of nets',
  sniff: ({ bytes }) =>
    bytes[0] === 0x70 && bytes[1] === 0x6c && bytes[2] === 0x79 && (bytes.length < 4 || isSpace(bytes[3]))
      ? certainty.bytes
      : certainty.none,
  read: readPly,
  write: (parts) => writePly(parts),
})
