import { checkUp } from '@/core/mend/check-up'
import { closeHoles } from '@/core/mend/close-holes'
import { smoothFolds } from '@/core/mend/folds'
import { faceOutward } from '@/core/mend/orient'
import { removeDegenerate } from '@/core/mend/slivers'
import { clearSpecks } from '@/core/mend/specks'
import { splitNonManifold } from '@/core/mend/split-non-manifold'
import { untangle } from '@/core/mend/untangle'
import { concatMeshes, keepTriangles, transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { random } from '@/core/math/random'
import { translation } from '@/core/math/affine'
import { gripShape } from '@/core/scan/shapes'
import { addFolds } from '@/demo/damage'
import { growth } from '../measure'

/** A grip with holes, folds, specks and turned triangles, in proportion to its size. */
function damaged(rings: number, sides: number): TriMesh {
  const whole = gripShape(rings, sides)
  const n = triangleCount(whole)
  const rng = random(9)
  const keep = new Uint8Array(n).fill(1)
  for (let i = 0; i < n / 4000; i++) keep[Math.floor(rng.next() * n)] = 0
  const holed = keepTriangles(whole, keep).mesh
  const folded = addFolds(holed, Math.round(n / 20000), 2.4 * Math.sqrt(100_000 / n), 1.9 * Math.sqrt(100_000 / n), 3)
  const triangles = folded.triangles.slice()
  for (let i = 0; i < n / 1000; i++) {
    const t = 3 * Math.floor(rng.next() * (triangles.length / 3))
    ;[triangles[t], triangles[t + 1]] = [triangles[t + 1], triangles[t]]
  }
  const speck: TriMesh = { positions: Float32Array.from([0, 0, 0, 0.1, 0, 0, 0, 0.1, 0]), triangles: Uint32Array.from([0, 1, 2]) }
  return concatMeshes([{ positions: folded.positions, triangles }, ...Array.from({ length: Math.round(n / 5000) }, () => transformMesh(speck, translation([rng.next() * 150 - 75, 40 * rng.next(), 40 + 20 * rng.next()])))])
}

/** Cost of each mending step from 100 000 to 800 000 triangles, over linear: at most 1.3. */
export async function mendGrowth() {
  const small = damaged(354, 142), large = damaged(1000, 400)
  const steps: Record<string, (m: TriMesh) => unknown> = {
    weld: (m) => weldMesh(m), specks: (m) => clearSpecks(m, { share: 0.01 }), outward: (m) => faceOutward(m), degenerate: (m) => removeDegenerate(m),
    split: (m) => splitNonManifold(m), folds: (m) => smoothFolds(m), holes: (m) => closeHoles(m, { how: 'smooth' }), 'check-up': (m) => checkUp(m), untangle: (m) => untangle(m, { rounds: 3 }),
  }
  const out: Record<string, object> = { bar: 1.3 as unknown as object, triangles: [triangleCount(small), triangleCount(large)] }
  for (const [name, work] of Object.entries(steps)) out[name] = await growth(small, large, triangleCount, work)
  return out
}
