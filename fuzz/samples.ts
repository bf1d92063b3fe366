/** Whole, honest files of every format the bench reads, to be damaged. */
import { strToU8, zipSync } from 'fflate'
import { encodeBody } from '@/core/kinds/registry'
import { meshBody } from '@/core/bodies/body'
import { writeStlAscii } from '@/core/formats/stl'
import { writeFile } from '@/core/formats/write'
import { makeCylinder } from '@/core/kernels/exact/primitives'
import { writeStep } from '@/core/kernels/exact/step-file'
import { plateMesh } from '@/core/scan/shapes'

export const formats = [
  'stl',
  'stl-text',
  'obj',
  'ply',
  'ply-text',
  'off',
  '3mf',
  'step',
  'dxf',
  'svg',
  'body',
  'recipe',
] as const
export type Format = (typeof formats)[number]

const text = (lines: string[]) => new TextEncoder().encode(`${lines.join('\n')}\n`)

/** OBJ with what honest exporters write: comments, materials, groups, quads, negative numbers, line ends of both kinds. */
const obj = () =>
  text(
    [
      '# exported',
      'mtllib a.mtl',
      'o lid',
      ...['0 0 0', '10 0 0', '10 10 0', '0 10 0', '0 0 5', '10 0 5', '10 10 5', '0 10 5'].map((p) => `v ${p}`),
      'vn 0 0 1',
      'usemtl steel',
      'g under',
      'f 4//1 3//1 2//1 1//1',
      'g walls',
      's 1',
      'f 1 2 6 5',
      'f -7 -6 -2 -3',
      'f 3 4 8 7',
      'f 4 1 5 8',
      'g top',
      'f 5 6 7 8',
      'l 1 2 3',
    ].map((l, i) => (i % 2 ? `${l}\r` : l)),
  )

const plyText = () =>
  text([
    ...['ply', 'format ascii 1.0', 'comment made', 'element vertex 4', 'property float x', 'property float y'],
    ...[
      'property float z',
      'property uchar red',
      'element face 4',
      'property list uchar int vertex_indices',
      'end_header',
    ],
    ...['0 0 0 200', '9 0 0 1', '0 9 0 0', '0 0 9 7', '3 0 2 1', '3 0 1 3', '3 1 2 3', '3 2 0 3'],
  ])

/** 3MF with components, transforms, a second model part and a prefix. */
export const threeMfModel = `<?xml version="1.0" encoding="UTF-8"?>
<m:model unit="inch" xmlns:m="http://schemas.microsoft.com/3dmanufacturing/core/2015/02" xmlns:p="http://schemas.microsoft.com/3dmanufacturing/production/2015/06">
<m:resources><m:object id="1" type="model" name="a &amp; b"><m:mesh><m:vertices>
<m:vertex x="0" y="0" z="0"/><m:vertex x="10" y="0" z="0"/><m:vertex x="0" y="10" z="0"/><m:vertex x="0" y="0" z="10"/>
</m:vertices><m:triangles><m:triangle v1="0" v2="2" v3="1"/><m:triangle v1="0" v2="1" v3="3"/><m:triangle v1="1" v2="2" v3="3"/><m:triangle v1="2" v2="0" v3="3"/></m:triangles></m:mesh></m:object>
<m:object id="2"><m:components><m:component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 6 7"/><m:component objectid="1"/></m:components></m:object></m:resources>
<m:build><m:item objectid="2" transform="2 0 0 0 2 0 0 0 2 0 0 0"/></m:build></m:model>
`
const rels = `<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="r" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>`

export const zipModel = (model: Uint8Array, relations: Uint8Array = strToU8(rels)): Uint8Array =>
  zipSync({ '_rels/.rels': relations, '3D/3dmodel.model': model }, { mtime: new Date(1980, 0, 1) })

const recipe = JSON.stringify(
  {
    format: 'glue-bench/recipe',
    version: 1,
    title: 'sample',
    steps: [
      { id: 's1', kind: 'build/block', set: { name: 'b', size: [10, 20, 30] } },
      { id: 's2', kind: 'build/cylinder', set: { name: 'c', radius: 3, height: 40, at: [0, 0, -5] } },
      { id: 's3', kind: 'build/difference', set: { from: 'b', take: ['c'] } },
      { id: 's4', kind: 'send-out/file', set: { bodies: ['b'], file: 'b.stl' }, off: true },
    ],
  },
  null,
  1,
)

