/** Parts of known faces, faceted by the kernel coarsely and finely: every plane, cylinder, cone, ball and ring is found, none invented. */
import { describe, expect, it } from '@jest/globals'
import type { ExactBody, MeshBody } from '@/core/bodies/body'
import { resolveTaken } from '@/core/find/taken'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { readStep } from '@/core/kernels/exact/step-file'
import { bracketShape } from '@/core/scan/shapes'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { runStep } from '@/testing/run-step'
import { box, cylinder, shaken, sphere } from '@/testing/shapes'
import { noiseOf, recognise } from './recognise'
import { itLong } from '@/testing/long'

/** How many regions of each kind and radius. */
function tally(mesh: TriMesh, digits = 2) {
  const out: Record<string, number> = {}
  for (const { shape } of recognise(mesh).regions) {
    const r = shape?.thickness ?? shape?.radius ?? shape?.halfAngle
    const key = shape ? `${shape.kind}${r === undefined ? '' : ` ${Number(r.toFixed(digits))}`}` : 'free'
    out[key] = (out[key] ?? 0) + 1
  }
  return out
}
const faceted = async (b: ExactBody, chord: number) => (await facetSolid(b, chord)).mesh
const one = async (kind: string, set: Record<string, unknown>, on?: ExactBody) =>
  (await runStep(kind, set, on ? { b: on } : {})).bodies.b as ExactBody

describe('clean tessellations', () => {
  it('blocks and pins', () => {
    expect(tally(box(30, 20, 10, 4))).toEqual({ plane: 6 })
    expect(tally(cylinder(10, 20, 48))).toEqual({ plane: 2, 'cylinder 10': 1 })
    expect(tally(sphere(15, 3))).toEqual({ 'sphere 15': 1 })
  })
  it('a bracket with its bores, slot ends and boss', async () => {
    expect(tally(await bracketShape({ sides: 48 }))).toEqual({
      plane: 7,
      'cylinder 12': 1,
      'cylinder 6.5': 1,
      'cylinder 6': 4,
      'cylinder 2.54': 4,
    })
  })
  it.each([0.05, 0.01])(
    'a box with all edges rounded, facets within %d: twelve edges, eight corners',
    async (chord) => {
      const b = await one('build/block', { name: 'b', size: [40, 30, 20], at: [0, 0, 0] })
      const rounded = await one('build/fillet', { body: 'b', edges: 'all', radius: 4 }, b)
      expect(tally(await faceted(rounded, chord))).toEqual({ plane: 6, 'cylinder 4': 12, 'sphere 4': 8 })
    },
  )
  it('a countersunk flange, and a ring', async () => {
    const disc = await one('build/cylinder', { name: 'b', radius: 40, height: 8, at: [0, 0, 0] })
    const at = [0, 1, 2, 3, 4, 5].map((i) => [28 * Math.cos((i * Math.PI) / 3), 28 * Math.sin((i * Math.PI) / 3), 8])
    const set = { body: 'b', at, diameter: 5, through: true, head: 'countersink', headDiameter: 10 }
    const flange = await one('build/hole', set, disc)
    expect(tally(await faceted(flange, 0.02))).toEqual({ plane: 2, 'cylinder 40': 1, 'cylinder 2.5': 6, 'cone 45': 6 })
    const ring = await one('build/ring', { name: 'b', radius: 20, thickness: 5, at: [0, 0, 0] })
    expect(tally(await faceted(ring, 0.1))).toEqual({ 'ring 5': 1 })
  })
  it('each triangle is in one region, and in none twice', async () => {
    const mesh = await bracketShape({ sides: 24 })
    const { regions, of } = recognise(mesh)
    const seen = new Int32Array(of.length).fill(-1)
    regions.forEach((r, i) => {
      for (const t of r.triangles) {
        expect(seen[t]).toBe(-1)
        seen[t] = i
      }
    })
    expect([...seen]).toEqual([...of])
  })
})

