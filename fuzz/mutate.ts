/** Damages a file with an eye for how it is built: numbers, words and lines of texts, counts and floats of bytes. */
import type { Random } from '@/core/math/random'

const pick = <T>(rng: Random, list: readonly T[]): T => list[Math.floor(rng.next() * list.length)]
const below = (rng: Random, n: number) => Math.floor(rng.next() * n)

/** Numbers that readers trip over. */
const numbers = [
  ...[
    '0',
    '-0',
    '1',
    '-1',
    '2',
    '255',
    '256',
    '65536',
    '2147483647',
    '2147483648',
    '-2147483648',
    '4294967295',
    '4294967296',
  ],
  ...[
    '1e9',
    '1e38',
    '-3.5e38',
    '1e308',
    '1e400',
    '1e-400',
    'nan',
    'inf',
    '-Infinity',
    '0x10',
    '1,5',
    '1.2.3',
    '',
    '9'.repeat(60),
  ],
]
const words = [
  ...[
    '#',
    '*',
    '$',
    '/',
    '\\',
    "'",
    '"',
    '(',
    ')',
    ';',
    '<',
    '>',
    '<!--',
    ']]>',
    '&amp;',
    '&x;',
    '=',
    '\0',
    '\r',
    '\n\n',
    '\u00ff',
  ],
  ...[
    'solid',
    'endsolid',
    'facet',
    'endfacet',
    'vertex',
    'v',
    'f',
    'f 1 1 1',
    'f 1 2 3 4 5 6 7 8',
    'g',
    'o',
    'end_header',
    'OFF',
  ],
  ...[
    'element face 99999',
    'property list int int vertex_indices',
    'ENDSEC;',
    '__proto__',
    'constructor',
    '../../x',
    '#1',
    '#99999',
  ],
]

function mutateText(text: string, rng: Random): string {
  const kind = below(rng, 9)
  if (kind <= 2) {
    // One number becomes another.
    const all = [...text.matchAll(/-?\d+(\.\d+)?([eE][-+]?\d+)?/g)]
    if (!all.length) return text
    const m = pick(rng, all)
    return text.slice(0, m.index) + pick(rng, numbers) + text.slice(m.index + m[0].length)
  }
  if (kind === 3) {
    const at = below(rng, text.length + 1)
    return text.slice(0, at) + pick(rng, words) + text.slice(at)
  }
  const separator = text.includes('\n') ? '\n' : (/[;>]/.exec(text)?.[0] ?? ' ')
  const lines = text.split(separator)
  const i = below(rng, lines.length),
    j = below(rng, lines.length)
  if (kind === 4) lines.splice(i, 1)
  else if (kind === 5) lines.splice(i, 0, lines[j])
  else if (kind === 6) [lines[i], lines[j]] = [lines[j], lines[i]]
  else if (kind === 7) lines.splice(i, 1, ...new Array<string>(1 + below(rng, 40)).fill(lines[i]))
  else {
    // A word of one line goes into another.
    const from = lines[j].split(/\s+/),
      to = lines[i].split(' ')
    to[below(rng, to.length)] = pick(rng, from)
    lines[i] = to.join(' ')
  }
  return lines.join(separator)
}

function mutateBytes(bytes: Uint8Array, rng: Random): Uint8Array {
  const out = bytes.slice()
  if (!out.length) return out
  const at = below(rng, out.length)
  const view = new DataView(out.buffer, out.byteOffset)
  switch (below(rng, 6)) {
    case 0:
      out[at] = below(rng, 256)
      return out
    case 1:
      out[at] ^= 1 << below(rng, 8)
      return out
    case 2:
      if (at + 4 <= out.length) view.setUint32(at, pick(rng, [0, 1, 0x7fffffff, 0xffffffff, out.length, 1e6]), true)
      return out
    case 3:
      if (at + 4 <= out.length) view.setFloat32(at, pick(rng, [NaN, Infinity, -Infinity, 3e38, 1e-45, 0]), true)
      return out
    case 4:
      return out.slice(0, at)
    default: {
      const length = below(rng, Math.min(64, out.length - at)) + 1
      const to = below(rng, out.length)
      const part = out.slice(at, at + length)
      const longer = new Uint8Array(out.length + part.length)
      longer.set(out.subarray(0, to))
      longer.set(part, to)
      longer.set(out.subarray(to), to + part.length)
      return longer
    }
  }
}

/** A few changes in a row. `text`: the file is a text, mostly damaged as one. */
export function mutate(bytes: Uint8Array, text: boolean, rng: Random): Uint8Array {
  let out = bytes
  for (let n = 1 + below(rng, 4); n > 0; n--)
    out =
      text && rng.next() < 0.85
        ? Uint8Array.from(Buffer.from(mutateText(Buffer.from(out).toString('latin1'), rng), 'latin1'))
        : mutateBytes(out, rng)
  return out
}
