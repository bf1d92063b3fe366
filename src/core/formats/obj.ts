/** OBJ (Wavefront, Object Files, appendix B1): points, faces of any number of corners, groups and objects as parts. Curves and materials are passed over. */
import { certainty, defineFormat } from './format'
import type { Vec3 } from '@/core/math/vec'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { damaged, type FileModel, type FilePart } from './model'
import { mostObjects, tooMuch } from './limits'
import { cutPolygon, Knife } from './polygon'
import { short } from './stl'
import { Floats, Indices, TextScanner } from './text-scanner'

interface Scanned {
  readonly points: Floats
  /** Elements that were passed over, and how many of each. */
  readonly skipped: Map<string, number>
  readonly line: number
}

/** Words of elements that are passed over. */
const known =
  /^(v[tnp]|g|o|s|l|p|mtllib|usemtl|vp|cstype|deg|curv2?|surf|parm|trim|hole|scrv|sp|end|con|mg|bevel|c_interp|d_interp|lod|shadow_obj|trace_obj|ctech|stech|bmat|step|usemap|maplib|call|csh)$/

/** The point that a face corner names, counted from the first or from the last; what follows a slash is left where it is. */
function cornerIndex(s: TextScanner, bytes: Uint8Array, total: number): number {
  let i = s.at
  const negative = bytes[i] === 45
  if (negative) i++
  const from = i
  let v = 0
  for (let b = bytes[i]; b >= 48 && b <= 57 && v < 1e9; b = bytes[++i]) v = v * 10 + (b - 48)
  const b = bytes[i]
  if (i === from || (i < bytes.length && b !== 47 && b !== 32 && b !== 9 && b !== 10 && b !== 13))
    throw damaged('a face corner that is no number', `line ${s.line}`)
  const index = negative ? total - v : v - 1
  if (index < 0 || index >= total)
    throw damaged(`a face asks for point ${negative ? -v : v} of ${total}`, `line ${s.line}`)
  return index
}

/** Goes through the file once; each face is handed over with its group, its ring to be used at once. */
function scanObj(bytes: Uint8Array, face: (ring: readonly number[], group: string, points: Floats) => void): Scanned {
  const s = new TextScanner(bytes)
  const points = new Floats()
  let group = 'model'
  const skipped = new Map<string, number>()
  const ring: number[] = []
  while (s.wordAnywhere()) {
    const c = bytes[s.at],
      d = bytes[s.at + 1]
    if (c === 118 && (d === 32 || d === 9)) {
      s.at++
      const [x, y, z] = s.numbers(3, 'a point')
      points.push3(x, y, z)
    } else if (c === 102 && (d === 32 || d === 9)) {
      s.at++
      ring.length = 0
      while (s.word()) {
        if (bytes[s.at] === 35) break
        const index = cornerIndex(s, bytes, points.length / 3)
        ring.push(index)
        s.text()
      }
      if (ring.length < 3) throw damaged(`a face with ${ring.length} corners`, `line ${s.line}`)
      face(ring, group, points)
    } else if ((c === 103 || c === 111) && (d === 32 || d === 9)) {
      s.at++
      group = s.rest().slice(0, 80) || 'model'
    } else if (c !== 35) {
      const word = s.text()
      if (!known.test(word)) throw damaged(`"${word.slice(0, 30)}" is no OBJ word`, `line ${s.line}`)
      if (/^(l|p|curv|surf)/.test(word)) skipped.set(word, (skipped.get(word) ?? 0) + 1)
    }
    s.rest()
  }
  if (!points.length) throw damaged('it holds no points', `line ${s.line}`)
  return { points, skipped, line: s.line }
}

const passedOver = (skipped: ReadonlyMap<string, number>) =>
  [...skipped].map(([w, n]) => `${n} "${w}" elements were passed over`)

