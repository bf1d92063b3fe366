/** Closes part of a hole: from one picked rim point straight across to another; what lies beyond stays open. */
import { distance, type Vec3 } from '@/core/math/vec'
import { buildTopology, findRims } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { joinPatches, loopOfRim, nearestOnRim, patchGround, rimNearest, type Loop } from './loop'
import { patchLoop, type HoleFill } from './patch-loop'

export interface PartClosed {
  readonly mesh: TriMesh
  /** Rim edges covered. */ readonly covered: number
  /** Length of the straight new rim, mm. */ readonly across: number
  readonly firstNew: number
}

/** @param other close the longer part in place of the shorter one */
export function closePart(
  mesh: TriMesh,
  from: Vec3,
  to: Vec3,
  { how, other = false }: { how: HoleFill; other?: boolean },
): PartClosed {
  const rims = findRims(mesh, buildTopology(mesh))
  const near = rimNearest(mesh, rims, from)
  if (!near)
    throw new StepError('no-hole', 'There is no hole in this body.', { tryThis: 'Pick points on the rim of a hole.' })
  const { rim } = near
  const loop = loopOfRim(mesh, rim)
  const n = loop.vertices.length
  const corner = (p: Vec3) => loop.vertices.indexOf(rim.vertices[nearestOnRim(mesh, rim, p).corner])
  const i = corner(from),
    j = corner(to)
  if (i === j)
    throw new StepError('same-point', 'Both points are the same corner of the rim.', {
      where: { point: vertex(mesh, loop.vertices[i]) },
      tryThis: 'Pick two corners further apart.',
    })
  const along = (a: number, b: number) => {
    const path = [a]
    for (let k = a; k !== b; k = (k + 1) % n) path.push((k + 1) % n)
    return path
  }
  const lengthOf = (path: number[]) =>
    path.slice(1).reduce((s, k, q) => s + distance(loop.points[path[q]], loop.points[k]), 0)
  const one = along(i, j),
    two = along(j, i)
  const shorter = lengthOf(one) <= lengthOf(two) ? one : two
  const path = other ? (shorter === one ? two : one) : shorter
  if (path.length < 3)
    throw new StepError(
      'too-close',
      'The two points are neighbours on the rim: there is nothing between them to close.',
      { tryThis: 'Pick two corners further apart.' },
    )
  const a = loop.points[path[0]],
    b = loop.points[path.at(-1)!]
  const edge = lengthOf(path) / (path.length - 1)
  const across = distance(a, b)
  const cuts = Math.max(1, Math.round(across / edge))
  const points: Vec3[] = path.map((k) => loop.points[k]),
    vertices = path.map((k) => loop.vertices[k]),
    against: number[] = path.slice(0, -1).map((k) => loop.against[k])
  against.push(-1)
  // The way back is straight, in steps of the rim's own length.
  for (let c = cuts - 1; c >= 1; c--) {
    const s = c / cuts
    points.push([a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1]), a[2] + s * (b[2] - a[2])])
    vertices.push(-1)
    against.push(-1)
  }
  const part: Loop = { points, vertices, against }
  const patch = patchLoop(patchGround(mesh), part, how === 'curvature' ? 'smooth' : how)
  return {
    mesh: joinPatches(mesh, [{ loop: part, patch }]),
    covered: path.length - 1,
    across,
    firstNew: mesh.triangles.length / 3,
  }
}
