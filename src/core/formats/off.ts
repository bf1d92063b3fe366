/** OFF (Geomview manual, section 4.2.5): header, counts, points, faces of any number of corners. */
import { certainty, defineFormat } from './format'
import type { Vec3 } from '@/core/math/vec'
import { damaged, type FileModel, type FilePart } from './model'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { cutPolygon, Knife } from './polygon'
import { short } from './stl'
import { Floats, Indices, TextScanner } from './text-scanner'

function nextItem(s: TextScanner): boolean {
  while (s.wordAnywhere()) {
    if (s.bytes[s.at] !== 35) return true
    s.rest()
  }
  return false
}

/** Reads OFF with any of its optional vertex data. Throws StepError `damaged-file` with the line. */
export function readOff(bytes: Uint8Array): FileModel {
  const s = new TextScanner(bytes)
  if (!nextItem(s)) throw damaged('it is empty', 'line 1')
  const head = s.text()
  if (!/^(ST)?(C)?(N)?OFF$/.test(head)) throw damaged('it does not open with OFF', 'line 1')
  const count = (what: string): number => {
    if (!nextItem(s)) throw damaged(`the number of ${what} is missing`, `line ${s.line}`)
    const v = s.number()
    if (!Number.isInteger(v) || v < 0) throw damaged(`${v} ${what}`, `line ${s.line}`)
    return v
  }
  const vertices = count('points'),
    faces = count('faces')
  if (s.word()) s.number()
  // Every point needs at least six bytes and every face eight, so a wild count cannot ask for more memory than the file's size.
  if (vertices * 6 > bytes.length + 6 || faces * 4 > bytes.length + 8)
    throw damaged(
      `it promises ${vertices} points and ${faces} faces, more than its ${bytes.length} bytes can hold`,
      'line 2',
    )
  const points = new Floats()
  for (let v = 0; v < vertices; v++) {
    if (!nextItem(s)) throw damaged(`it ends after ${v} of ${vertices} points`, `line ${s.line}`)
    const [x, y, z] = s.numbers(3, 'a point')
    points.push3(x, y, z)
    s.rest()
  }
  const tris = new Indices()
  const knife = new Knife()
  const positions = points.done()
  for (let f = 0; f < faces; f++) {
    if (!nextItem(s)) throw damaged(`it ends after ${f} of ${faces} faces`, `line ${s.line}`)
    const n = s.number()
    if (!Number.isInteger(n) || n < 1 || n > bytes.length) throw damaged(`a face with ${n} corners`, `line ${s.line}`)
    const ring = s.numbers(n, 'a face')
    for (const v of ring)
      if (!Number.isInteger(v) || v < 0 || v >= vertices)
        throw damaged(`a face asks for point ${v} of ${vertices}`, `line ${s.line}`)
    if (n === 3) tris.push3(ring[0], ring[1], ring[2])
    else {
      const cut = cutPolygon(
        knife,
        ring.map((v): Vec3 => [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]]),
      )
      for (let i = 0; i < cut.length; i += 3) tris.push3(ring[cut[i]], ring[cut[i + 1]], ring[cut[i + 2]])
    }
    s.rest()
  }
  return {
    format: 'off',
    parts: [{ name: 'model', mesh: { positions, triangles: tris.done() } }],
    notes: knife.notes(),
  }
}

/** OFF of meshes in mm; the parts come to lie in one list. */
export function writeOff(parts: readonly FilePart[]): Uint8Array {
  const { positions, triangles } = concatMeshes(parts.map((p) => p.mesh))
  const lines = ['OFF', '# mm, written by Glue Bench', `${positions.length / 3} ${triangles.length / 3} 0`]
  for (let i = 0; i < positions.length; i += 3)
    lines.push(`${short(positions[i])} ${short(positions[i + 1])} ${short(positions[i + 2])}`)
  for (let i = 0; i < triangles.length; i += 3) lines.push(`3 ${triangles[i]} ${triangles[i + 1]} ${triangles[i + 2]}`)
  lines.push('')
  return new TextEncoder().encode(lines.join('\n'))
}

export const offFormat = defineFormat({
  name: 'off',
  title: 'OFF',
  endings: ['off'],
  holds: 'meshes',
  unit: 'not stated',
  carries: 'quads of nets',
  sniff: ({ words }) => (/^(ST)?C?N?OFF$/.test(words[0] ?? '') ? certainty.words : certainty.none),
  read: readOff,
  write: (parts) => writeOff(parts),
})
