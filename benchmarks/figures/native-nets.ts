/**
 * Nets and cages beside native libraries: quads by libgmsh 4.8 (Debian's libgmsh-dev; `benchmarks/native/quads.cpp`), and the places of a
 * Catmull-Clark surface by CGAL 5.5 (`compare.cpp`). Named only: `benchmark native-nets`.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { cageOfNet } from '@/core/cage/cage-of-net'
import { writeStlBinary } from '@/core/formats/stl'
import { refine } from '@/core/mend/refine'
import { quadFigures, trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'
import { meshArea } from '@/core/mesh/measures'
import { diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { forgetWorking, quadNet } from '@/core/net/quad-net'
import { deviation } from '@/core/gauge/deviation'
import { bracketShape, gripShape } from '@/core/scan/shapes'
import { subdivide, type Cage } from '@/core/subdivision/subdivide'

/** What a program writes for an input, and what it says. */
function run(program: string, input: Uint8Array | string, suffix: string, args: (files: [string, string]) => string[]) {
  const at = process.env[program]
  if (!at) throw new Error('The native program is not built; run ./glue-bench benchmark native-nets.')
  const dir = mkdtempSync(path.join(tmpdir(), 'glue-bench-native-'))
  const files: [string, string] = [path.join(dir, `in.${suffix}`), path.join(dir, 'out.off')]
  try {
    writeFileSync(files[0], input)
    const said = JSON.parse(execFileSync(at, args(files), { encoding: 'utf8' })) as { ms: number; others?: number }
    return { ...said, net: quadsOf(readFileSync(files[1], 'utf8')) }
  } finally {
    rmSync(dir, { recursive: true, force: true })
  }
}

const offOf = ({ positions, quads }: Pick<Cage, 'positions' | 'quads'>) =>
  [
    'OFF',
    `${positions.length / 3} ${quads.length / 4} 0`,
    ...Array.from({ length: positions.length / 3 }, (_, v) => positions.subarray(3 * v, 3 * v + 3).join(' ')),
    ...Array.from({ length: quads.length / 4 }, (_, q) => `4 ${quads.subarray(4 * q, 4 * q + 4).join(' ')}`),
  ].join('\n')

function quadsOf(off: string): { positions: Float64Array; quads: Uint32Array } {
  const [, n, f, , ...rest] = off.split(/\s+/)
  const p = 3 * Number(n)
  const quads = Array.from({ length: Number(f) }, (_, q) => rest.slice(p + 5 * q + 1, p + 5 * q + 5).map(Number))
  return { positions: Float64Array.from(rest.slice(0, p), Number), quads: Uint32Array.from(quads.flat()) }
}

const tidy = (v: number, digits = 2) => Number(v.toFixed(digits))

function told(net: QuadMesh, skin: TriMesh) {
  const f = quadFigures(net)
  const { both } = deviation(trianglesOfQuads(net), skin)
  const size = diagonal(meshBounds(skin))
  return {
    quads: f.quads,
    irregular: tidy(100 * f.irregular, 1),
    smallestAngle: [Math.round(f.minAngle), Math.round(f.minAngle99)],
    p95: tidy((100 * both.p95) / size, 3),
    max: tidy((100 * both.max) / size),
    closed: f.closed,
  }
}

/** Places that are in either set, each nearest to one of the other: the greatest way between. */
function apart(a: Float64Array, b: Float64Array): number {
  const cell = 1e-4
  const cells = new Map<string, number>()
  const key = (p: Float64Array, v: number, d: readonly number[]) =>
    d.map((x, k) => Math.floor(p[3 * v + k] / cell) + x).join()
  for (let v = 0; v < b.length / 3; v++) cells.set(key(b, v, [0, 0, 0]), v)
  let most = 0
  for (let v = 0; v < a.length / 3; v++) {
    let least = Infinity
    for (let i = 0; i < 27; i++) {
      const w = cells.get(key(a, v, [(i % 3) - 1, (Math.floor(i / 3) % 3) - 1, Math.floor(i / 9) - 1]))
      if (w !== undefined) least = Math.min(least, Math.hypot(...[0, 1, 2].map((k) => a[3 * v + k] - b[3 * w + k])))
    }
    most = Math.max(most, least)
  }
  return most
}

export async function nativeNets(): Promise<object> {
  const out: Record<string, object> = {}
  const skins: [string, TriMesh, number][] = [
    ['grip', refine(gripShape(260, 160), { edge: 1.2 }), 40],
    ['bracket', refine(await bracketShape({ sides: 96 }), { edge: 1.2, keepEdges: 30 }), 40],
  ]
  for (const [name, skin, angle] of skins) {
    forgetWorking()
    const from = performance.now()
    const { net } = await quadNet(skin, { count: 2000, adaptive: 0, hardAngle: angle, detail: false })
    const ms = performance.now() - from
    // The library takes an edge: one is tried, the second comes out near the count.
    let edge = Math.sqrt(meshArea(skin) / 2000)
    let other!: ReturnType<typeof run>
    for (let tries = 0; tries < 3; tries++) {
      other = run('GLUE_BENCH_NATIVE_QUADS', writeStlBinary(skin), 'stl', ([a, b]) => [
        a,
        b,
        String(edge),
        String(angle),
      ])
      edge *= Math.sqrt(other.net.quads.length / 4 / 2000)
    }
    const native = { positions: Float32Array.from(other.net.positions), quads: other.net.quads }
    out[`net of the ${name}, ${triangleCount(skin)} triangles`] = {
      ms: Math.round(ms),
      nativeMs: Math.round(other.ms),
      ours: told(net, skin),
      native: { ...told(native, skin), trianglesLeft: other.others },
    }
  }
  const { net } = await quadNet(gripShape(130, 80), { count: 300, adaptive: 0.4, hardAngle: null })
  let cage: Cage = cageOfNet(net, null)
  const other = run('GLUE_BENCH_NATIVE', offOf(cage), 'off', ([a, b]) => ['catmull-clark', a, b, '4'])
  const from = performance.now()
  for (let level = 0; level < 4; level++) cage = subdivide(cage)
  out['Catmull-Clark, a cage of 300 faces divided four times'] = {
    ms: Math.round(performance.now() - from),
    nativeMs: Math.round(other.ms),
    places: [cage.positions.length / 3, other.net.positions.length / 3],
    apart: Math.max(apart(cage.positions, other.net.positions), apart(other.net.positions, cage.positions)),
  }
  return out
}
