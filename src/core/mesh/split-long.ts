/**
 * Long edges halved and needles in flat places turned into sound triangles, the skin left where it is: triangles of about one size are found
 * by cells, needles across a whole part are not (edge flips after Lawson 1977, halving after Rivara 1984).
 */
import { cornerCosine } from './corner-angle'
import { EditMesh } from './edit-mesh'
import { diagonal, meshBounds, type TriMesh } from './tri-mesh'

/** Corners this share of the size off a plane lie in it: files keep seven digits. */
const flatShare = 1e-6
const mostRounds = 24
/** Meshes of more triangles are fine. */
const fine = 20_000
/** Sweeps of flips after each round of halving. */
const sweeps = 4

/** Turns the edge of two triangles in one plane where the other diagonal makes larger smallest angles. */
function turnFlat(edit: EditMesh, a: number, b: number, flat: number): boolean {
  const two = edit.shared(a, b)
  if (two.length !== 2) return false
  const [s, t] = two
  const c = edit.third(s, a, b)
  const d = edit.third(t, a, b)
  if (c < 0 || d < 0 || c === d) return false
  const p = edit.points
  // The sum of the corners across the edge is above two right ones: the circle of one triangle holds the other's corner.
  const across = Math.acos(cornerCosine(p, c, a, b)) + Math.acos(cornerCosine(p, d, a, b))
  if (across <= Math.PI + 1e-6) return false
  const [n, m] = [edit.cross(s), edit.cross(t)]
  const [ln, lm] = [Math.hypot(...n), Math.hypot(...m)]
  const [u, l, far] = ln >= lm ? [n, ln, d] : [m, lm, c]
  if (!(l > 0)) return false
  const off = u.reduce((sum, x, k) => sum + x * (p[3 * far + k] - p[3 * a + k]), 0) / l
  if (Math.abs(off) > flat) return false
  // Both new triangles look the same way.
  const forward = edit.halfOf(s, a, b) >= 0
  const looks = (x: readonly number[]) => x.reduce((sum, v, k) => sum + v * u[k], 0)
  const [e, f] = forward
    ? [edit.crossOf(c, a, d), edit.crossOf(d, b, c)]
    : [edit.crossOf(d, a, c), edit.crossOf(c, b, d)]
  const least = 1e-9 * l * l
  if (looks(e) <= least || looks(f) <= least) return false
  return edit.flip(a, b)
}

/** The same skin with no edge longer than `longest` mm, as long as that takes no more than `most` triangles. */
export function splitLong(mesh: TriMesh, longest: number, most = 150_000): TriMesh {
  const limit = longest * longest
  const { positions: p, triangles: k } = mesh
  const long = (h: number) => {
    const [a, b] = [3 * k[h], 3 * k[h % 3 === 2 ? h - 2 : h + 1]]
    return (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2 > limit
  }
  let first = 0
  while (first < k.length && !long(first)) first++
  if (first === k.length) return mesh
  const flat = flatShare * (diagonal(meshBounds(mesh)) || 1)
  const edit = new EditMesh(mesh)
  let changed = new Set<number>()
  // Needles are turned wherever they are; of fine meshes only what is halved is looked at.
  for (let h = 0; h < k.length; h++) if (k.length < 3 * fine || long(h)) changed.add(Math.floor(h / 3))
  const flips = () => {
    for (let sweep = 0; sweep < sweeps && changed.size; sweep++) {
      const next = new Set<number>()
      for (const t of changed)
        for (let c = 0; c < 3; c++) {
          const [a, b] = [edit.corners[3 * t + c], edit.corners[3 * t + ((c + 1) % 3)]]
          const two = edit.shared(a, b)
          if (!turnFlat(edit, a, b, flat)) continue
          for (const f of two) next.add(f)
        }
      changed = next
    }
    changed = new Set()
  }
  for (let round = 0; round < mostRounds; round++) {
    flips()
    let done = 0
    const end = edit.faceCount
    for (let t = 0; t < end && edit.faceCount < most; t++) {
      let [far, a, b] = [limit, -1, -1]
      for (let c = 0; c < 3; c++) {
        const [u, v] = [edit.corners[3 * t + c], edit.corners[3 * t + ((c + 1) % 3)]]
        const d = edit.square(u, v)
        if (d > far) [far, a, b] = [d, u, v]
      }
      if (a < 0) continue
      const q = edit.points
      const m = edit.addPoint(
        (q[3 * a] + q[3 * b]) / 2,
        (q[3 * a + 1] + q[3 * b + 1]) / 2,
        (q[3 * a + 2] + q[3 * b + 2]) / 2,
      )
      edit.splitAt(a, b, m)
      for (const f of edit.around[m]) changed.add(f)
      done++
    }
    if (!done) break
  }
  return edit.done().mesh
}
