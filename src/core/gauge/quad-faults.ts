/** What makes a net of quads unfit: quads that are folded over or pinched, faces that cross, corners that lie in one place. */
import { plural } from '@/core/base/say'
import { placesByBits } from '@/core/mesh/as-written'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { nextInQuad, prevInQuad, trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'

export interface QuadFaults {
  /** Numbers of quads of which a corner turns over. */
  readonly folded: readonly number[]
  /** Numbers of quads that are all but folded, or have a side without length. */
  readonly pinched: readonly number[]
  /** Numbers of quads that pass through others. */
  readonly crossing: readonly number[]
  /** Corners that lie where another one lies. */
  readonly coincident: number
  /** The smallest scaled Jacobian of a quad; 1 for squares, 0 or less where one is folded. */
  readonly worst: number
}

/** Scaled Jacobians below this are as good as folded. */
const pinch = 0.02

/**
 * The smallest scaled Jacobian of each quad: at each corner the sine between its sides, signed by the quad's own normal (Stimpson et al.
 * 2007, The Verdict Geometric Quality Library, 5.14); -1 where a side has no length.
 */
export function scaledJacobians({ positions: p, quads }: QuadMesh): Float64Array {
  const out = new Float64Array(quads.length / 4).fill(1)
  const side = (from: number, to: number): [number, number, number] => [
    p[3 * to] - p[3 * from],
    p[3 * to + 1] - p[3 * from + 1],
    p[3 * to + 2] - p[3 * from + 2],
  ]
  for (let q = 0; q < out.length; q++) {
    const [a, b, c, d] = quads.subarray(4 * q, 4 * q + 4)
    const [[ux, uy, uz], [vx, vy, vz]] = [side(a, c), side(b, d)]
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const l = Math.hypot(...n)
    for (let h = 4 * q; h < 4 * q + 4; h++) {
      const [before, here, after] = [quads[prevInQuad(h)], quads[h], quads[nextInQuad(h)]]
      const [[x, y, z], [s, t, w]] = [side(here, after), side(here, before)]
      const sides = Math.hypot(x, y, z) * Math.hypot(s, t, w)
      const turn = (y * w - z * t) * n[0] + (z * s - x * w) * n[1] + (x * t - y * s) * n[2]
      out[q] = Math.min(out[q], sides > 0 && l > 0 ? turn / (sides * l) : -1)
    }
  }
  return out
}

/** Corners of faces whose coordinates are those of another. */
function coincidentCorners({ positions, quads }: QuadMesh): number {
  const used = new Set(quads)
  const { place } = placesByBits(positions)
  return used.size - new Set([...used].map((v) => place[v])).size
}

/** Looks a net over, in its single-precision coordinates. */
export function quadFaults(net: QuadMesh): QuadFaults {
  const jacobians = scaledJacobians(net)
  const folded: number[] = []
  const pinched: number[] = []
  let worst = 1
  jacobians.forEach((j, q) => {
    worst = Math.min(worst, j)
    if (j <= 0) folded.push(q)
    else if (j < pinch) pinched.push(q)
  })
  const crossing = new Set<number>()
  const pairs = findSelfCrossings(trianglesOfQuads(net))
  for (let i = 0; i < pairs.length; i += 2) {
    const [a, b] = [pairs[i] >> 1, pairs[i + 1] >> 1]
    // The halves of one folded quad do not count twice.
    if (a !== b) crossing.add(a).add(b)
  }
  return { folded, pinched, crossing: [...crossing].sort((a, b) => a - b), coincident: coincidentCorners(net), worst }
}

/** The same in a sentence without its end, empty when the net is sound: "3 quads folded over, 2 that cross others". */
export function quadFaultWords(f: QuadFaults): string {
  return [
    f.folded.length ? `${plural(f.folded.length, 'quad')} folded over` : '',
    f.pinched.length ? `${plural(f.pinched.length, 'quad')} pinched` : '',
    f.crossing.length ? `${plural(f.crossing.length, 'quad')} crossing others` : '',
    f.coincident ? `${plural(f.coincident, 'corner')} in the place of another` : '',
  ]
    .filter(Boolean)
    .join(', ')
}
