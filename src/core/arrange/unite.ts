/** Makes one skin of shells that cross themselves or each other: cut along their crossings, what lies inside the solid goes (Zhou et al. 2016). */
import { span, checkStop, quiet, type Work } from '@/core/base/work'
import { buildTopology } from '@/core/mesh/topology'
import { compact, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossInto } from '@/core/mesh/triangle'
import { WindingNumber } from '@/core/gauge/winding'
import { arrange, type Arrangement } from './arrange'

export interface United {
  readonly mesh: TriMesh
  /** Input triangles that were cut. */
  readonly cut: number
  readonly pairs: number
}

/** Patches of less than this share of the skin are noise of its corners. */
const crumbs = 1e-5

/** Faces joined across edges that only two of them share, with the same count: all of a patch has the same on either side. */
function patchesOf(a: Arrangement): { patch: Int32Array; largest: number[] } {
  const flat: TriMesh = { positions: new Float32Array(a.points.length), triangles: a.faces }
  const { twin, sameWay } = buildTopology(flat)
  const n = a.from.length
  const patch = new Int32Array(n).fill(-1)
  const largest: number[] = []
  const cross = new Float64Array(3)
  const stack: number[] = []
  for (let s = 0; s < n; s++) {
    if (patch[s] >= 0) continue
    const id = largest.length
    let best = s,
      most = -1
    patch[s] = id
    stack.push(s)
    while (stack.length) {
      const f = stack.pop()!
      const here = crossInto(a.points, a.faces, f, cross)
      if (here > most) {
        most = here
        best = f
      }
      for (let h = 3 * f; h < 3 * f + 3; h++) {
        if (twin[h] < 0 || sameWay[h]) continue
        const g = (twin[h] / 3) | 0
        if (patch[g] >= 0 || a.times[g] !== a.times[f]) continue
        patch[g] = id
        stack.push(g)
      }
    }
    largest.push(best)
  }
  return { patch, largest }
}

/**
 * The skin of the solid that a mesh of closed shells encloses: where the winding number is a half or more is inside. Shells that face
 * inward stay as hollows. Triangles that meet nothing stay where they are to the last digit; corners on cuts are rounded to single precision.
 * @param counts tells of a place on the skin whether it can be part of the result: a patch whose largest face has its middle elsewhere
 * goes, whatever its turns. Where such patches are only crumbs, they stay, so that none is missing from a skin that is right by its turns.
 */
export function unite(
  mesh: TriMesh,
  work: Work = quiet,
  counts?: (x: number, y: number, z: number) => boolean,
): United {
  const a = arrange(mesh, span(work, 0, 0.8))
  const { patch, largest } = patchesOf(a)
  const winding = new WindingNumber(mesh)
  // 1 keeps the patch, -1 turns it, 0 takes it out.
  const fate = new Int8Array(largest.length)
  const elsewhere: number[] = []
  largest.forEach((f, id) => {
    if ((id & 255) === 0) {
      checkStop(work)
      work.progress(0.8 + (0.2 * id) / largest.length, 'telling inside from outside')
    }
    const m = a.times[f]
    if (m === 0) return
    const at = [0, 1, 2].map(
      (k) =>
        (a.points[3 * a.faces[3 * f] + k] +
          a.points[3 * a.faces[3 * f + 1] + k] +
          a.points[3 * a.faces[3 * f + 2] + k]) /
        3,
    )
    // On the face itself its own triangles count nothing; half of their turns lie on either side.
    const own = a.also.get(f)
    const skip = own ? new Set([a.from[f], ...own]) : null
    const first = a.from[f]
    const middle = winding.at(at[0], at[1], at[2], skip ? (t) => skip.has(t) : (t) => t === first)
    const before = middle - m / 2 >= 0.5,
      behind = middle + m / 2 >= 0.5
    fate[id] = behind && !before ? 1 : before && !behind ? -1 : 0
    if (fate[id] && counts && !counts(at[0], at[1], at[2])) elsewhere.push(id)
  })
  if (elsewhere.length) {
    const area = new Float64Array(largest.length)
    const cross = new Float64Array(3)
    for (let f = 0; f < a.from.length; f++) if (fate[patch[f]]) area[patch[f]] += crossInto(a.points, a.faces, f, cross)
    const whole = area.reduce((s, v) => s + v, 0)
    if (elsewhere.reduce((s, id) => s + area[id], 0) > crumbs * whole) for (const id of elsewhere) fate[id] = 0
  }
  const faces: number[] = []
  for (let f = 0; f < a.from.length; f++) {
    const keep = fate[patch[f]]
    if (!keep) continue
    const [x, y, z] = [a.faces[3 * f], a.faces[3 * f + 1], a.faces[3 * f + 2]]
    if (keep > 0) faces.push(x, y, z)
    else faces.push(x, z, y)
  }
  const positions = new Float32Array(a.points)
  // Vertices of the input keep their bits.
  positions.set(mesh.positions.subarray(0, 3 * a.vertices))
  return { mesh: compact({ positions, triangles: Uint32Array.from(faces) }), cut: a.cut, pairs: a.pairs }
}
