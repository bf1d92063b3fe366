/** Points of a cage brought to a scan, evened over the skin, or fitted to the scan anew while others are held. */
import { StepError } from '@/core/base/step-error'
import { quiet, type Work } from '@/core/base/work'
import { endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad } from '@/core/mesh/quad-mesh'
import type { Ground } from '@/core/net/relax-quads'
import { limitPlaces, spokesOf, type Cage } from '@/core/subdivision/subdivide'
import { fitCage } from '../fit-cage'
import { need, pointCount, pointNormals, pointsOf, topologyOf, type Picked } from './net'
import type { EditOf } from './schema'

const needScan = (ground: Ground | null): Ground => {
  if (!ground)
    throw new StepError('no-scan', 'No scan is chosen for the cage to go to.', {
      tryThis: 'Choose the scan in the card.',
    })
  return ground
}

/** Rounds in which what a point's place on the surface misses is added to the point. */
const rounds = 12

/** Picked points, or all, so that their places on the smooth surface lie on the scan. @throws StepError `no-scan` */
export function snap(cage: Cage, picked: Picked, ground: Ground | null): Cage {
  const scan = needScan(ground)
  const list = pointsOf(cage, picked)
  const points = list.length ? list : Array.from({ length: pointCount(cage) }, (_, v) => v)
  const normals = pointNormals(cage)
  let now = cage
  // To where each lies now: while its neighbours move as well, the goal stays.
  const first = limitPlaces(cage)
  const goals = points.map((v) =>
    scan.nearest(
      [first[3 * v], first[3 * v + 1], first[3 * v + 2]],
      [normals[3 * v], normals[3 * v + 1], normals[3 * v + 2]],
    ),
  )
  for (let r = 0; r < rounds; r++) {
    const at = limitPlaces(now)
    const p = Float64Array.from(now.positions)
    points.forEach((v, i) => {
      const to = goals[i]
      if (to) for (let k = 0; k < 3; k++) p[3 * v + k] += to[k] - at[3 * v + k]
    })
    now = { ...now, positions: p }
  }
  return now
}

/** The whole cage fitted to the scan; picked points are held. @throws StepError `no-scan`, Stopped */
export function refit(cage: Cage, picked: Picked, ground: Ground | null, work: Work = quiet): Cage {
  const held = new Uint8Array(pointCount(cage))
  for (const v of pointsOf(cage, picked)) held[v] = 1
  return fitCage(cage, needScan(ground), work, held)
}

/**
 * Picked points, or all, drawn to the middle of their neighbours within the skin (the tangential part of the umbrella; Taubin 1995). Points of
 * creases and rims move along them; ends of creases and corners stay.
 * @throws StepError `no-pick`
 */
export function relax(cage: Cage, picked: Picked, { times }: EditOf<'relax'>): Cage {
  const list = pointsOf(cage, picked)
  const points = list.length ? list : Array.from({ length: pointCount(cage) }, (_, v) => v)
  need(points, 1, 'point', 'Relaxing')
  const t = topologyOf(cage)
  const lines = new Map<number, number[]>()
  const add = (a: number, b: number) => lines.set(a, [...(lines.get(a) ?? []), b])
  for (const key of cage.creases.keys()) {
    const [a, b] = endsOfKey(key)
    add(a, b)
    add(b, a)
  }
  for (let h = 0; h < cage.quads.length; h++)
    if (t.twin[h] < 0) {
      const [a, b] = [cage.quads[h], cage.quads[nextInQuad(h)]]
      add(a, b)
      add(b, a)
    }
  const about = points.map((v): readonly number[] | null => {
    if (cage.corners.has(v)) return null
    const line = lines.get(v)
    const spokes = spokesOf(t, v)
    if (line) return line.length === 2 && spokes.length > 1 ? line : null
    return spokes.map((h) => cage.quads[nextInQuad(h)])
  })
  let now = cage
  for (let r = 0; r < times; r++) {
    const n = pointNormals(now)
    const p = Float64Array.from(now.positions)
    points.forEach((v, i) => {
      const round = about[i]
      if (!round) return
      const d = [0, 1, 2].map(
        (k) => round.reduce((s, u) => s + now.positions[3 * u + k], 0) / round.length - now.positions[3 * v + k],
      )
      const along = lines.has(v) ? 0 : d[0] * n[3 * v] + d[1] * n[3 * v + 1] + d[2] * n[3 * v + 2]
      for (let k = 0; k < 3; k++) p[3 * v + k] += 0.5 * (d[k] - along * n[3 * v + k])
    })
    now = { ...now, positions: p }
  }
  return now
}
