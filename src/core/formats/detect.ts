/** Which format some bytes are in, told by their content in one pass over the opening; the name's ending only decides where that leaves a doubt. */
import type { FormatName } from './model'

/** How much of a file is looked at, bytes. */
const reach = 4096

const isSpace = (c: number) => c === 32 || (c >= 9 && c <= 13)
const isEnd = (c: number | undefined) => c === undefined || isSpace(c)

/** Words that open a line of OBJ; the first list says so beyond doubt. */
const objSure = new Set(['v', 'vn', 'vt', 'o', 'g', 'mtllib'])
const objAlso = new Set(['vp', 'f', 's', 'usemtl', 'l', 'p'])

/** Words at the line beginnings of a text, comments left out; ends at the first byte that is no text. */
function* lineWords(bytes: Uint8Array): Generator<string> {
  const end = Math.min(bytes.length, reach)
  for (let i = 0; i < end; i++) {
    while (i < end && isSpace(bytes[i])) i++
    const from = i
    while (i < end && !isSpace(bytes[i])) {
      if (bytes[i] === 0 || bytes[i] > 126) return
      i++
    }
    if (i > from && bytes[from] !== 35) yield String.fromCharCode(...bytes.subarray(from, Math.min(i, from + 24)))
    while (i < end && bytes[i] !== 10) i++
  }
}

const endings = new Map<string, FormatName>(
  Object.entries({
    stl: 'stl',
    obj: 'obj',
    ply: 'ply',
    off: 'off',
    '3mf': '3mf',
    stp: 'step',
    step: 'step',
    dxf: 'dxf',
    svg: 'svg',
  } as const),
)

/** The format of a file, or null. Takes time in proportion to a fixed opening, whatever the bytes are. */
export function detectFormat(bytes: Uint8Array, name: string): FormatName | null {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4) return '3mf'
  if (bytes[0] === 0x70 && bytes[1] === 0x6c && bytes[2] === 0x79 && isEnd(bytes[3])) return 'ply'
  // A binary STL says by its length what it is, whatever its 80 bytes of heading look like.
  if (bytes.length >= 84) {
    const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true)
    if (count && bytes.length === 84 + 50 * count) return 'stl'
  }
  const opening = new TextDecoder('latin1').decode(bytes.subarray(0, reach))
  if (/^[ -~]{0,14}Binary DXF/.test(opening) || /^\s*(999\r?\n[^\n]*\n\s*)*0\s*\r?\n\s*SECTION\s/.test(opening))
    return 'dxf'
  if (/<svg[\s>]/.test(opening) && /^\s*(\uFEFF|ï»¿)?\s*</.test(opening)) return 'svg'
  let first = true
  for (const word of lineWords(bytes)) {
    if (first) {
      if (/^(ST)?C?N?OFF$/.test(word)) return 'off'
      if (word.startsWith('ISO-10303-21')) return 'step'
      if (/^solid$/i.test(word)) return 'stl'
      first = false
    }
    if (objSure.has(word)) return 'obj'
    if (!objAlso.has(word)) break
  }
  const dot = name.lastIndexOf('.')
  return (dot >= 0 && endings.get(name.slice(dot + 1).toLowerCase())) || null
}
