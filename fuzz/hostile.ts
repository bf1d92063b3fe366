/** Small files made to take all memory or never to end. Each must be read or refused, soon and in little memory. */
import { strToU8 } from 'fflate'
import { threeMfModel, zipModel } from './samples'

const text = (s: string) => new TextEncoder().encode(s)
const times = (n: number, line: (i: number) => string) => Array.from({ length: n }, (_, i) => line(i)).join('\n')
const model = (inside: string) =>
  strToU8(
    `<?xml version="1.0"?><model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">${inside}</model>`,
  )

const binaryStl = (head: string, triangles: number) => {
  const out = new Uint8Array(84 + 50 * triangles)
  out.set(text(head).subarray(0, 80))
  const view = new DataView(out.buffer)
  view.setUint32(80, triangles, true)
  for (let t = 0; t < triangles; t++)
    for (let c = 0; c < 9; c++) view.setFloat32(84 + 50 * t + 12 + 4 * c, ((c * 7 + t) % 11) + (c % 3), true)
  return out
}

/** A package whose directory lists one entry again and again, all of them over the same bytes (a zip bomb without nesting: Fifield 2019). */
function overlapping(count: number): Uint8Array {
  const one = zipModel(new Uint8Array(4 << 20).fill(32))
  const view = new DataView(one.buffer, one.byteOffset)
  const end = one.length - 22
  const size = view.getUint32(end + 12, true),
    start = view.getUint32(end + 16, true)
  const directory = one.subarray(start, start + size)
  // The last record of the directory is the model's.
  let at = 0
  for (let next = 0; next < size;) {
    at = next
    const v = new DataView(directory.buffer, directory.byteOffset + next)
    next += 46 + v.getUint16(28, true) + v.getUint16(30, true) + v.getUint16(32, true)
  }
  const record = directory.slice(at)
  const records: Uint8Array[] = []
  for (let i = 0; i < count; i++) {
    const r = record.slice()
    const n = String(i).padStart(7, '0')
    r.set(text(n), 46 + '3D/'.length) // another name of the same length
    records.push(r)
  }
  const out = new Uint8Array(end + count * record.length + 22)
  out.set(one.subarray(0, end))
  let o = end
  for (const r of records) {
    out.set(r, o)
    o += r.length
  }
  out.set(one.subarray(end), o)
  const tail = new DataView(out.buffer, o)
  tail.setUint16(8, (count + 2) & 0xffff, true)
  tail.setUint16(10, (count + 2) & 0xffff, true)
  tail.setUint32(12, size + count * record.length, true)
  return out
}

export interface Hostile {
  readonly name: string
  readonly file: string
  bytes(): Uint8Array
  /** What must come of it: triangles, or words of the refusal. */
  readonly gives: number | RegExp
}

const ladder = (rungs: number) =>
  model(
    `<resources>${times(rungs, (i) =>
      i === 0
        ? '<object id="0"><mesh/></object>'
        : `<object id="${i}"><components><component objectid="${i - 1}"/><component objectid="${i - 1}"/></components></object>`,
    )}</resources><build><item objectid="${rungs - 1}"/></build>`,
  )

/** A grid of triangles as one object, placed again and again by rungs that each hold the one before `wide` times. */
const meshLadder = (triangles: number, rungs: number, wide: number) =>
  model(
    `<resources><object id="0"><mesh><vertices>${times(triangles + 2, (i) => `<vertex x="${i >> 1}" y="${i & 1}" z="0"/>`)}</vertices><triangles>${times(
      triangles,
      (i) => `<triangle v1="${i}" v2="${i + 1}" v3="${i + 2}"/>`,
    )}</triangles></mesh></object>${times(
      rungs,
      (i) =>
        `<object id="${i + 1}"><components>${times(wide, () => `<component objectid="${i}"/>`)}</components></object>`,
    )}</resources><build><item objectid="${rungs}"/></build>`,
  )

const cube = ['v 0 0 0', 'v 1 0 0', 'v 1 1 0', 'v 0 1 0', 'v 0 0 1', 'v 1 0 1', 'v 1 1 1', 'v 0 1 1'].join('\n')

