/** Figures as ratios: each pair runs in one process, alternating, medians of 5. */
import { readMeshFile } from '@/core/formats/read'
import { writeStlBinary } from '@/core/formats/stl'
import { joinBodies } from '@/core/join/boolean'
import { manifoldKernel } from '@/core/kernels/manifold'
import { translation } from '@/core/math/affine'
import { checkUp } from '@/core/mend/check-up'
import { MeshSearch } from '@/core/mesh/closest'
import { transformMesh, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { quiet } from '@/core/recipe/work'
import { gripShape } from '@/core/scan/shapes'

const median = (v: number[]) => [...v].sort((a, b) => a - b)[v.length >> 1]

async function pair(ours: () => unknown, plain: () => unknown): Promise<{ ms: number; plainMs: number; ratio: number }> {
  const a: number[] = [], b: number[] = []
  for (let i = 0; i < 6; i++) for (const [list, work] of [[a, ours], [b, plain]] as const) {
    const from = performance.now()
    await work()
    if (i > 0) list.push(performance.now() - from)
  }
  return { ms: Math.round(median(a)), plainMs: Math.round(median(b)), ratio: Number((median(a) / median(b)).toFixed(2)) }
}

const figures: Record<string, () => Promise<object>> = {
  'read-weld': () => {
    const bytes = writeStlBinary(gripShape(1000, 500))
    return pair(() => readMeshFile(bytes, 'x.stl'), () => {
      const out = new Uint8Array(bytes.length)
      for (let i = 0; i < bytes.length; i++) out[i] = bytes[i]
      return out
    }).then((r) => ({ bar: 4, ...r }))
  },
  boolean: async () => {
    const a = gripShape(500, 200), b = transformMesh(a, translation([9, 7, 5]))
    const { Manifold, Mesh } = await manifoldKernel()
    const bare = (m: TriMesh) => new Manifold(new Mesh({ numProp: 3, vertProperties: m.positions, triVerts: m.triangles }))
    return { bar: 1.15, ...(await pair(
      () => joinBodies('union', [{ name: 'a', body: { kind: 'mesh', mesh: a } }, { name: 'b', body: { kind: 'mesh', mesh: b } }], {}, quiet),
      () => { const p = bare(a), q = bare(b), r = p.add(q); r.getMesh(); for (const m of [p, q, r]) m.delete() })) }
  },
  'check-up': async () => {
    const m = gripShape(500, 200)
    return { bar: 3, ...(await pair(() => checkUp(m), () => { const s = new MeshSearch(m); for (let v = 0; v < m.positions.length / 3; v++) s.nearest(vertex(m, v)) })) }
  },
}

const names = process.argv.slice(2).filter((a) => !a.startsWith('--'))
const out: Record<string, object> = {}
for (const [name, run] of Object.entries(figures)) if (!names.length || names.includes(name)) out[name] = await run()
process.stdout.write(`${JSON.stringify(out, null, 2)}\n`)
