/**
 * The same jobs done by CGAL 5.5 (Debian's libcgal-dev; `benchmarks/native/compare.cpp`): time of ours over time of the library's, one
 * process each, best of three, and how far either result lies from the truth. Named only: `benchmark native`.
 */
import { meshBody } from '@/core/bodies/body'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { readOff, writeOff } from '@/core/formats/off'
import { joinBodies } from '@/core/join/boolean'
import { translation } from '@/core/math/affine'
import { random } from '@/core/math/random'
import { checkUp } from '@/core/mesh/check-up'
import { closeHoles } from '@/core/mend/close-holes'
import { refine } from '@/core/mend/refine'
import { simplify } from '@/core/mend/simplify'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes, keepTriangles, transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { figuresOf, referenceOf, sampleDeviation } from '@/core/gauge/deviation'
import { quiet } from '@/core/base/work'
import { recognise } from '@/core/fit/recognise'
import { shaken } from '@/testing/shapes'
import { bracketShape, gripShape } from '@/core/scan/shapes'
import { defaultEdge, reskin } from '@/core/skin/reskin'
import { gripScan } from '@/demo/scenario'
import { time } from '../measure'

interface Native {
  ms: number
  count: number
  mesh: TriMesh
  /** What it wrote, where that is no mesh. */
  text: string
}

/** Tasks whose result is no mesh. */
const told = new Set(['self-crossings', 'shapes'])

function native(task: string, mesh: TriMesh, number = 0, other?: TriMesh, runs = 3): Native {
  const program = process.env.GLUE_BENCH_NATIVE
  if (!program) throw new Error('The native program is not built; run ./glue-bench benchmark native.')
  const dir = mkdtempSync(path.join(tmpdir(), 'glue-bench-native-'))
  const file = (name: string) => path.join(dir, name)
  try {
    writeFileSync(file('in.off'), writeOff([{ name: 'body', mesh }]))
    if (other) writeFileSync(file('other.off'), writeOff([{ name: 'body', mesh: other }]))
    let best: { ms: number; count: number } | null = null
    for (let i = 0; i < runs; i++) {
      const said = JSON.parse(
        execFileSync(
          program,
          [task, file('in.off'), file('out.off'), String(number), ...(other ? [file('other.off')] : [])],
          { encoding: 'utf8', maxBuffer: 1 << 20 },
        ),
      ) as { ms: number; count: number }
      if (!best || said.ms < best.ms) best = said
    }
    const out = readFileSync(file('out.off'))
    return told.has(task)
      ? { ...best!, mesh, text: out.toString('utf8') }
      : { ...best!, mesh: readOff(out).parts[0].mesh, text: '' }
  } finally {
    rmSync(dir, { recursive: true, force: true })
  }
}

async function ours<T>(work: () => T | Promise<T>): Promise<{ ms: number; out: T }> {
  let best = Infinity
  let out!: T
  for (let i = 0; i < 4; i++) {
    const ms = await time(async () => {
      out = await work()
    })
    if (i > 0 && ms < best) best = ms
  }
  return { ms: best, out }
}

const tidy = (v: number, digits = 4) => Number(v.toFixed(digits))
const row = (a: number, b: number, rest: object) => ({
  ms: Math.round(a),
  nativeMs: Math.round(b),
  ratio: tidy(a / b, 2),
  ...rest,
})
/** How far points of the truth lie from a result, mm. */
const off = (truth: TriMesh, result: TriMesh) => {
  const f = figuresOf(sampleDeviation(truth, referenceOf(result), 50_000))
  return { rms: tidy(f.rms), p95: tidy(f.p95), max: tidy(f.max) }
}

/** Spread of the edge lengths: standard deviation over mean. */
function spread(m: TriMesh): number {
  let n = 0,
    sum = 0,
    squares = 0
  for (let h = 0; h < m.triangles.length; h++) {
    const a = 3 * m.triangles[h],
      b = 3 * m.triangles[h % 3 === 2 ? h - 2 : h + 1]
    const l = Math.hypot(
      m.positions[a] - m.positions[b],
      m.positions[a + 1] - m.positions[b + 1],
      m.positions[a + 2] - m.positions[b + 2],
    )
    n++
    sum += l
    squares += l * l
  }
  return tidy(Math.sqrt(Math.max(0, squares / n - (sum / n) ** 2)) / (sum / n), 3)
}

/** A grip of 100 000 triangles with 60 holes of some 40 triangles. */
function holed(): { whole: TriMesh; open: TriMesh } {
  const whole = gripShape(316, 158)
  const n = triangleCount(whole)
  const rng = random(5)
  const keep = new Uint8Array(n).fill(1)
  for (let i = 0; i < 60; i++) {
    const t = Math.floor(rng.next() * n)
    const p = 3 * whole.triangles[3 * t]
    for (let k = 0; k < n; k++) {
      const q = 3 * whole.triangles[3 * k]
      if (
        Math.hypot(
          whole.positions[p] - whole.positions[q],
          whole.positions[p + 1] - whole.positions[q + 1],
          whole.positions[p + 2] - whole.positions[q + 2],
        ) < 1.5
      )
        keep[k] = 0
    }
  }
  return { whole, open: keepTriangles(whole, keep).mesh }
}

