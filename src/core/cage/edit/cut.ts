/** Faces deleted, edges dissolved, and the skin split along edges. */
import { StepError } from '@/core/base/step-error'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad, prevInQuad } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { addPoint, draftOf, edgesOf, faceCount, finished, keyOfHalf, need, topologyOf, type Picked } from './net'

/** Picked faces go, and those about picked edges and points. @throws StepError `no-pick`, `empty-result` */
export function deleteFaces(cage: Cage, picked: Picked): Cage {
  const points = new Set(picked.points)
  const edges = new Set(picked.edges)
  const faces = new Set(picked.faces)
  for (let h = 0; h < cage.quads.length; h++)
    if (points.has(cage.quads[h]) || edges.has(keyOfHalf(cage, h))) faces.add(h >> 2)
  need([...faces], 1, 'face', 'Deleting')
  const d = draftOf(cage)
  for (const f of faces) d.faces[f] = null
  return finished(d, 'Deleting')
}

/** Which points go with some edges: those that are left with two. */
function pointsGone(cage: Cage, twin: Int32Array, chosen: ReadonlySet<number>): (v: number) => boolean {
  // Edges that stay at each point.
  const left = new Map<number, Set<number>>()
  for (let h = 0; h < twin.length; h++) {
    const key = keyOfHalf(cage, h)
    if (!chosen.has(key)) for (const v of endsOfKey(key)) left.set(v, (left.get(v) ?? new Set<number>()).add(key))
  }
  const rimPoint = new Set<number>()
  for (let h = 0; h < twin.length; h++)
    if (twin[h] < 0) for (const v of [cage.quads[h], cage.quads[nextInQuad(h)]]) rimPoint.add(v)
  const touched = new Set([...chosen].flatMap(endsOfKey))
  return (v) => touched.has(v) && (left.get(v)?.size ?? 0) <= 2 && (!rimPoint.has(v) || left.get(v)!.size === 2)
}

/** A face with all that come together with it over some edges. */
function joinedFaces(cage: Cage, twin: Int32Array, chosen: ReadonlySet<number>, face: number): number[] {
  const group = new Set([face])
  for (const g of group)
    for (let h = 4 * g; h < 4 * g + 4; h++) if (chosen.has(keyOfHalf(cage, h))) group.add(twin[h] >> 2)
  return [...group]
}

/**
 * Picked edges go and the faces beside them come together; points that are left with two edges go as well. Only quads may be left.
 * @throws StepError `no-pick`, `not-quads`
 */
export function dissolve(cage: Cage, picked: Picked): Cage {
  const { twin } = topologyOf(cage)
  const chosen = new Set(edgesOf(cage, picked))
  for (let h = 0; h < twin.length; h++) if (twin[h] < 0) chosen.delete(keyOfHalf(cage, h))
  need([...chosen], 1, 'edge', 'Dissolving')
  const gone = pointsGone(cage, twin, chosen)
  const d = draftOf(cage)
  const seen = new Set<number>()
  for (let f = 0; f < faceCount(cage); f++) {
    if (seen.has(f)) continue
    const group = joinedFaces(cage, twin, chosen, f)
    for (const g of group) seen.add(g)
    if (group.length === 1 && ![0, 1, 2, 3].some((c) => gone(cage.quads[4 * f + c]))) continue
    const after = new Map<number, number>()
    let twice = false
    for (const g of group)
      for (let h = 4 * g; h < 4 * g + 4; h++)
        if (!chosen.has(keyOfHalf(cage, h))) {
          twice ||= after.has(cage.quads[h])
          after.set(cage.quads[h], cage.quads[nextInQuad(h)])
        }
    const [first] = after.keys()
    const loop: number[] = []
    for (let v = first, i = 0; i < after.size && v !== undefined; i++) {
      if (!gone(v)) loop.push(v)
      v = after.get(v)!
    }
    if (twice || loop.length !== 4)
      throw new StepError(
        'not-quads',
        `Dissolving would leave a face of ${loop.length} corners; a cage holds quads only.`,
        {
          where: { point: [cage.positions[3 * first], cage.positions[3 * first + 1], cage.positions[3 * first + 2]] },
          tryThis: 'Dissolve a whole loop of edges.',
        },
      )
    for (const g of group) d.faces[g] = null
    d.faces[f] = loop as [number, number, number, number]
  }
  return finished(d, 'Dissolving')
}

/** The skin comes apart along picked edges, or round picked faces. @throws StepError `no-pick`, `no-cut` */
export function splitEdges(cage: Cage, picked: Picked): Cage {
  const { twin } = topologyOf(cage)
  let chosen = new Set(picked.edges)
  if (!chosen.size && picked.faces.length) {
    const faces = new Set(picked.faces)
    chosen = new Set()
    for (const f of faces)
      for (let h = 4 * f; h < 4 * f + 4; h++)
        if (twin[h] >= 0 && !faces.has(twin[h] >> 2)) chosen.add(keyOfHalf(cage, h))
  }
  if (!chosen.size) chosen = new Set(edgesOf(cage, picked))
  need([...chosen], 1, 'edge', 'Splitting')
  const d = draftOf(cage)
  const fan = new Int32Array(cage.quads.length).fill(-1)
  const first = new Set<number>()
  let cuts = 0
  for (let h = 0; h < fan.length; h++) {
    if (fan[h] >= 0) continue
    const v = cage.quads[h]
    const list: number[] = []
    const stack = [h]
    while (stack.length) {
      const g = stack.pop()!
      if (fan[g] >= 0) continue
      fan[g] = h
      list.push(g)
      const b = prevInQuad(g)
      if (twin[g] >= 0 && !chosen.has(keyOfHalf(cage, g))) stack.push(nextInQuad(twin[g]))
      if (twin[b] >= 0 && !chosen.has(keyOfHalf(cage, b))) stack.push(twin[b])
    }
    if (!first.has(v)) {
      first.add(v)
      continue
    }
    cuts++
    const own = addPoint(d, cage.positions, 3 * v)
    const sharp = cage.corners.get(v)
    if (sharp) d.corners.set(own, sharp)
    for (const g of list) {
      d.faces[g >> 2]![g & 3] = own
    }
  }
  if (!cuts)
    throw new StepError('no-cut', 'The picked edges do not part the skin.', {
      tryThis: 'Pick a closed loop, a run from rim to rim, or at least two edges in a row.',
    })
  // Creases of the new edges are those of the old ones.
  for (let h = 0; h < cage.quads.length; h++) {
    const s = cage.creases.get(keyOfHalf(cage, h))
    const f = d.faces[h >> 2]!
    if (s) d.creases.set(edgeKey(f[h & 3], f[(h + 1) & 3]), s)
  }
  return finished(d, 'Splitting')
}
