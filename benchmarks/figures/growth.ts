import { quiet } from '@/core/base/work'
import { checkUp } from '@/core/mesh/check-up'
import { closeHoles } from '@/core/mend/close-holes'
import { smoothFolds } from '@/core/mend/folds'
import { faceOutward } from '@/core/mesh/orient'
import { removeDegenerate } from '@/core/mend/slivers'
import { clearSpecks } from '@/core/mend/specks'
import { refine } from '@/core/mend/refine'
import { simplify } from '@/core/mend/simplify'
import { smooth } from '@/core/mend/smooth'
import { splitNonManifold } from '@/core/mend/split-non-manifold'
import { takeApart } from '@/core/mend/take-apart'
import { untangle } from '@/core/mend/untangle'
import { meshArea } from '@/core/mesh/measures'
import { concatMeshes, keepTriangles, transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { random } from '@/core/math/random'
import { compose, rotation, translation } from '@/core/math/affine'
import { matchToBody } from '@/core/place/register'
import { gripShape } from '@/core/scan/shapes'
import { hollow, laidBody, offsetMesh } from '@/core/skin/offset'
import { parallelSkin } from '@/core/skin/parallel-skin'
import { reskin } from '@/core/skin/reskin'
import { thicken } from '@/core/skin/thicken'
import { trimByPlane } from '@/core/split/trim'
import { addFolds } from '@/demo/damage'
import { growth, single } from '../measure'

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
  const speck: TriMesh = {
    positions: Float32Array.from([0, 0, 0, 0.1, 0, 0, 0, 0.1, 0]),
    triangles: Uint32Array.from([0, 1, 2]),
  }
  return concatMeshes([
    { positions: folded.positions, triangles },
    ...Array.from({ length: Math.round(n / 5000) }, () =>
      transformMesh(speck, translation([rng.next() * 150 - 75, 40 * rng.next(), 40 + 20 * rng.next()])),
    ),
  ])
}

/** Cost of each mending step from 100 000 to 800 000 triangles, over linear: at most 1.3. */
export async function mendGrowth() {
  const small = damaged(354, 142),
    large = damaged(1000, 400)
  const steps: Record<string, (m: TriMesh) => unknown> = {
    weld: (m) => weldMesh(m),
    specks: (m) => clearSpecks(m, { share: 0.01 }),
    outward: (m) => faceOutward(m),
    degenerate: (m) => removeDegenerate(m),
    split: (m) => splitNonManifold(m),
    folds: (m) => smoothFolds(m),
    holes: (m) => closeHoles(m, { how: 'smooth' }),
    'check-up': (m) => checkUp(m),
    untangle: (m) => untangle(m, { rounds: 3 }),
    smooth: (m) => smooth(m, { how: 'even', strength: 0.5, passes: 10, rim: 'pinned' }),
    'keep sharp': (m) => smooth(m, { how: 'keep-sharp', strength: 0.5, passes: 10, rim: 'pinned' }),
    trim: (m) => trimByPlane(m, [3, 0, 0], [0.8, 0.6, 0], false),
    'take apart': (m) => takeApart(m, 0),
  }
  const out: Record<string, object> = {
    bar: 1.3 as unknown as object,
    triangles: [triangleCount(small), triangleCount(large)],
  }
  for (const [name, work] of Object.entries(steps)) out[name] = await growth(small, large, triangleCount, work)
  // Of whole skins: simplified to a twentieth, evened out to its own mean edge.
  const few = gripShape(354, 142),
    many = gripShape(1000, 400)
  out.simplify = await growth(few, many, triangleCount, (m) =>
    simplify(m, { triangles: Math.round(triangleCount(m) / 20) }),
  )
  out.refine = await growth(
    few,
    many,
    triangleCount,
    (m) => refine(m, { edge: Math.sqrt(meshArea(m) / triangleCount(m) / 0.433) }),
    1,
  )
  out.offset = await growth(few, many, triangleCount, (m) => offsetMesh(m, 2, { edge: 0.5, corners: 'sharp' }).mesh, 1)
  return out
}

/** Cost of what lays a new skin, from one edge length to half of it, over the growth of the triangles made: at most 1.3. */
export async function wallGrowth() {
  const m = gripShape(150, 75)
  const made: Record<string, (edge: number) => TriMesh | Promise<TriMesh>> = {
    reskin: (edge) => reskin(m, { edge, gap: 0, holes: 'close' }),
    'offset laid anew': (edge) => laidBody(m, 2, edge, quiet),
    hollow: async (edge) => (await hollow('grip', m, 2, edge, [])).mesh,
    'parallel skin': (edge) => parallelSkin(m, new Uint8Array(triangleCount(m)).fill(1), -9, edge).mesh,
  }
  const out: Record<string, object> = { bar: 1.3 as unknown as object }
  for (const [name, work] of Object.entries(made)) {
    const sizes = new Map([
      [1.6, triangleCount(await work(1.6))],
      [0.8, triangleCount(await work(0.8))],
    ])
    out[name] = await growth(1.6, 0.8, (edge) => sizes.get(edge)!, work, 1)
  }
  const open = keepTriangles(
    m,
    Uint8Array.from({ length: triangleCount(m) }, (_, t) => (t < triangleCount(m) / 2 ? 1 : 0)),
  ).mesh
  out.thicken = { ms: Math.round(await single(() => thicken(open, null, 1.5, 'inward', 1), 3)) }
  return out
}

/** Best fit of one scan-sized body on another: time, and the growth with the triangles. */
export async function matchGrowth() {
  const turned = (m: TriMesh) => transformMesh(m, compose(translation([4, -3, 2]), rotation([0.303, 0.505, 0.808], 23)))
  return {
    bar: 1.3,
    ...(await growth(
      gripShape(354, 142),
      gripShape(1000, 400),
      triangleCount,
      (m) => matchToBody(turned(m), m, { start: 'axes', pairs: [], trust: 0.9 }),
      1,
    )),
  }
}
