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
  const { format, elements } = headOf(s)
  const values = valuesOf(bytes, s, format)
  const body = new Body(values, bytes.length)
  for (const element of elements) body.read(element)
  if (!body.points.length) throw damaged('it holds no points', values.where())
  if (!body.triangles.length)
    throw damaged(
      'it holds points and no faces',
      values.where(),
      'A cloud of points has no skin yet; mesh it in the scanner software first.',
    )
  return {
    format: 'ply',
    parts: [{ name: 'model', mesh: { positions: body.points.done(), triangles: body.triangles.done() } }],
    notes: body.notes(),
  }
}

/** What the file says of itself, up to the end of its head. */
function headOf(s: TextScanner): { format: string; elements: readonly Element[] } {
  if (s.rest() !== 'ply') throw damaged('it does not open with ply', 'line 1')
  let format = ''
  const elements: Element[] = []
  for (;;) {
    if (!s.nextLine()) throw damaged('its head does not end', `line ${s.line}`)
    const where = `line ${s.line}`
    const words = s.rest().split(/\s+/)
    switch (words[0]) {
      case 'end_header':
        return { format, elements }
      case 'format':
        format = words[1]
        break
      case 'element':
        elements.push(elementOf(words, where))
        break
      case 'property': {
        const owner = elements.at(-1)
        if (!owner) throw damaged('a property before any element', where)
        owner.properties.push(propertyOf(words, where))
        break
      }
      case 'comment':
      case 'obj_info':
      case '':
        break
      default:
        throw damaged(`"${words[0].slice(0, 30)}" in the head`, where)
    }
  }
}

function elementOf([, name, size]: readonly string[], where: string): Element {
  const count = Number(size)
  if (!Number.isInteger(count) || count < 0) throw damaged(`element ${name} with count ${size}`, where)
  return { name, count, properties: [] }
}

function propertyOf(words: readonly string[], where: string): Property {
  const property: Property =
    words[1] === 'list' ? { count: words[2], type: words[3], name: words[4] } : { type: words[1], name: words[2] }
  if (!sizes.has(property.type) || (property.count !== undefined && !sizes.has(property.count)) || !property.name)
    throw damaged(`property "${words.slice(1).join(' ')}"`, where)
  return property
}

function valuesOf(bytes: Uint8Array, s: TextScanner, format: string): Values {
  if (format === 'ascii') {
    s.nextLine()
    return textValues(s)
  }
  if (format !== 'binary_little_endian' && format !== 'binary_big_endian') throw damaged(`format "${format}"`, 'head')
  return byteValues(bytes, bytes[s.at] === 10 ? s.at + 1 : s.at, format === 'binary_little_endian')
}

/** What follows the head, element by element. */
class Body {
  readonly points = new Floats()
  readonly triangles = new Indices()
  private readonly knife = new Knife()
  private readonly passed: string[] = []
  private total = 0

  /** `size`: bytes of the file. */
  constructor(
    private readonly values: Values,
    private readonly size: number,
  ) {}

  notes(): string[] {
    return [...this.passed, ...this.knife.notes()]
  }

  read(element: Element): void {
    const { name, count, properties } = element
    if (count && !properties.length) throw damaged(`element ${name} has no properties`, 'head')
    if (count > this.size)
      throw damaged(`it promises ${count} of element ${name}, more than its ${this.size} bytes can hold`, 'head')
    if (name === 'vertex') this.readPoints(element)
    else {
      if (name !== 'face' && count) this.passed.push(`element "${name}" was passed over`)
      for (let row = 1; row <= count; row++) this.readRow(element, row)
    }
  }

  private readPoints({ count, properties }: Element): void {
    const { values, points } = this
    const axes = ['x', 'y', 'z'].map((a) => properties.findIndex((p) => p.name === a && p.count === undefined))
    if (axes.includes(-1)) throw damaged('its points have no x, y and z', 'head')
    const row = new Array<number>(properties.length)
    for (let v = 0; v < count; v++) {
      properties.forEach((p, i) => {
        if (p.count === undefined) row[i] = values.next(p.type)
        else for (let n = values.next(p.count); n > 0; n--) values.next(p.type)
      })
      points.push3(row[axes[0]], row[axes[1]], row[axes[2]])
    }
    this.total = count
  }

  private readRow({ name, properties }: Element, row: number): void {
    const { values } = this
    for (const p of properties) {
      if (p.count === undefined) {
        values.next(p.type)
        continue
      }
      const n = values.next(p.count)
      if (n < 0 || n > this.size) throw damaged(`a list of ${n}`, values.where())
      const ring: number[] = []
      for (let i = 0; i < n; i++) ring.push(values.next(p.type))
      if (name === 'face' && p.name.startsWith('vertex_ind')) this.addFace(ring, row)
    }
  }

  private addFace(ring: readonly number[], row: number): void {
    const { triangles, total } = this
    for (const v of ring)
      if (!Number.isInteger(v) || v < 0 || v >= total)
        throw damaged(`face ${row} asks for point ${v} of ${total}`, this.values.where())
    if (ring.length === 3) triangles.push3(ring[0], ring[1], ring[2])
    else if (ring.length > 3) {
      const q = this.points.data
      const cut = cutPolygon(
        this.knife,
        ring.map((v): Vec3 => [q[3 * v], q[3 * v + 1], q[3 * v + 2]]),
      )
      for (let i = 0; i < cut.length; i += 3) triangles.push3(ring[cut[i]], ring[cut[i + 1]], ring[cut[i + 2]])
    }
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
