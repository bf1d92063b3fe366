/**
 * Open CAD parts that Debian packages carry: their exact solids are cut into facets, and the clean solids of those compared with them. The
 * assembly AS1 is the test part of the STEP implementers' forum (package gmsh-doc); a welded frame, a hinge and a bored block come with
 * netgen-doc. Where the packages cannot be fetched there is nothing to compare, and these are left out.
 */
import { beforeAll, describe, expect, it } from '@jest/globals'
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { gunzipSync } from 'node:zlib'
import { quiet } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { cleanSolidOf } from '@/core/clean/clean-solid'
import { readStl } from '@/core/formats/stl'
import { readStep } from '@/core/kernels/exact/step-file'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { meshVolume, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'

const home = path.join(tmpdir(), 'glue-bench-open-parts')

/** Fetches and unpacks a package, once. */
function unpacked(name: string): string | null {
  const to = path.join(home, name)
  if (existsSync(to)) return to
  mkdirSync(home, { recursive: true })
  const got = spawnSync('apt-get', ['download', name], { cwd: home, stdio: 'ignore', timeout: 60_000 })
  const file = readdirSync(home).find((f) => f.startsWith(`${name}_`))
  if (got.status !== 0 || !file) return null
  return spawnSync('dpkg-deb', ['-x', file, to], { cwd: home, stdio: 'ignore' }).status === 0 ? to : null
}

const [first, second] = [unpacked('gmsh-doc'), unpacked('netgen-doc')]
const here = first && second ? describe : describe.skip
const assemblyFile = () =>
  new Uint8Array(gunzipSync(readFileSync(path.join(first!, 'usr/share/doc/gmsh-doc/doc/gmsh/demos/api/as1-tu-203.stp.gz')))) // prettier-ignore
const example = (file: string) =>
  new Uint8Array(readFileSync(path.join(second!, 'usr/share/doc/netgen/examples', file)))

const clean = (mesh: TriMesh) =>
  cleanSolidOf(mesh, 'part', 'clean', { way: 'faces', draw: ['line', 'arc'], regular: true, loose: [] }, quiet)

/** Radii of the round faces, to a hundredth, each once. */
const radii = (b: ExactBody) =>
  [...new Set(b.parts.faces.flatMap((f) => (f.radius ? [f.radius.toFixed(2)] : [])))].sort()

/** Facets of a solid within this share of its size, its clean solid, and by how much the volumes of both differ. */
async function again(solid: ExactBody, share = 5e-4) {
  const { mesh } = await facetSolid(solid, share * Math.hypot(...solid.facts.size))
  const made = await clean(mesh)
  const off = (v: number) => Math.abs(v / solid.facts.volume - 1)
  return { ...made, off: off(made.body.facts.volume), facetsOff: off(meshVolume(mesh)) }
}

here('open parts', () => {
  let assembly: ExactBody[] = []
  beforeAll(async () => {
    assembly = await readStep(assemblyFile())
  })

  it('of the assembly: a plate, brackets, bolts, nuts and a rod, whose round walls the file keeps as splines', async () => {
    expect(assembly).toHaveLength(18)
    const found: Record<string, string> = {}
    for (const solid of assembly) {
      const r = await again(solid)
      expect(r.faceted).toBe(0)
      expect(r.body.facts).toMatchObject({ valid: true, closed: true })
      expect(r.off).toBeLessThan(Math.min(6e-5, r.facetsOff))
      // Halves of one wall are one; nothing else is there.
      const { plane, cylinder } = r.body.facts.faceKinds
      expect(plane).toBe(solid.facts.faceKinds.plane)
      expect(2 * cylinder).toBe(solid.facts.faceKinds.bspline)
      found[`${plane} + ${cylinder}`] = radii(r.body).join(', ')
    }
    // Planes + cylinders of the rod, bolts, nuts, plate and brackets, and their radii.
    expect(found).toEqual({ '2 + 1': '5.00', '3 + 2': '5.00, 7.50', '6 + 1': '5.00', '6 + 6': '5.00', '8 + 4': '5.00' })
  })

  it('a frame of tubes in 13 000 facets: every radius and every drill point, in under 60 s', async () => {
    const [solid] = await readStep(example('frame.step'))
    const from = performance.now()
    const r = await again(solid)
    expect(performance.now() - from).toBeLessThan(60_000)
    expect(r.body.facts).toMatchObject({ valid: true, closed: true })
    expect(r.off).toBeLessThan(2e-5)
    expect(radii(r.body)).toEqual(radii(solid))
    // Each cone and cylinder comes in halves; two bores are off their own edges by more than the facets, and stay facets.
    expect(2 * r.body.facts.faceKinds.cone).toBe(solid.facts.faceKinds.cone)
    expect(r.faceted).toBeLessThan(200)
  })

  it.each([
    ['part1.stl', { plane: 8, cylinder: 4 }, [0.5, 0.75, 1]],
    ['hinge.stl', { plane: 7, cylinder: 8, cone: 3 }, [2.5, 3, 5, 6]],
  ] as const)('%s, which comes as a mesh', async (file, kinds, sizes) => {
    const r = await clean(weldMesh(readStl(example(file)).parts[0].mesh).mesh)
    expect(r.faceted).toBe(0)
    expect(r.body.facts).toMatchObject({ valid: true, closed: true, faceKinds: kinds })
    expect(radii(r.body).map(Number)).toEqual([...sizes])
  })
})