/** DXF with a block placed in rows, a bulged polyline, an arc, an ellipse and a spline. */
export const dxfSample = [
  ...['0', 'SECTION', '2', 'HEADER', '9', '$INSUNITS', '70', '1', '0', 'ENDSEC'],
  ...['0', 'SECTION', '2', 'BLOCKS', '0', 'BLOCK', '2', 'bore', '10', '0', '20', '0', '30', '0'],
  ...['0', 'CIRCLE', '8', '0', '10', '0', '20', '0', '40', '0.1', '0', 'ENDBLK', '0', 'ENDSEC'],
  ...['0', 'SECTION', '2', 'ENTITIES'],
  ...[
    '0',
    'INSERT',
    '8',
    'bores',
    '2',
    'bore',
    '10',
    '10',
    '20',
    '1',
    '41',
    '2',
    '42',
    '2',
    '70',
    '3',
    '71',
    '2',
    '44',
    '0.5',
    '45',
    '0.5',
  ],
  ...[
    '0',
    'LWPOLYLINE',
    '8',
    'plate',
    '90',
    '3',
    '70',
    '1',
    '10',
    '0',
    '20',
    '0',
    '42',
    '1',
    '10',
    '2',
    '20',
    '0',
    '10',
    '2',
    '20',
    '3',
  ],
  ...['0', 'ARC', '8', 'plate', '10', '5', '20', '5', '40', '1', '50', '350', '51', '100'],
  ...['0', 'ELLIPSE', '8', 'plate', '10', '9', '20', '9', '11', '2', '21', '1', '40', '0.5', '41', '0', '42', '3'],
  ...['0', 'SPLINE', '8', 'curve', '70', '8', '71', '3', '72', '8', '73', '4'],
  ...['40', '0', '40', '0', '40', '0', '40', '0', '40', '1', '40', '1', '40', '1', '40', '1'],
  ...['10', '0', '20', '20', '10', '1', '20', '22', '10', '3', '20', '22', '10', '4', '20', '20'],
  ...['0', 'LINE', '8', 'plate', '10', '20', '20', '0', '11', '27', '21', '1'],
  ...['0', 'MTEXT', '8', 'notes', '1', 'drill'],
  ...['0', 'ENDSEC', '0', 'EOF'],
]

/** SVG with transforms, arcs, Bézier curves, uses, a script and a link. */
export const svgSample = `<?xml version="1.0"?>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100mm" height="50mm" viewBox="0 0 200 100">
<script>alert(1)</script><defs><circle id="bore" r="4"/></defs>
<g id="plate" transform="translate(20,10) rotate(90) skewX(5)"><rect x="0" y="-40" width="20" height="40" rx="5"/></g>
<use xlink:href="#bore" x="30" y="30"/><use xlink:href="http://example.invalid/x.svg#a"/>
<path d="M150 20 a20 10 30 1 1 0.1 0 z m10 5 h5 v5 l-5 1 q 3 3 6 0 t 6 0 S 9 9 3 3 Z"/>
<polygon points="1,2 3,4 5 9"/><ellipse cx="50" cy="60" rx="7" ry="3"/><text>hi</text>
</svg>`

/** One honest file of a format. For 3MF the model inside it: it is zipped after it was damaged, and at times once more. */
export async function sampleOf(format: Format): Promise<Uint8Array> {
  const parts = [{ name: 'plate', mesh: plateMesh(12, 8, 3, 1, 2) }]
  switch (format) {
    case 'stl':
    case 'ply':
    case 'off':
      return writeFile(format, parts)
    case 'stl-text':
      return writeStlAscii(parts[0].mesh, 'plate')
    case 'obj':
      return obj()
    case 'ply-text':
      return plyText()
    case '3mf':
      return strToU8(threeMfModel)
    case 'step':
      return (await writeStep([{ name: 'pin', body: await makeCylinder(3, 8, [0, 0, 0], [0, 0, 1]) }])).bytes
    case 'dxf':
      return text(dxfSample)
    case 'svg':
      return strToU8(svgSample)
    case 'body':
      return encodeBody(meshBody(parts[0].mesh))
    case 'recipe':
      return new TextEncoder().encode(recipe)
  }
}
