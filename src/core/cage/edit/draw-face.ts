/** One face by four places: corners that lie near points at the rim are those. */
import { StepError } from '@/core/base/step-error'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { addPoint, draftOf, finished, meanEdge, pointAt, topologyOf } from './net'
import type { EditOf } from './schema'

/** Corners that lie closer to a point at the rim than this share of an edge are that point. */
const nearShare = 0.3

/** The face turns so that it faces as its neighbours do; by itself it faces whence its corners run against the clock. @throws StepError */
export function drawFace(cage: Cage, { at }: EditOf<'face'>): Cage {
  const { twin } = topologyOf(cage)
  const rim = new Set<number>()
  for (let h = 0; h < twin.length; h++)
    if (twin[h] < 0) for (const v of [cage.quads[h], cage.quads[nextInQuad(h)]]) rim.add(v)
  const side = at.reduce((s, x, i) => s + Math.hypot(...x.map((c, k) => c - at[(i + 1) % 4][k])) / 4, 0)
  const near = nearShare * Math.min(side, meanEdge(cage))
  const d = draftOf(cage)
  const loop = at.map((x) => {
    let best = -1
    let least = near
    for (const v of rim) {
      const off = Math.hypot(...pointAt(cage, v).map((c, k) => c - x[k]))
      if (off <= least) [least, best] = [off, v]
    }
    return best >= 0 ? best : addPoint(d, x)
  })
  if (new Set(loop).size < 4 || !(side > 0))
    throw new StepError('too-narrow', 'Two corners of the face fall together.', {
      tryThis: 'Place them farther apart.',
    })
  const runs = new Set<string>()
  for (let h = 0; h < cage.quads.length; h++) runs.add(`${cage.quads[h]}>${cage.quads[nextInQuad(h)]}`)
  const clashes = loop.some((v, i) => runs.has(`${v}>${loop[(i + 1) % 4]}`))
  d.faces.push((clashes ? [...loop].reverse() : loop) as [number, number, number, number])
  return finished(d, 'The face')
}
