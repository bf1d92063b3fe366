/** What files are read as, whole and damaged, and what is written, kept as figures: any change to formats shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import type { Drawing } from '@/core/outline/drawing'
import { digest, outcome } from '@/testing/digest'
import { part } from '@/testing/parts'
import { quadBlock } from '@/testing/quad-shapes'
import { trianglesOfQuads } from '@/core/mesh/quad-mesh'
import { box, shifted } from '@/testing/shapes'
import { writeDxf12, writeDxf2000 } from './dxf'
import type { FilePart } from './model'
import { cutPolygon, Knife } from './polygon'
import { readMeshFile } from './read'
import { readDxf } from './reading-dxf/read-dxf'
import { readSvg } from './reading-svg/read-svg'
import { writeObj } from './obj'
import { writeOff } from './off'
import { writePly } from './ply'
import { formatByEnding, formatOf } from './registry'
import { writeStlAscii, writeStlBinary } from './stl'
import { writeSvg } from './svg'
import { writeThreeMf } from './three-mf'

const text = (s: string) => new TextEncoder().encode(s)
const net = quadBlock([4, 5, 6], [0, 0, 0], 2)
const meshes: FilePart[] = [
  { name: 'a box', mesh: box(3, 4, 5, 1), colour: '#b06c54' },
  { name: 'net', mesh: shifted(trianglesOfQuads(net), 9, 0, 0), quads: net.quads },
]
const drawing: Drawing = {
  points: [
    [0, 0],
    [10, 0],
    [10, 8],
    [0, 8],
    [5, 4],
    [7, 4],
    [3, 6],
  ],
  curves: [
    { kind: 'line', from: 0, to: 1 },
    { kind: 'line', from: 1, to: 2, construction: true },
    { kind: 'arc', centre: 4, from: 5, to: 6, ccw: true },
    { kind: 'arc', centre: 4, from: 5, to: 6, ccw: false },
    { kind: 'circle', centre: 4, radius: 1.5 },
    { kind: 'ellipse', centre: 4, long: 3, short: 1, turn: 30 },
    { kind: 'spline', through: [0, 4, 2, 3] },
    { kind: 'spline', control: [0, 6, 5, 2, 1], closed: true },
  ],
}
const flat = [
  {
    name: 'plate: 1',
    drawing,
    rows: [
      {
        places: [
          [0, 0],
          [1, 2],
          [3, 1],
        ] as [number, number][],
        closed: true,
      },
    ],
  },
]

const svgOf = (body: string) =>
  text(
    `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="60mm" viewBox="0 0 80 60">${body}</svg>`,
  )
/** Ways that files are written elsewhere. */
const foreign: Record<string, Uint8Array> = {
  'a.obj': text(
    '# c\no one\nv 0 0 0 1 0 0\nv 4 0 0\nv 4 3 0\nv 0 3 1\nv 2 1 5\nvt 0 0\nvn 0 0 1\nf 1/1/1 2/1/1 3//1 4\nf -5 -4 -1\ng two\nusemtl red\nf 2 3 5\nf 3 4 5 \\\n 1\nl 1 2\n',
  ),
  'b.ply': text(
    'ply\nformat ascii 1.0\ncomment x\nelement vertex 5\nproperty float x\nproperty float y\nproperty double z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nelement face 3\nproperty list uchar int vertex_indices\nend_header\n0 0 0 255 0 0\n4 0 0 0 255 0\n4 3 0 0 0 255\n0 3 1 9 9 9\n2 1 5 1 2 3\n4 0 1 2 3\n3 0 1 4\n3 1 2 4\n',
  ),
  'c.off': text('OFF # c\n5 3 0\n0 0 0\n4 0 0\n4 3 0\n0 3 1\n2 1 5\n4 0 1 2 3\n3 0 1 4 255 0 0\n3 1 2 4\n'),
  'd.stl': text(
    'solid x\nfacet normal 0 0 1\n outer loop\n vertex 0 0 0\n vertex 1e1 0 0\n vertex 0 .5e+1 0\n endloop\nendfacet\nendsolid x\nsolid y\nfacet normal 0 0 1\nouter loop\nvertex 0 0 1\nvertex 1 0 1\nvertex 0 1 1\nendloop\nendfacet\nendsolid',
  ),
  'e.svg': svgOf(
    '<g transform="translate(5 3) rotate(20)"><path d="M0 0 h10 v5 q3 2 5 0 t4 1 c1 2 3 4 5 0 s2 -3 4 0 a4 2 10 1 0 6 3 z m2 2 l3 0 0 3z"/><rect x="1" y="2" width="9" height="6" rx="2"/></g><circle cx="20" cy="20" r="5"/><ellipse cx="30" cy="9" rx="4" ry="2" transform="scale(1 2)"/><polyline points="0,0 5,5 9,1"/><polygon points="0 0 5 5 9 1"/><line x1="1" y1="1" x2="7" y2="3" style="display:none"/>',
  ),
  'f.svg': text(
    '<svg xmlns="http://www.w3.org/2000/svg" width="10in"><defs><path id="p" d="M0,0L3,4"/></defs><use href="#p" x="5"/><text>no</text><path d="M1 1A5 5 0 0 1 11 1A5 5 0 0 1 1 1Z"/></svg>',
  ),
}
const made: Record<string, () => Uint8Array> = {
  'w.stl': () => writeStlBinary(meshes[0].mesh),
  'w text.stl': () => writeStlAscii(meshes[0].mesh, 'a box'),
  'w.obj': () => writeObj(meshes),
  'w.ply': () => writePly(meshes),
  'w.off': () => writeOff(meshes),
  'w.3mf': () => writeThreeMf(meshes, 'two'),
  'w12.dxf': () => writeDxf12(flat, 0.05),
  'w2000.dxf': () => writeDxf2000(flat),
  'w.svg': () => writeSvg(flat),
  ...Object.fromEntries(Object.entries(foreign).map(([n, b]) => [n, () => b])),
}
const read = (bytes: Uint8Array, name: string): unknown =>
  outcome(() =>
    name.endsWith('.dxf') ? readDxf(bytes) : name.endsWith('.svg') ? readSvg(bytes) : readMeshFile(bytes, name),
  )