export const hostile: readonly Hostile[] = [
  {
    name: 'OBJ with line ends of two characters',
    file: 'a.obj',
    bytes: () => text(`${times(24, () => '# x\r')}\r\n${cube}\r\nf 1 2 3\r\n`),
    gives: 1,
  },
  {
    name: 'OBJ after a run of empty lines',
    file: 'a.obj',
    bytes: () => text(`${'\n'.repeat(400)}${cube}\nf 1 2 3\n`),
    gives: 1,
  },
  {
    name: 'OBJ after a long run of blanks and ends',
    file: 'a.txt',
    bytes: () => text(`${' \r\n'.repeat(150)}x${'\n'.repeat(500)}`),
    gives: /none of/,
  },
  {
    name: 'binary STL with line ends in its heading',
    file: 'a.stl',
    bytes: () => binaryStl(`# made${'\n'.repeat(70)}`, 12),
    gives: 12,
  },
  {
    name: 'binary STL whose heading looks like OBJ',
    file: 'a.bin',
    bytes: () => binaryStl('v 1 2 3\nf 1 2 3\n', 12),
    gives: 12,
  },
  {
    name: 'OBJ of 100 000 groups',
    file: 'a.obj',
    bytes: () => text(`${cube}\n${times(100_000, (i) => `g ${i}\nf 1 2 3`)}`),
    gives: /more than 20.?000 groups/,
  },
  {
    name: 'OBJ of 19 000 groups and 60 000 points',
    file: 'a.obj',
    bytes: () =>
      text(
        `${times(60_000, (i) => `v ${i} 0 ${i % 7}`)}\n${times(19_000, (i) => `g ${i}\nf ${i + 1} ${i + 2} ${i + 9}`)}`,
      ),
    gives: 19_000,
  },
  {
    name: 'OBJ faces of 50 000 corners, zigzag',
    file: 'a.obj',
    bytes: () =>
      text(
        `${times(50_000, (i) => `v ${i} ${(i * 7919) % 1000} 0`)}\n${times(4, () => `f ${Array.from({ length: 50_000 }, (_, i) => i + 1).join(' ')}`)}`,
      ),
    gives: 199_992,
  },
  {
    name: 'OBJ face that repeats its points',
    file: 'a.obj',
    bytes: () => text(`${cube}\nf ${'1 2 3 4 '.repeat(8000)}`),
    gives: 31_998,
  },
  {
    name: 'OBJ with one word of a megabyte',
    file: 'a.obj',
    bytes: () => text(`v 1 2 3\n${'x'.repeat(1 << 20)}`),
    gives: /no OBJ word/,
  },
  {
    name: 'OFF that promises what its size cannot hold',
    file: 'a.off',
    bytes: () => text('OFF\n4000000000 4000000000 0\n0 0 0\n'),
    gives: /more than its/,
  },
  {
    name: 'OFF face that promises 9 000 corners',
    file: 'a.off',
    bytes: () => text(`OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n9000 0 1 2\n${'#'.repeat(9000)}`),
    gives: /9000 numbers|a face has/,
  },
  {
    name: 'PLY that promises four thousand million points',
    file: 'a.ply',
    bytes: () =>
      text(
        'ply\nformat binary_little_endian 1.0\nelement vertex 4000000000\nproperty float x\nproperty float y\nproperty float z\nend_header\n',
      ),
    gives: /more than its/,
  },
  {
    name: 'PLY list of four thousand million entries',
    file: 'a.ply',
    bytes: () =>
      text(
        'ply\nformat ascii 1.0\nelement vertex 1\nproperty list uint uint q\nproperty float x\nproperty float y\nproperty float z\nend_header\n4000000000 1 2 3\n',
      ),
    gives: /too early/,
  },
  {
    name: 'ASCII STL that ends its solid inside a facet',
    file: 'a.stl',
    bytes: () => text('solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nendsolid a\n'),
    gives: /inside a facet/,
  },
  {
    name: 'ASCII STL of 30 000 solids',
    file: 'a.stl',
    bytes: () => text(times(30_000, () => 'solid a\nendsolid a')),
    gives: 0,
  },
  {
    name: 'corners at no numbers',
    file: 'a.obj',
    bytes: () => text(`${cube}\nv nan inf 1e400\nf 1 2 3\nf 1 2 9\n`),
    gives: 1,
  },
  {
    name: '3MF of 60 000 empty objects',
    file: 'a.3mf',
    bytes: () =>
      zipModel(model(`<resources>${times(60_000, (i) => `<object id="${i}"><mesh/></object>`)}</resources>`)),
    gives: /more than 20.?000 objects/,
  },
  { name: '3MF component ladder', file: 'a.3mf', bytes: () => zipModel(ladder(31)), gives: /placed objects/ },
  {
    name: '3MF that places 2 000 triangles 30 000 times',
    file: 'a.3mf',
    bytes: () => zipModel(meshLadder(2000, 3, 31)),
    gives: /triangles, components placed again counted/,
  },
  {
    name: '3MF that places 400 triangles 46 000 times',
    file: 'a.3mf',
    bytes: () => zipModel(meshLadder(400, 3, 36)),
    gives: /triangles, components placed again counted/,
  },
  {
    name: '3MF element with 200 000 attributes',
    file: 'a.3mf',
    bytes: () => zipModel(model(`<resources><object id="0" ${times(200_000, (i) => `a${i}="" `)}/></resources>`)),
    gives: /no triangles|attributes/,
  },
  {
    name: '3MF with an attribute of 12 MB',
    file: 'a.3mf',
    bytes: () => zipModel(model(`<resources><object id="0" name="${' '.repeat(12 << 20)}"/></resources>`)),
    gives: /no triangles|attribute/,
  },
  {
    name: '3MF of 12 MB of one text',
    file: 'a.3mf',
    bytes: () => zipModel(model(`<metadata>${'a'.repeat(12 << 20)}</metadata>`)),
    gives: /no triangles|text/,
  },
  {
    name: '3MF of 8 MB of empty elements',
    file: 'a.3mf',
    bytes: () => zipModel(model('<b/>'.repeat(2 << 20))),
    gives: /no triangles/,
  },
  {
    name: '3MF with a comment of 12 MB',
    file: 'a.3mf',
    bytes: () => zipModel(model(`<!--${' '.repeat(12 << 20)}-->`)),
    gives: /no triangles|comment/,
  },
  {
    name: '3MF of 200 MB of blanks',
    file: 'a.3mf',
    bytes: () => zipModel(new Uint8Array(200 << 20).fill(32)),
    gives: /would unpack/,
  },
  {
    name: '3MF whose entries lie over one another',
    file: 'a.3mf',
    bytes: () => overlapping(400),
    gives: /would unpack/,
  },
  {
    name: '3MF with 70 000 relations',
    file: 'a.3mf',
    bytes: () =>
      zipModel(
        strToU8(threeMfModel),
        strToU8(`<Relationships>${'<Relationship Id="x" Target="y" Type="z"/>'.repeat(70_000)}</Relationships>`),
      ),
    gives: /more than 1.?000 relations/,
  },
  {
    name: '3MF with relations that never close',
    file: 'a.3mf',
    bytes: () => zipModel(strToU8(threeMfModel), strToU8('<Relationship '.repeat(70_000))),
    gives: /damaged/,
  },
  {
    name: '3MF 100 000 elements deep',
    file: 'a.3mf',
    bytes: () => zipModel(strToU8('<a>'.repeat(100_000))),
    gives: /deep/,
  },
  {
    name: '3MF with entities that multiply',
    file: 'a.3mf',
    bytes: () => zipModel(strToU8('<!DOCTYPE a [<!ENTITY b "cc"><!ENTITY d "&b;&b;">]><model>&d;</model>')),
    gives: /entities/,
  },
  {
    name: '3MF with an object named like a language part',
    file: 'a.3mf',
    bytes: () => zipModel(strToU8(threeMfModel.replace('a &amp; b', '__proto__'))),
    gives: 8,
  },
  {
    name: 'a body file whose head lies',
    file: 'a.body',
    bytes: () => text(`GBB1${'\u00ff'.repeat(300)}`),
    gives: /.*/,
  },
]
