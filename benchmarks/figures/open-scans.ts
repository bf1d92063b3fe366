/**
 * Nets, cages and smooth solids of open scans and faceted parts: those of Debian's `libcgal-demo`, the bunny scanned at Stanford of the
 * registry's `bunny`. Fetched when it is named: `benchmark open-scans`. Distances are in per cent of the diagonal.
 */
import { readFileSync } from 'node:fs'
import path from 'node:path'
import bunny from 'bunny'
import { quiet } from '@/core/base/work'
import { meshBody, type Body } from '@/core/bodies/body'
import { readOff } from '@/core/formats/off'
import { readStl } from '@/core/formats/stl'
import { diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { forgetWorking } from '@/core/net/quad-net'
import { runOn, type Facts } from '@/core/step/step'
import { stepOf } from '@/core/steps/registry'
import { unpackedArchive } from '../debian-package'

/** Name of the file, whether hard edges are followed, whether a solid of it is made as well. */
const inputs: readonly { file: string; hard?: boolean; solid?: boolean }[] = [
  { file: 'bunny', solid: true },
  { file: 'bunny00.off' },
  { file: 'refined_elephant.off', solid: true },
  { file: 'armadillo.off', solid: true },
  { file: 'bear.off', solid: true },
  { file: 'camel.off' },
  { file: 'dino.off' },
  { file: 'cow.off' },
  { file: 'bull.off' },
  { file: 'hand.off' },
  { file: 'femur.off' },
  { file: 'lion-head.off' },
  { file: 'blade.off' },
  { file: 'pig.stl' },
  { file: 'fandisk.off', hard: true, solid: true },
  { file: 'rotor_small.off', hard: true, solid: true },
  { file: 'handle.off', hard: true },
  { file: 'anchor_dense.off', hard: true },
  { file: 'mech-holes-shark.off', hard: true },
  { file: 'turbine.off', hard: true },
  { file: 'couplingdown.off', hard: true },
]

function meshOf(file: string): TriMesh {
  if (file === 'bunny')
    return { positions: Float32Array.from(bunny.positions.flat()), triangles: Uint32Array.from(bunny.cells.flat()) }
  const bytes = new Uint8Array(
    readFileSync(
      path.join(unpackedArchive('libcgal-demo', 'usr/share/doc/libcgal-dev/data.tar.gz'), 'data/meshes', file),
    ),
  )
  return weldMesh((file.endsWith('.stl') ? readStl(bytes) : readOff(bytes)).parts[0].mesh).mesh
}

const tidy = (v: number, digits = 2) => Number(v.toFixed(digits))

/** A step over bodies by name: what it makes, its facts, how long it takes. */
async function step(kind: string, set: Record<string, unknown>, bodies: Map<string, Body>) {
  const definition = stepOf(kind)!
  const from = performance.now()
  const out = await runOn(definition, definition.settings.strict().parse(set), (name) => bodies.get(name)!, {
    names: new Set(bodies.keys()),
    work: quiet,
    file: () => Promise.reject(new Error('no files')),
  })
  for (const [name, body] of Object.entries(out.bodies)) if (body) bodies.set(name, body)
  return { facts: out.facts, warnings: out.warnings ?? [], seconds: tidy((performance.now() - from) / 1000, 1) }
}

interface Off {
  readonly max: number
  readonly p95: number
  readonly rms: number
}
const share = (facts: Facts, key: keyof Off, size: number) =>
  tidy((100 * (facts.deviation as unknown as Off)[key]) / size, 3)

async function figuresOf(file: string, hard: boolean, solid: boolean): Promise<object> {
  const mesh = meshOf(file)
  const size = diagonal(meshBounds(mesh))
  const bodies = new Map<string, Body>([['scan', meshBody(mesh)]])
  forgetWorking()
  const { facts: f, ...net } = await step(
    'convert/quad-net',
    { body: 'scan', name: 'net', count: 2000, hardEdges: hard },
    bodies,
  )
  const out = {
    triangles: triangleCount(mesh),
    quads: f.quads,
    irregular: tidy(100 * Number(f.irregular), 1),
    angle99: Math.round(Number(f.minAngle99)),
    closed: f.closed,
    p95: share(f, 'p95', size),
    max: share(f, 'max', size),
    seconds: net.seconds,
  }
  if (!solid) return out
  const smooth = await step(
    'convert/smooth-solid',
    { body: 'net', name: 'smooth', scan: 'scan', creaseAngle: hard ? 40 : 180 },
    bodies,
  )
  await step('convert/quad-net', { body: 'scan', name: 'few', count: 300, hardEdges: hard }, bodies)
  const more = hard ? { creaseAngle: 40 } : {}
  const plain = await step('convert/cage', { body: 'few', name: 'plain', scan: 'scan', ...more }, bodies)
  const through = await step(
    'convert/cage',
    { body: 'few', name: 'through', scan: 'scan', through: true, ...more },
    bodies,
  )
  return {
    ...out,
    solid: {
      faces: smooth.facts.faces,
      valid: smooth.facts.valid,
      worstAngle: tidy(Number(smooth.facts.worstAngle), 3),
      p95: share(smooth.facts, 'p95', size),
      seconds: smooth.seconds,
    },
    cage: {
      faces: plain.facts.faces,
      closer: tidy((plain.facts.deviation as unknown as Off).rms / (through.facts.deviation as unknown as Off).rms, 1),
    },
  }
}

export async function openScans(): Promise<object> {
  const out: Record<string, object> = {}
  for (const { file, hard = false, solid = false } of inputs) {
    process.stderr.write(`  ${file}\n`)
    try {
      out[file] = await figuresOf(file, hard, solid)
    } catch (error) {
      out[file] = { failed: (error as Error).message }
    }
  }
  return out
}