/** Reads Wavefront OBJ: polygons are cut into triangles, groups and objects become parts. Throws StepError `damaged-file` with the line. */
export function readObj(bytes: Uint8Array): FileModel {
  const groups = new Map<string, Indices>()
  const knife = new Knife()
  const { points, skipped, line } = scanObj(bytes, (ring, group, points) => {
    let faces = groups.get(group)
    if (!faces) {
      if (groups.size >= mostObjects) throw tooMuch('groups', mostObjects)
      groups.set(group, (faces = new Indices()))
    }
    if (ring.length === 3) faces.push3(ring[0], ring[1], ring[2])
    else {
      const p = points.data
      const cut = cutPolygon(
        knife,
        ring.map((v): Vec3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]]),
      )
      for (let i = 0; i < cut.length; i += 3) faces.push3(ring[cut[i]], ring[cut[i + 1]], ring[cut[i + 2]])
    }
  })
  if (![...groups.values()].some((g) => g.length)) throw damaged('it holds points and no faces', `line ${line}`)
  const own = ownPoints(points.data, points.length / 3)
  const parts = [...groups].filter(([, g]) => g.length).map(([name, g]): FilePart => ({ name, mesh: own(g.done()) }))
  return { format: 'obj', parts, notes: [...passedOver(skipped), ...knife.notes()] }
}

/** Faces of an OBJ file as they stand, of any number of corners, all groups together. Throws StepError `damaged-file` with the line. */
export function readObjFaces(bytes: Uint8Array): { positions: Float32Array; faces: number[][]; notes: string[] } {
  const faces: number[][] = []
  const { points, skipped, line } = scanObj(bytes, (ring) => faces.push([...ring]))
  if (!faces.length) throw damaged('it holds points and no faces', `line ${line}`)
  return { positions: points.data.slice(0, points.length), faces, notes: passedOver(skipped) }
}

/** Gives each group the points it uses, in their order; takes time in proportion to the group, not to all points. */
function ownPoints(all: Float32Array, count: number): (triangles: Uint32Array) => TriMesh {
  const number = new Uint32Array(count)
  const owner = new Uint32Array(count)
  let group = 0
  return (triangles) => {
    group++
    const used: number[] = []
    for (const v of triangles)
      if (owner[v] !== group) {
        owner[v] = group
        used.push(v)
      }
    const order = Uint32Array.from(used).sort()
    const positions = new Float32Array(3 * order.length)
    order.forEach((v, i) => {
      number[v] = i
      positions.set(all.subarray(3 * v, 3 * v + 3), 3 * i)
    })
    return { positions, triangles: triangles.map((v) => number[v]) }
  }
}

/** OBJ of meshes in mm, one object a part. */
export function writeObj(parts: readonly FilePart[]): Uint8Array {
  const lines = ['# mm, written by Glue Bench']
  let base = 1
  for (const { name, mesh, quads } of parts) {
    lines.push(`o ${name.replace(/\s+/g, '_')}`)
    for (let i = 0; i < mesh.positions.length; i += 3)
      lines.push(`v ${short(mesh.positions[i])} ${short(mesh.positions[i + 1])} ${short(mesh.positions[i + 2])}`)
    if (quads)
      for (let i = 0; i < quads.length; i += 4)
        lines.push(`f ${[0, 1, 2, 3].map((c) => quads[i + c] + base).join(' ')}`)
    else
      for (let i = 0; i < mesh.triangles.length; i += 3)
        lines.push(`f ${mesh.triangles[i] + base} ${mesh.triangles[i + 1] + base} ${mesh.triangles[i + 2] + base}`)
    base += mesh.positions.length / 3
  }
  lines.push('')
  return new TextEncoder().encode(lines.join('\n'))
}

/** Words that open a line; the first list says so beyond doubt. */
const sure = new Set(['v', 'vn', 'vt', 'o', 'g', 'mtllib'])
const also = new Set(['vp', 'f', 's', 'usemtl', 'l', 'p'])

export const objFormat = defineFormat({
  name: 'obj',
  title: 'OBJ',
  endings: ['obj'],
  holds: 'meshes',
  unit: 'not stated',
  carries: 'names, quads of nets',
  sniff({ words }) {
    const other = words.findIndex((w) => !also.has(w))
    return other >= 0 && sure.has(words[other]) ? certainty.words : certainty.none
  },
  read: readObj,
  write: (parts) => writeObj(parts),
})
