/** One self-describing byte form for every body: magic, JSON head, typed arrays aligned to 8 bytes. Little-endian throughout. */
import type { Body, SolidFacts } from './body'
import { StepError } from '@/core/base/step-error'

/** The bytes "GBB1". */
const magic = 0x31424247
const formatName = 'glue-bench/body'

type ArrayKind = 'f32' | 'u32' | 'u8'
interface Slot {
  name: string
  kind: ArrayKind
  length: number
  offset: number
}
interface Head {
  format: string
  version: number
  kind: Body['kind']
  names?: readonly string[]
  facts?: SolidFacts
  tolerance?: number
  arrays: Slot[]
}

const align = (n: number) => (n + 7) & ~7

/** Bytes of a body; the same body always gives the same bytes. */
export function encodeBody(body: Body): Uint8Array {
  const parts: { name: string; data: Float32Array | Uint32Array | Uint8Array }[] = []
  const head: Head = { format: formatName, version: 1, kind: body.kind, arrays: [] }
  if (body.kind === 'mesh') {
    parts.push({ name: 'positions', data: body.mesh.positions }, { name: 'triangles', data: body.mesh.triangles })
    if (body.tags) {
      head.names = body.tags.names
      parts.push({ name: 'source', data: body.tags.source }, { name: 'face', data: body.tags.face })
    }
  } else {
    head.facts = body.facts
    head.tolerance = body.tolerance
    const { positions, normals, triangles, face, lines } = body.display
    parts.push(
      { name: 'positions', data: positions },
      { name: 'normals', data: normals },
      { name: 'triangles', data: triangles },
      { name: 'face', data: face },
      { name: 'lines', data: lines },
      { name: 'brep', data: new TextEncoder().encode(body.brep) },
    )
  }
  let offset = 0
  for (const { name, data } of parts) {
    const kind: ArrayKind = data instanceof Float32Array ? 'f32' : data instanceof Uint32Array ? 'u32' : 'u8'
    head.arrays.push({ name, kind, length: data.length, offset })
    offset = align(offset + data.byteLength)
  }
  const text = new TextEncoder().encode(JSON.stringify(head))
  const base = align(8 + text.length)
  const out = new Uint8Array(base + offset)
  new DataView(out.buffer).setUint32(0, magic, true)
  new DataView(out.buffer).setUint32(4, text.length, true)
  out.set(text, 8)
  parts.forEach(({ data }, i) =>
    out.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), base + head.arrays[i].offset),
  )
  return out
}

/** The body back from its bytes. Throws StepError `bad-body` when the bytes are not a body. */
export function decodeBody(bytes: Uint8Array): Body {
  const bad = (why: string) => new StepError('bad-body', `These bytes are not a Glue Bench body: ${why}.`)
  if (bytes.byteLength < 16) throw bad('too short')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (view.getUint32(0, true) !== magic) throw bad('wrong opening bytes')
  const headLength = view.getUint32(4, true)
  if (headLength > bytes.byteLength - 8) throw bad('the head is cut off')
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(8, 8 + headLength))) as Head
  if (head.format !== formatName || head.version !== 1) throw bad('unknown version')
  const base = align(8 + headLength)
  const arrays = new Map<string, Float32Array | Uint32Array | Uint8Array>()
  for (const slot of head.arrays) {
    const width = slot.kind === 'u8' ? 1 : 4
    const from = bytes.byteOffset + base + slot.offset
    if (base + slot.offset + slot.length * width > bytes.byteLength) throw bad(`${slot.name} is cut off`)
    // A view needs an aligned start; a copy serves when the caller's buffer is not aligned.
    const aligned =
      from % 4 === 0 ? bytes.buffer : bytes.slice(base + slot.offset, base + slot.offset + slot.length * width).buffer
    const start = from % 4 === 0 ? from : 0
    arrays.set(
      slot.name,
      slot.kind === 'f32'
        ? new Float32Array(aligned, start, slot.length)
        : slot.kind === 'u32'
          ? new Uint32Array(aligned, start, slot.length)
          : new Uint8Array(aligned, start, slot.length),
    )
  }
  const f32 = (name: string) => {
    const a = arrays.get(name)
    if (!(a instanceof Float32Array)) throw bad(`${name} is missing`)
    return a
  }
  const u32 = (name: string) => {
    const a = arrays.get(name)
    if (!(a instanceof Uint32Array)) throw bad(`${name} is missing`)
    return a
  }
  if (head.kind === 'mesh') {
    const mesh = { positions: f32('positions'), triangles: u32('triangles') }
    return head.names
      ? { kind: 'mesh', mesh, tags: { names: head.names, source: u32('source'), face: u32('face') } }
      : { kind: 'mesh', mesh }
  }
  const brep = arrays.get('brep')
  if (!(brep instanceof Uint8Array) || !head.facts) throw bad('the exact shape is missing')
  return {
    kind: head.kind,
    brep: new TextDecoder().decode(brep),
    facts: head.facts,
    tolerance: head.tolerance ?? 0,
    display: {
      positions: f32('positions'),
      normals: f32('normals'),
      triangles: u32('triangles'),
      face: u32('face'),
      lines: f32('lines'),
    },
  }
}
