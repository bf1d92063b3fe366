/** Small parts as people have them, as triangles: what rooms are tried on together. Each is made once a process. */
import type { ExactBody } from '@/core/bodies/body'
import { csg } from '@/core/join/csg'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import { terrain } from './hard'
import { runStep } from './run-step'
import { box, cylinder, shaken, shifted, sphere, torus, without } from './shapes'

/** Facets of an exact body that steps make one after the other, each of the one before. */
async function faceted(chord: number, ...steps: [string, Record<string, unknown>][]): Promise<TriMesh> {
  let body: ExactBody | undefined
  for (const [kind, set] of steps) {
    const { bodies } = await runStep(
      kind,
      body ? { body: 'b', ...set } : { name: 'b', ...set },
      body ? { b: body } : {},
    )
    body = bodies.b as ExactBody
  }
  return (await facetSolid(body!, chord)).mesh
}

const block: [string, Record<string, unknown>] = ['build/block', { size: [30, 20, 12], at: [0, 0, 0] }]
const disc: [string, Record<string, unknown>] = ['build/cylinder', { radius: 16, height: 9, at: [2, -3, 1] }]

/** A plate with two bores of one size and a third across. */
const bored = async (sides: number): Promise<TriMesh> => {
  const plate = shifted(box(40, 24, 8, 3), 0, 0, 0)
  const pins = [
    [10, 12],
    [30, 12],
  ].map(([x, y]) => shifted(cylinder(3, 20, sides), x, y, -5))
  const { mesh } = await csg(
    'difference',
    [plate, ...pins].map((m, i) => ({ name: String(i), mesh: m })),
  )
  return mesh
}

const makers = {
  'bored plate': () => bored(32),
  'bored plate, coarse': () => bored(11),
  'bored plate, noisy': async () => shaken(await bored(24), 0.01, 4),
  'rounded block': () => faceted(0.05, block, ['build/fillet', { edges: 'all', radius: 3 }]),
  'chamfered block': () => faceted(0.2, block, ['build/chamfer', { edges: 'all', distance: 2 }]),
  'countersunk disc': () =>
    faceted(0.05, disc, [
      'build/hole',
      { at: [[2, -3, 10]], diameter: 6, through: true, head: 'countersink', headDiameter: 12 },
    ]),
  'shelled block': () => faceted(0.2, block, ['build/shell', { open: [{ at: [15, 10, 12] }], wall: 2 }]),
  'turned ring': () => Promise.resolve(torus(14, 4, 40, 20)),
  ball: () => Promise.resolve(shifted(sphere(9, 3), 3, 4, 5)),
  'two that cross': () =>
    Promise.resolve(concatMeshes([box(20, 20, 20, 2), shifted(cylinder(6, 40, 20), 10, 10, -10)])),
  'open box': () => Promise.resolve(without(box(20, 16, 12, 4), (_x, _y, z) => z > 11.9)),
  terrain: () => Promise.resolve(terrain(20)),
} satisfies Record<string, () => Promise<TriMesh>>

export type PartName = keyof typeof makers
export const partNames = Object.keys(makers) as PartName[]

const made = new Map<PartName, Promise<TriMesh>>()
export function part(name: PartName): Promise<TriMesh> {
  let mesh = made.get(name)
  if (!mesh) made.set(name, (mesh = makers[name]()))
  return mesh
}
