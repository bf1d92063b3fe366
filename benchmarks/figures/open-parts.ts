/**
 * Open CAD parts that Debian packages carry: their exact solids are cut into facets within 0.05 % of their size, and the clean solids of
 * those compared with them. The assembly AS1 is the test part of the STEP implementers' forum (package gmsh-doc); a welded frame, a hinge
 * and a bored block, the latter two meshes, come with netgen-doc. The packages are fetched when it is named: `benchmark open-parts`.
 */
import { readFileSync } from 'node:fs'
import path from 'node:path'
import { gunzipSync } from 'node:zlib'
import { quiet } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { cleanSolidOf } from '@/core/clean/clean-solid'
import { readStl } from '@/core/formats/stl'
import { readStep } from '@/core/kernels/exact/step-file'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { meshVolume } from '@/core/mesh/measures'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { unpackedPackage } from '../debian-package'

const share = 5e-4

async function clean(mesh: TriMesh) {
  const from = performance.now()
  const made = await cleanSolidOf(
    mesh,
    'part',
    'clean',
    { way: 'faces', draw: ['line', 'arc'], regular: true, loose: [], leftovers: 'fitted' },
    quiet,
  )
  const { valid, closed, faceKinds } = made.body.facts
  return {
    ms: Math.round(performance.now() - from),
    triangles: mesh.triangles.length / 3,
    sound: valid && closed,
    kinds: kindsOf(faceKinds),
    radii: radiiOf(made.body),
    leftovers: made.faceted,
    volume: made.body.facts.volume,
  }
}

const kindsOf = (k: ExactBody['facts']['faceKinds']) =>
  Object.entries(k)
    .flatMap(([kind, n]) => (n ? [`${n} ${kind}`] : []))
    .join(', ')
const radiiOf = (b: ExactBody) =>
  [...new Set(b.parts.faces.flatMap((f) => (f.radius ? [f.radius.toFixed(2)] : [])))].sort().join(' ')
const millionths = (v: number, of: number) => Number(((v / of - 1) * 1e6).toFixed(1))

async function ofSolid(solid: ExactBody) {
  const { mesh } = await facetSolid(solid, share * Math.hypot(...solid.facts.size))
  const { volume, ...made } = await clean(mesh)
  return {
    ...made,
    kindsInFile: kindsOf(solid.facts.faceKinds),
    radiiInFile: radiiOf(solid),
    volumeOff: millionths(volume, solid.facts.volume),
    facetsOff: millionths(meshVolume(mesh), solid.facts.volume),
  }
}

/** What comes back of each part: kinds of faces, radii, and volumes in millionths off, beside what the file and its facets say. */
export async function openParts(): Promise<object> {
  const first = path.join(unpackedPackage('gmsh-doc'), 'usr/share/doc/gmsh-doc/doc/gmsh/demos/api/as1-tu-203.stp.gz')
  const second = path.join(unpackedPackage('netgen-doc'), 'usr/share/doc/netgen/examples')
  const out: Record<string, object> = {}
  for (const [i, solid] of (await readStep(new Uint8Array(gunzipSync(readFileSync(first))))).entries())
    out[`assembly AS1, part ${i + 1}`] = await ofSolid(solid)
  const [frame] = await readStep(new Uint8Array(readFileSync(path.join(second, 'frame.step'))))
  out.frame = await ofSolid(frame)
  for (const file of ['part1.stl', 'hinge.stl'])
    out[file] = await clean(weldMesh(readStl(new Uint8Array(readFileSync(path.join(second, file)))).parts[0].mesh).mesh)
  return out
}
