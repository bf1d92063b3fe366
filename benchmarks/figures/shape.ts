import { closeHoles } from '@/core/mend/close-holes'
import { simplify } from '@/core/mend/simplify'
import { simplifyQuadric } from '@/core/kernels/simplifier'
import { MeshSearch } from '@/core/mesh/closest'
import { transformMesh, triangleCount, vertex } from '@/core/mesh/tri-mesh'
import { translation } from '@/core/math/affine'
import { weldMesh } from '@/core/mesh/weld'
import { figuresOf, referenceOf, sampleDeviation, vertexDeviation } from '@/core/gauge/deviation'
import { gripShape } from '@/core/scan/shapes'
import { Slicer } from '@/core/section/slice'
import { defaultEdge, reskin } from '@/core/skin/reskin'
import { gripScan } from '@/demo/scenario'
import { pair, single, time } from '../measure'

/** Simplify 500 000 triangles to 5 % through our step with its measured deviation, against the library called bare. */
export async function simplifyFigure() {
  const m = gripShape(700, 357)
  const target = Math.round(0.05 * triangleCount(m))
  return {
    bar: 2,
    ...(await pair(
      () => simplify(m, { triangles: target }),
      () => simplifyQuadric(m, { triangles: target, error: 1e9, lockRims: true }),
    )),
  }
}

/** Simplify a million triangles to 5 %: under 10 s. */
export async function simplifyMillion() {
  const m = gripShape(1000, 500)
  return { barMs: 10_000, ms: Math.round(await single(() => simplify(m, { triangles: 50_000 }), 3)) }
}

/** Nearest-point deviation of 200 000 triangles from 200 000, at every vertex, against a general hierarchy called bare. */
export async function deviationFigure() {
  const a = gripShape(500, 200),
    b = transformMesh(a, translation([0.2, 0.1, 0.15]))
  return {
    bar: 1.3,
    ...(await pair(
      () => vertexDeviation(a, referenceOf(b)),
      () => {
        const s = new MeshSearch(b)
        for (let v = 0; v < a.positions.length / 3; v++) s.nearest(vertex(a, v))
      },
      3,
    )),
  }
}

/** One section slice of a million triangles with its filled face, after warm-up: under 33 ms. */
export async function sectionSlice() {
  const s = new Slicer(gripShape(1000, 500))
  let at = 0
  const across = await single(() => s.slice([1, 0, 0], -60 + 7 * (at++ % 17)), 15),
    along = await single(() => s.slice([0, 0, 1], -8 + (at++ % 17)), 15)
  return { barMs: 33, acrossMs: Number(across.toFixed(1)), alongMs: Number(along.toFixed(1)) }
}

/** Reskin the demo scan at a 200th of its diagonal: under 20 s; the sound part of the scan within half an edge. */
export async function reskinFigure() {
  const scan = weldMesh(gripScan()).mesh
  const edge = defaultEdge(scan)
  let out = scan
  const ms = await time(() => {
    out = reskin(scan, { edge, gap: 0, holes: 'close' })
  })
  const back = figuresOf(sampleDeviation(scan, referenceOf(out), 50_000))
  return {
    barMs: 20_000,
    ms: Math.round(ms),
    triangles: triangleCount(out),
    edge: Number(edge.toFixed(3)),
    p95: Number(back.p95.toFixed(3)),
    barP95: Number((edge / 2).toFixed(3)),
  }
}

/** Tangent closing of a hole with 200 edges: under 1 s. */
export async function closeTwoHundred() {
  const whole = gripShape(260, 200)
  // The last ring and its cap go, which leaves one rim of 200 edges.
  const keep = whole.triangles.length - 3 * 200
  const open = {
    positions: whole.positions,
    triangles: Uint32Array.from(
      whole.triangles.slice(0, keep).filter((_, i, t) => {
        const f = i - (i % 3)
        return [0, 1, 2].every((c) => whole.positions[3 * t[f + c]] < 80)
      }),
    ),
  }
  const rim = closeHoles(open, { how: 'smooth' })
  return { barMs: 1000, ms: Math.round(await single(() => closeHoles(open, { how: 'smooth' }), 5)), closed: rim.closed }
}