describe('a part with noise', () => {
  itLong(
    'has the same faces: seven planes, ten cylinders, radii within three times the noise',
    async () => {
      const drawn = await bracketShape({ sides: 96 })
      const fine = await runStep('mend/refine', { body: 'm', edge: 1.2 }, { m: drawn })
      const sigma = 0.02 / Math.sqrt(3)
      const { regions } = recognise(shaken((fine.bodies.m as MeshBody).mesh, 0.02))
      const large = regions.filter((r) => r.triangles.length > 15)
      const radii = large.flatMap((r) => (r.shape?.kind === 'cylinder' ? [r.shape.radius!] : [])).sort((a, b) => a - b)
      expect(large.filter((r) => r.shape?.kind === 'plane')).toHaveLength(7)
      expect(radii).toHaveLength(10)
      const truth = [2.54, 2.54, 2.54, 2.54, 6, 6, 6, 6, 6.5, 12]
      radii.forEach((r, i) => expect(Math.abs(r - truth[i])).toBeLessThan(truth[i] === 6 ? 12 * sigma : 3 * sigma))
    },
    60_000,
  )
})

describe('noise', () => {
  it('is next to nothing for drawn parts and of the right size for shaken ones', () => {
    expect(noiseOf(box(30, 20, 10, 12)).flattest).toBeLessThan(1e-9)
    const { noise } = noiseOf(shaken(box(30, 20, 10, 24), 0.05))
    expect(noise).toBeGreaterThan(0.01)
    expect(noise).toBeLessThan(0.2)
  })
})

describe('Recognise', () => {
  it('later steps take axes and faces from the mesh, and STEP holds them', async () => {
    const m = await bracketShape({ sides: 48 })
    const r = await runStep('convert/recognise', { body: 'm' }, { m })
    expect(r.facts).toMatchObject({ planes: 7, cylinders: 10, cones: 0, free: 0 })
    const list = r.facts.regions as { shape: string; radius?: number; at: number[]; axis: number[] }[]
    const boss = list.find((x) => x.shape === 'cylinder' && Math.abs(x.radius! - 12) < 1e-3)!
    const body = r.bodies.m as MeshBody
    expect(body.mesh).toEqual(m)
    // Taken by a place on its wall: the very axis.
    const u = Math.abs(boss.axis[2]) > 0.9 ? [1, 0, 0] : [0, 0, 1]
    const at = boss.at.map((v, k) => v + 12 * u[k]) as [number, number, number]
    const taken = resolveTaken({ from: 'm', as: 'axis', at }, body)
    expect(Math.abs(taken.way!.reduce((s, v, k) => s + v * boss.axis[k], 0))).toBeCloseTo(1, 9)
    const sent = await runStep('send-out/file', { bodies: ['m'], file: 'm.step' }, { m: body })
    const sheets = await readStep(sent.files![0].bytes)
    const kinds = (k: 'plane' | 'cylinder') => sheets.reduce((n, b) => n + b.facts.faceKinds[k], 0)
    expect(kinds('cylinder')).toBeGreaterThanOrEqual(10)
    expect(kinds('plane')).toBe(7)
  })
  it('done again it finds anew, and what came from exact bodies stays', async () => {
    const plain = await runStep(
      'build/hole',
      { body: 'm', at: [[15, 10, 10]], diameter: 8, through: true },
      { m: box(30, 20, 10, 4) },
    )
    const once = await runStep('convert/recognise', { body: 'm' }, { m: plain.bodies.m! })
    const twice = await runStep('convert/recognise', { body: 'm' }, { m: once.bodies.m! })
    const shown = ({ tags }: MeshBody) => {
      const names = new Map<string, number>()
      tags!.source.forEach((s, t) => {
        const name = tags!.exact![s]?.[tags!.face[t]]?.name ?? 'none'
        names.set(name, (names.get(name) ?? 0) + 1)
      })
      return [...names].sort()
    }
    expect(shown(once.bodies.m as MeshBody).map(([n]) => n)).toContain('hole/wall')
    expect(shown(twice.bodies.m as MeshBody)).toEqual(shown(once.bodies.m as MeshBody))
    // Only one of its sources is spoken of, and it is the last.
    const { tags } = twice.bodies.m as MeshBody
    expect(new Set([...tags!.source].filter((s) => tags!.names[s] === 'recognised'))).toEqual(
      new Set([tags!.names.lastIndexOf('recognised')]),
    )
  })
})