export async function nativeFigures() {
  const out: Record<string, object> = {}
  const { whole, open } = holed()
  {
    const a = await ours(() => closeHoles(open, { how: 'smooth' })),
      b = native('close-holes', open)
    out['close holes, tangent'] = row(a.ms, b.ms, {
      closed: [a.out.closed, b.count],
      off: off(whole, a.out.mesh),
      nativeOff: off(whole, b.mesh),
    })
  }
  {
    const two = concatMeshes([gripShape(316, 158), transformMesh(gripShape(316, 158), translation([2, 1, 0.5]))])
    const a = await ours(() => findSelfCrossings(two)),
      b = native('self-crossings', two)
    out['self-crossings, 200 k'] = row(a.ms, b.ms, { found: [a.out.length / 2, b.count] })
  }
  {
    const m = gripShape(700, 357)
    const target = Math.round(0.05 * triangleCount(m))
    const a = await ours(() => simplify(m, { triangles: target })),
      b = native('simplify', m, target)
    out['simplify, 500 k to 5 %'] = row(a.ms, b.ms, {
      triangles: [triangleCount(a.out.mesh), triangleCount(b.mesh)],
      off: off(m, a.out.mesh),
      nativeOff: off(m, b.mesh),
    })
  }
  {
    const m = gripShape(150, 75)
    const a = await ours(() => refine(m, { edge: 1 })),
      b = native('refine', m, 1)
    out['refine, to 1 mm'] = row(a.ms, b.ms, {
      triangles: [triangleCount(a.out), triangleCount(b.mesh)],
      spread: [spread(a.out), spread(b.mesh)],
      off: off(m, a.out),
      nativeOff: off(m, b.mesh),
    })
  }
  {
    const scan = weldMesh(gripScan()).mesh
    const edge = defaultEdge(scan)
    const a = await ours(() => reskin(scan, { edge, gap: 0, holes: 'close' })),
      b = native('reskin', scan, 1.7 * edge, undefined, 1)
    const crossings = (m: TriMesh) => checkUp(m).facts.selfCrossings
    out['reskin, the demo scan'] = row(a.ms, b.ms, {
      triangles: [triangleCount(a.out), triangleCount(b.mesh)],
      crossings: [crossings(a.out), crossings(b.mesh)],
      off: off(scan, a.out),
      nativeOff: off(scan, b.mesh),
    })
  }
  {
    const p = gripShape(500, 200),
      q = transformMesh(p, translation([9, 7, 5]))
    const a = await ours(() =>
        joinBodies(
          'union',
          [
            { name: 'p', body: meshBody(p) },
            { name: 'q', body: meshBody(q) },
          ],
          {},
          quiet,
        ),
      ),
      b = native('union', p, 0, q)
    out['union, two of 200 k'] = row(a.ms, b.ms, {
      volume: [
        tidy(meshVolume((a.out as unknown as { body: { mesh: TriMesh } }).body.mesh), 2),
        tidy(meshVolume(b.mesh), 2),
      ],
    })
  }
  for (const noise of [0.015, 0.03]) {
    const m = shaken(refine(await bracketShape({ sides: 96 }), { edge: 1.2 }), noise)
    // Asked of the mesh anew each time: the same one is at hand.
    const a = await ours(() => recognise({ ...m })),
      b = native('shapes', m, 3 * noise)
    out[`shapes of the bracket, ${Math.round(triangleCount(m) / 1000)} k, off by ${noise}`] = row(a.ms, b.ms, {
      found: kindsOf(a.out.regions.map((r) => [r.shape?.kind ?? 'free', r.shape?.radius ?? 0])),
      nativeFound: kindsOf(
        b.text
          .trim()
          .split('\n')
          .map((l) => [l.split(' ')[0], Number(l.split(' ')[1])]),
      ),
    })
  }
  return out
}

/** Radii of the bracket's round walls: boss, its bore, four corners, four bores. */
const bracketRadii = [12, 6.5, 6, 6, 6, 6, 2.54, 2.54, 2.54, 2.54]

/** How many of each kind (it has 7 planes and 10 cylinders), and how far the cylinders' radii are off, mm. */
function kindsOf(list: readonly (readonly [string, number])[]): object {
  const counts: Record<string, number> = {}
  for (const [kind] of list) counts[kind] = (counts[kind] ?? 0) + 1
  const left = list.filter(([kind]) => kind === 'cylinder').map(([, r]) => r)
  const offs = bracketRadii.flatMap((r) => {
    const best = left.map((x, i) => [Math.abs(x - r), i] as const).sort((p, q) => p[0] - q[0])[0]
    if (!best || best[0] > 0.2) return []
    left.splice(best[1], 1)
    return [best[0]]
  })
  return { ...counts, radiiFound: offs.length, radiusOffMost: tidy(Math.max(0, ...offs)) }
}