/** Bytes changed, left out, doubled or cut off, by chance. */
function damaged(bytes: Uint8Array, seed: number): Uint8Array {
  const { next } = random(seed)
  let out = Array.from(bytes)
  for (let k = 0; k < 1 + Math.floor(3 * next()); k++) {
    const at = Math.floor(next() * out.length)
    const how = Math.floor(next() * 4)
    if (how === 0) out[at] = Math.floor(next() * 256)
    else if (how === 1) out.splice(at, 1 + Math.floor(6 * next()))
    else if (how === 2) out.splice(at, 0, ...out.slice(Math.max(0, at - 5), at))
    else out = out.slice(0, Math.max(4, at))
  }
  return Uint8Array.from(out)
}

describe.each(Object.keys(made))('%s', (name) => {
  it('read whole and damaged', () => {
    const bytes = made[name]()
    expect(formatByEnding(name)).not.toBeNull()
    const rounds = name.endsWith('.3mf') ? 12 : 60
    expect(
      digest([
        bytes.length,
        name.endsWith('.3mf') ? 0 : bytes,
        formatOf(bytes, name)?.title,
        formatOf(bytes, 'no ending')?.title,
        read(bytes, name),
        Array.from({ length: rounds }, (_, i) => read(damaged(bytes, i + 1), name)),
      ]),
    ).toMatchSnapshot()
  })
})

it('faces of many corners are cut into triangles', async () => {
  const star = Array.from({ length: 14 }, (_, i): [number, number, number] => {
    const r = i % 2 ? 2 : 6
    return [r * Math.cos((Math.PI * i) / 7), r * Math.sin((Math.PI * i) / 7), 0.1 * i]
  })
  const flatStar = star.map(([x, y]): [number, number, number] => [x, y, 3])
  const cut = [star, flatStar, flatStar.slice(0, 4), [...flatStar].reverse()].map((p) => cutPolygon(new Knife(), p))
  expect(cut[1]).toHaveLength(3 * 12)
  expect(digest([cut, (await part('ball')).triangles.length])).toMatchSnapshot()
})
