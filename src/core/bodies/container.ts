/**
 * One self-describing byte form for every body: magic, JSON head, typed arrays aligned to 8 bytes, little-endian throughout. What a kind
 * puts into head and arrays is its own affair (`core/kinds`).
 */
import { z } from 'zod'
import { StepError } from '@/core/base/step-error'

/** The bytes "GBB1". */
const magic = 0x31424247
const formatName = 'glue-bench/body'

export type PackedArray = Float32Array | Uint32Array | Uint8Array | Float64Array
const widths = { f32: 4, u32: 4, u8: 1, f64: 8 } as const
type ArrayKind = keyof typeof widths

const headSchema = z.looseObject({
  format: z.literal(formatName),
  version: z.literal(1),
  kind: z.string().min(1).max(60),
  /** Version of the kind; 1 is not written. */
  kindVersion: z.number().int().min(1).optional(),
  arrays: z.array(
    z.object({
      name: z.string().max(60),
      kind: z.enum(['f32', 'u32', 'u8', 'f64']),
      length: z.number().int().min(0),
      offset: z.number().int().min(0),
    }),
  ),
})

/** A body as its kind packs it. */
export interface Packed {
  readonly kind: string
  readonly version: number
  /** JSON of the kind's own, kept in the head. */
  readonly head: Readonly<Record<string, unknown>>
  readonly arrays: readonly { readonly name: string; readonly data: PackedArray }[]
}

/** A packed body read back; asking for what is not there throws `bad-body`. */
export interface Unpacked {
  readonly kind: string
  readonly version: number
  readonly head: Readonly<Record<string, unknown>>
  has(name: string): boolean
  f32(name: string): Float32Array
  u32(name: string): Uint32Array
  u8(name: string): Uint8Array
  f64(name: string): Float64Array
}

const align = (n: number) => (n + 7) & ~7
export const badBody = (why: string): StepError =>
  new StepError('bad-body', `These bytes are not a Glue Bench body: ${why}.`)

const kindOfArray = (data: PackedArray): ArrayKind =>
  data instanceof Float32Array
    ? 'f32'
    : data instanceof Uint32Array
      ? 'u32'
      : data instanceof Float64Array
        ? 'f64'
        : 'u8'

/** Bytes of a packed body; the same body always gives the same bytes. */
export function packBytes({ kind, version, head, arrays }: Packed): Uint8Array {
  let offset = 0
  const slots = arrays.map(({ name, data }) => {
    const slot = { name, kind: kindOfArray(data), length: data.length, offset }
    offset = align(offset + data.byteLength)
    return slot
  })
  const whole = {
    format: formatName,
    version: 1,
    kind,
    arrays: slots,
    ...head,
    ...(version > 1 ? { kindVersion: version } : {}),
  }
  const text = new TextEncoder().encode(JSON.stringify(whole))
  const base = align(8 + text.length)
  const out = new Uint8Array(base + offset)
  new DataView(out.buffer).setUint32(0, magic, true)
  new DataView(out.buffer).setUint32(4, text.length, true)
  out.set(text, 8)
  arrays.forEach(({ data }, i) =>
    out.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), base + slots[i].offset),
  )
  return out
}

/** Head and arrays back from bytes; arrays are views where the bytes lie aligned. Throws StepError `bad-body` when the bytes are no body. */
export function unpackBytes(bytes: Uint8Array): Unpacked {
  if (bytes.byteLength < 16) throw badBody('too short')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (view.getUint32(0, true) !== magic) throw badBody('wrong opening bytes')
  const headLength = view.getUint32(4, true)
  if (headLength > bytes.byteLength - 8) throw badBody('the head is cut off')
  let json: unknown
  try {
    json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(8, 8 + headLength)))
  } catch {
    throw badBody('the head is damaged')
  }
  const parsed = headSchema.safeParse(json)
  if (!parsed.success) throw badBody('the head is damaged')
  const head = parsed.data
  const base = align(8 + headLength)
  const arrays = new Map<string, PackedArray>()
  for (const slot of head.arrays) {
    const width = widths[slot.kind]
    const start = base + slot.offset
    if (slot.offset % width || start + slot.length * width > bytes.byteLength) throw badBody(`${slot.name} is cut off`)
    const from = bytes.byteOffset + start
    // A view needs an aligned start; a copy serves when the caller's buffer is not aligned.
    const aligned = from % width === 0
    const buffer = aligned ? bytes.buffer : bytes.slice(start, start + slot.length * width).buffer
    const make = { f32: Float32Array, u32: Uint32Array, u8: Uint8Array, f64: Float64Array }[slot.kind]
    arrays.set(slot.name, new make(buffer as ArrayBuffer, aligned ? from : 0, slot.length))
  }
  const get =
    <T extends PackedArray>(type: new (n: number) => T) =>
    (name: string): T => {
      const a = arrays.get(name)
      if (!(a instanceof type)) throw badBody(`${name} is missing`)
      return a
    }
  return {
    kind: head.kind,
    version: head.kindVersion ?? 1,
    head,
    has: (name) => arrays.has(name),
    f32: get(Float32Array),
    u32: get(Uint32Array),
    u8: get(Uint8Array),
    f64: get(Float64Array),
  }
}
