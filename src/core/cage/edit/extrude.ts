/** Faces lifted off on walls of new quads, and edges at a rim drawn out into new ones. */
import { placeAt } from '@/core/mesh/tri-mesh'
import { add, cross, sub } from '@/core/math/vec'
import { StepError } from '@/core/base/step-error'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { addPoint, draftOf, finished, halfOfEdge, need, pointNormals, topologyOf, type Picked } from './net'
import type { EditOf } from './schema'
import { borderOf } from './select'

/** @throws StepError `no-pick`, `inner-edge`, `no-way` */
export function extrude(cage: Cage, picked: Picked, edit: EditOf<'extrude'>): Cage {
  if (edit.by === undefined && edit.distance === undefined)
    throw new StepError('no-way', 'Extruding needs a distance or a way to go.', { tryThis: 'Give it a distance.' })
  return picked.faces.length ? faces(cage, picked.faces, edit) : edges(cage, picked.edges, edit)
}

function faces(cage: Cage, list: readonly number[], edit: EditOf<'extrude'>): Cage {
  const chosen = new Set(list)
  const d = draftOf(cage)
  const normals = pointNormals(cage, (f) => chosen.has(f))
  const border = borderOf(cage, chosen)
  const lifted = new Map<number, number>()
  const inner = new Set(list.flatMap((f) => [...cage.quads.subarray(4 * f, 4 * f + 4)]))
  for (const h of border) for (const v of [cage.quads[h], cage.quads[nextInQuad(h)]]) inner.delete(v)
  const put = (v: number, from: number) => {
    for (let k = 0; k < 3; k++)
      d.positions[3 * v + k] += edit.by ? edit.by[k] : (edit.distance ?? 0) * normals[3 * from + k]
  }
  for (const h of border)
    for (const v of [cage.quads[h], cage.quads[nextInQuad(h)]])
      if (!lifted.has(v)) {
        const own = addPoint(d, d.positions, 3 * v)
        put(own, v)
        lifted.set(v, own)
        const sharp = d.corners.get(v)
        if (sharp) {
          d.corners.set(own, sharp)
          d.corners.delete(v)
        }
      }
  for (const v of inner) put(v, v)
  const up = (v: number) => lifted.get(v) ?? v
  for (const f of list) {
    d.faces[f] = d.faces[f]!.map(up) as [number, number, number, number]
    // Creases of the faces go with them.
    for (let h = 4 * f; h < 4 * f + 4; h++) {
      const [a, b] = [cage.quads[h], cage.quads[nextInQuad(h)]]
      const sharp = cage.creases.get(edgeKey(a, b))
      if (!sharp) continue
      d.creases.delete(edgeKey(a, b))
      d.creases.set(edgeKey(up(a), up(b)), sharp)
    }
  }
  for (const h of border) {
    const [a, b] = [cage.quads[h], cage.quads[nextInQuad(h)]]
    d.faces.push([a, b, up(b), up(a)])
  }
  return finished(d, 'Extruding')
}

function edges(cage: Cage, list: readonly number[], edit: EditOf<'extrude'>): Cage {
  need(list, 1, 'edge', 'Extruding')
  const { twin } = topologyOf(cage)
  const halves = list.map((e) => halfOfEdge(cage).get(e)!)
  if (halves.some((h) => twin[h] >= 0))
    throw new StepError(
      'inner-edge',
      'Only edges at a rim can be drawn out; one of the picked has a face on either side.',
      {
        tryThis: 'Pick edges at the rim, or extrude faces.',
      },
    )
  const d = draftOf(cage)
  const { positions: p, quads } = cage
  // Away from the face, in its plane, for each edge; points take the mean of theirs.
  const way = new Map<number, number[]>()
  const normals = pointNormals(cage)
  for (const h of halves) {
    const [a, b] = [quads[h], quads[nextInQuad(h)]]
    const out = cross(sub(placeAt(p, b), placeAt(p, a)), add(placeAt(normals, a), placeAt(normals, b)))
    const l = Math.hypot(...out) || 1
    for (const v of [a, b]) {
      const sum = way.get(v) ?? [0, 0, 0]
      way.set(
        v,
        sum.map((c, k) => c + out[k] / l),
      )
    }
  }
  const drawn = new Map<number, number>()
  for (const [v, sum] of way) {
    const l = Math.hypot(...sum) || 1
    const by = edit.by ?? sum.map((c) => ((edit.distance ?? 0) * c) / l)
    drawn.set(
      v,
      addPoint(
        d,
        [0, 1, 2].map((k) => p[3 * v + k] + by[k]),
      ),
    )
  }
  for (const h of halves) {
    const [a, b] = [quads[h], quads[nextInQuad(h)]]
    d.faces.push([b, a, drawn.get(a)!, drawn.get(b)!])
  }
  return finished(d, 'Extruding')
}

/** A closed cage of a thickness about an open one; with a closed one, a hollow. Rims get walls. */
export function thicken(cage: Cage, { distance }: EditOf<'thicken'>): Cage {
  if (!distance) throw new StepError('no-way', 'The thickness is 0.', { tryThis: 'Give it a thickness.' })
  const d = draftOf(cage)
  const n = pointNormals(cage)
  const { positions: p, quads } = cage
  const count = p.length / 3
  for (let v = 0; v < count; v++)
    addPoint(
      d,
      [0, 1, 2].map((k) => p[3 * v + k] - distance * n[3 * v + k]),
    )
  const { twin } = topologyOf(cage)
  // Outward stays outward: with a thickness below 0 the new skin is the outer one.
  const inside = distance > 0
  if (!inside) d.faces = d.faces.map((f) => f && ([...f].reverse() as typeof f))
  for (let f = 0; f < quads.length / 4; f++) {
    const loop = [...quads.subarray(4 * f, 4 * f + 4)].map((v) => v + count)
    d.faces.push((inside ? loop.reverse() : loop) as [number, number, number, number])
  }
  for (let h = 0; h < quads.length; h++) {
    if (twin[h] >= 0) continue
    const [a, b] = [quads[h], quads[nextInQuad(h)]]
    d.faces.push(inside ? [b, a, a + count, b + count] : [a, b, b + count, a + count])
  }
  for (const [key, s] of cage.creases) {
    const [a, b] = endsOfKey(key)
    d.creases.set(edgeKey(a + count, b + count), s)
  }
  for (const [v, s] of cage.corners) d.corners.set(v + count, s)
  return finished(d, 'Thickening')
}
