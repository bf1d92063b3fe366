/** Features on bodies that were born as meshes: exact where they are flat, on the mesh itself where a rim is round. */
import { describe, expect, it } from '@jest/globals'
import { meshBody, type ExactBody, type MeshBody } from '@/core/bodies/body'
import { reportError } from '@/core/base/step-error'
import { resolveTaken } from '@/core/find/taken'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { polyhedronOf } from '@/core/mesh/polyhedron'
import { weldMesh } from '@/core/mesh/weld'
import { bracketShape, bungShape } from '@/core/scan/shapes'
import type { StepResult } from '@/core/step/step'
import { box, cylinder, inward, shaken, shifted, sphere, without } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'

const cube = box(30, 20, 10, 4)
const volume = (r: StepResult) => r.facts.volume as number
const change = (r: StepResult) => r.facts.volumeChange as number
const fails = async (run: Promise<StepResult>) =>
  run.then(
    () => null,
    (e: unknown) => reportError(e),
  )
const corner = 1 - Math.PI / 4
/** Middle of the sliver between a right angle and the arc of radius 1 in it, from the corner (Steiner; integration by hand). */
const middle = (10 - 3 * Math.PI) / (12 - 3 * Math.PI)

describe('Facet solid', () => {
  it('makes one face of what lies in one plane, with its holes, and keeps the volume', async () => {
    const bracket = await bracketShape({ sides: 24 })
    for (const [mesh, faces] of [
      [cube, 6],
      [cylinder(6, 60, 48), 50],
      [bracket, polyhedronOf(bracket, 0.5, 0.005).faces.length],
    ] as const) {
      const r = await runStep('convert/facet-solid', { body: 'm' }, { m: mesh })
      expect(r.facts).toMatchObject({ faces, closed: true, valid: true })
      expect(volume(r) / meshVolume(mesh)).toBeCloseTo(1, 8)
    }
    // Plate, boss top and foot are one face each, however many triangles they were.
    const flat = polyhedronOf(bracket, 0.5, 0.005).faces.filter((f) => f.loops.length > 1)
    expect(flat.map((f) => f.loops.length).sort()).toEqual([2, 6, 6])
  })
  it('picked areas become one plane each, and the solid is valid', async () => {
    const flat = box(30, 20, 10, 6)
    const positions = flat.positions.slice()
    for (let v = 0; v < positions.length / 3; v++) {
      if (positions[3 * v + 2] > 9.9) positions[3 * v + 2] += 0.2 * Math.sin(7 * v)
      if (positions[3 * v + 2] < 0.1) positions[3 * v + 2] += 0.1 * Math.sin(5 * v)
    }
    const planes = [
      [15, 10, 10],
      [15, 10, 0],
    ].map((at) => ({ pick: 'grow', at, angle: 40 }))
    const m = { positions, triangles: flat.triangles }
    const left = await runStep('convert/facet-solid', { body: 'm' }, { m })
    expect(Number(left.facts.faces)).toBeGreaterThan(100)
    const r = await runStep('convert/facet-solid', { body: 'm', pick: true, planes }, { m })
    expect(r.facts).toMatchObject({ faces: 6, told: 2, closed: true, valid: true })
    expect(volume(r)).toBeCloseTo(6000, -2)
  })
  it('an area that goes round is no plane, and that is said', async () => {
    const planes = [{ pick: 'grow', at: [6, 0, 30], angle: 20 }]
    const made = runStep('convert/facet-solid', { body: 'm', pick: true, planes }, { m: cylinder(6, 60, 48) })
    await expect(made).rejects.toThrow(/goes round: \d+ of its 96 triangles face away/)
  })
  it('faces whose corners do not come into one plane stay triangles; the solid is valid', async () => {
    const bung = weldMesh(await bungShape(48), 1e-6).mesh
    const r = await runStep('convert/facet-solid', { body: 'm' }, { m: bung })
    expect(r.facts).toMatchObject({ closed: true, valid: true })
    expect(volume(r) / meshVolume(bung)).toBeCloseTo(1, 6)
  }, 30_000)
  it('pieces are solids each, and what faces inward is a hollow', async () => {
    const two = concatMeshes([cube, shifted(box(5, 5, 5), 50, 0, 0), inward(shifted(box(4, 4, 4), 10, 8, 3))])
    const r = await runStep('convert/facet-solid', { body: 'm' }, { m: two })
    expect(volume(r)).toBeCloseTo(6000 + 125 - 64, 6)
    expect((r.bodies.solid as ExactBody).facts).toMatchObject({ pieces: 2, valid: true, faces: 18 })
  })
  it('an open mesh gives a sheet; a scan is refused with its count', async () => {
    const open = await runStep('convert/facet-solid', { body: 'm' }, { m: without(cube, (_x, _y, z) => z > 9.9) })
    expect((open.bodies.solid as ExactBody).kind).toBe('sheet')
    expect(open.warnings!.join()).toContain('open')
    const scan = shaken(sphere(10, 7), 0.01)
    const told = await fails(runStep('convert/facet-solid', { body: 'm' }, { m: scan }))
    expect(told).toMatchObject({ code: 'too-many-faces' })
  })
})

describe('features on flat parts of a mesh', () => {
  const on = { b: meshBody(cube) }
  it('round, cut off, hollow and lean as on a solid, and say that it became one', async () => {
    const edge = await runStep('build/fillet', { body: 'b', radius: 2, edges: [{ at: [30, 10, 10] }] }, on)
    expect(volume(edge)).toBeCloseTo(6000 - 4 * corner * 20, 6)
    expect(edge.warnings!.join()).toContain('was a mesh')
    // The whole edge of several bits was meant; and all edges of a face.
    const top = await runStep('build/chamfer', { body: 'b', distance: 2, faces: [{ at: [10, 10, 10] }] }, on)
    expect(volume(top)).toBeCloseTo(6000 - 2 * (30 + 20 + 30 + 20) + (4 * 8) / 3, 4)
    const shell = await runStep('build/shell', { body: 'b', wall: 2, open: [{ at: [10, 10, 10] }] }, on)
    expect(volume(shell)).toBeCloseTo(6000 - 26 * 16 * 8, 6)
    const draft = await runStep('build/draft', { body: 'b', faces: [{ at: [30, 10, 5] }], angle: 3 }, on)
    expect(volume(draft)).toBeCloseTo(6000 - 50 * 20 * Math.tan((3 * Math.PI) / 180), 6)
  })
})

describe('features on round rims of a mesh', () => {
  it('are exact rings on the mesh itself, inside and outside, on all holes at once', async () => {
    const b = meshBody(await bracketShape())
    const rim = (sort: string, size: object, at: number[][]) =>
      runStep(`build/${sort}`, { body: 'b', edges: at.map((p) => ({ at: p })), ...size }, { b })
    // Pappus; facets of the walls beside them cost a percent or so.
    const top = await rim('fillet', { radius: 1 }, [[12, 0, 29]])
    expect(change(top) / (-corner * 2 * Math.PI * (12 - middle))).toBeCloseTo(1, 1)
    expect(top.bodies.b!.kind).toBe('mesh')
    expect(change(await rim('chamfer', { distance: 1 }, [[12, 0, 29]])) / (-Math.PI * (12 - 1 / 3))).toBeCloseTo(1, 1)
    expect(change(await rim('chamfer', { distance: 1 }, [[6.5, 0, 29]])) / (-Math.PI * (6.5 + 1 / 3))).toBeCloseTo(1, 1)
    const foot = await rim('fillet', { radius: 2 }, [[12, 0, 6]])
    expect(change(foot) / (4 * corner * 2 * Math.PI * (12 + 2 * middle))).toBeCloseTo(1, 1)
    const holes = [
      [-23, -13],
      [23, -13],
      [23, 13],
      [-23, 13],
    ].map(([x, y]) => [x + 2.54, y, 6])
    const four = await rim('chamfer', { distance: 0.5 }, holes)
    expect(four.facts.edges).toBe(4)
    expect(change(four) / (-Math.PI * (2.54 + 0.5 / 3))).toBeCloseTo(1, 1)
    // The new face is exact: its axis is the rim's own.
    const round = resolveTaken({ from: 'b', as: 'axis', at: [11.7, 0, 28.7] }, top.bodies.b as MeshBody)
    expect(Math.abs(round.way![2])).toBeCloseTo(1, 9)
    const large = await fails(rim('fillet', { radius: 7 }, [[12, 0, 29]]))
    expect(large).toMatchObject({ code: 'too-large', offer: { set: 'radius' } })
    expect(large!.offer!.to).toBeLessThan(5.5)
  })
})

describe('Delete face on a mesh', () => {
  const bored = async () => {
    const r = await runStep('build/hole', { body: 'm', at: [[15, 10, 10]], diameter: 8, through: true }, { m: cube })
    return r.bodies.m as MeshBody
  }
  it('a round bore is healed over on the mesh, exactly', async () => {
    const m = await bored()
    const r = await runStep('build/delete-face', { body: 'm', faces: [{ at: [19, 10, 5] }] }, { m })
    expect(volume(r)).toBeCloseTo(6000, 3)
    expect(r.facts).toMatchObject({ closed: 2 })
    expect((r.bodies.m as MeshBody).kind).toBe('mesh')
  })
  it('a boss goes with its wall and top; a blind hole with its wall alone is refused', async () => {
    const boss = await runStep('build/cylinder', { name: 'c', radius: 4, height: 6, at: [15, 10, 9] }, {})
    const joined = await runStep('build/union', { bodies: ['m', 'c'] }, { m: cube, c: boss.bodies.c! })
    const m = joined.bodies.m as MeshBody
    const r = await runStep(
      'build/delete-face',
      { body: 'm', faces: [{ at: [19, 10, 12] }, { at: [15, 10, 15] }] },
      { m },
    )
    expect(volume(r)).toBeCloseTo(6000, 3)
    const blind = await runStep(
      'build/hole',
      { body: 'm', at: [[15, 10, 10]], diameter: 8, depth: 4, tip: 0 },
      { m: cube },
    ).catch(() => runStep('build/hole', { body: 'm', at: [[15, 10, 10]], diameter: 8, depth: 4 }, { m: cube }))
    const alone = runStep('build/delete-face', { body: 'm', faces: [{ at: [19, 10, 8] }] }, { m: blind.bodies.m! })
    expect((await fails(alone))?.code).toBe('not-enclosed')
  })
})

describe('What Edit hole knows of its walls', () => {
  it('the new bore is an exact cylinder for later steps, and both ways to a smaller hole come to the same volume', async () => {
    const hole = (diameter: number, m: MeshBody | typeof cube) =>
      runStep('build/hole', { body: 'm', at: [[15, 10, 10]], diameter, through: true, chord: 0.001 }, { m })
    const five = (await hole(5, cube)).bodies.m as MeshBody
    const edited = await runStep(
      'build/edit-hole',
      { body: 'm', at: [17.5, 10, 5], diameter: 3.4, chord: 0.001 },
      { m: five },
    )
    const m = edited.bodies.m as MeshBody
    const axis = resolveTaken({ from: 'm', as: 'axis', at: [16.7, 10, 5] }, m)
    expect(Math.abs(axis.way![2])).toBeCloseTo(1, 6)
    expect(m.tags?.exact?.flat().find((f) => f?.shape === 'cylinder')).toMatchObject({ radius: 1.7 })
    // The long way: a plug of 7 mm that overlaps on purpose, joined, then bored.
    const plug = await runStep('build/cylinder', { name: 'c', radius: 3.5, height: 10, at: [15, 10, 0] }, {})
    const plugged = await runStep('build/union', { bodies: ['m', 'c'] }, { m: five, c: plug.bodies.c! })
    const long = await hole(3.4, plugged.bodies.m as MeshBody)
    const exact = 6000 - Math.PI * 1.7 ** 2 * 10
    expect(Math.abs(volume(edited) - volume(long))).toBeLessThan(0.05)
    expect(Math.abs(volume(edited) - exact)).toBeLessThan(0.1)
  })
})

/** A prism over an ellipse of so many sides. */
function ellipticPrism(a: number, b: number, h: number, n: number) {
  const place = (i: number) => [a * Math.cos((2 * Math.PI * i) / n), b * Math.sin((2 * Math.PI * i) / n)]
  const ring = (z: number) => Array.from({ length: n }, (_, i) => [...place(i), z]).flat()
  const triangles: number[] = []
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    triangles.push(i, j, n + j, i, n + j, n + i, 2 * n, j, i, 2 * n + 1, n + i, n + j)
  }
  return {
    positions: Float32Array.from([...ring(0), ...ring(h), 0, 0, 0, 0, 0, h]),
    triangles: Uint32Array.from(triangles),
  }
}

describe('Edges of a mesh that bend, on the mesh itself', () => {
  const prism = ellipticPrism(30, 18, 12, 200)
  // Ramanujan's second formula, and what lies between a right angle and its arc; the middle of that runs on a shorter way.
  const around = (a: number, b: number) => {
    const q = ((a - b) / (a + b)) ** 2
    return Math.PI * (a + b) * (1 + (3 * q) / (10 + Math.sqrt(4 - 3 * q)))
  }
  it('an elliptic rim is rounded and cut off; the strip meets the skin', async () => {
    const set = { body: 'm', edges: [{ at: [30, 0, 12] }] }
    const r = await runStep('build/fillet', { ...set, radius: 3 }, { m: prism })
    const went = 9 * corner * (around(30, 18) - 2 * Math.PI * 3 * middle)
    expect(-change(r) / went).toBeCloseTo(1, 1)
    expect(Math.abs(-change(r) / went - 1)).toBeLessThan(0.012)
    expect(r.facts).toMatchObject({ edges: 200 })
    expect(r.facts.off).toBeLessThan(1e-4)
    const cut = await runStep('build/chamfer', { ...set, distance: 2 }, { m: prism })
    expect(-change(cut) / (2 * (around(30, 18) - (2 * Math.PI * 2) / 3))).toBeCloseTo(1, 2)
  })
  it('an inner edge is filled in', async () => {
    const pocket = await runStep(
      'build/difference',
      { from: 'm', take: ['c'] },
      {
        m: shifted(box(80, 50, 10, 4), -40, -25, 0),
        c: shifted(prism, 0, 0, 5),
      },
    )
    const m = pocket.bodies.m as MeshBody
    const r = await runStep('build/fillet', { body: 'm', edges: [{ at: [30, 0, 5] }], radius: 2 }, { m })
    const came = 4 * corner * (around(30, 18) - 2 * Math.PI * 2 * middle)
    expect(Math.abs(change(r) / came - 1)).toBeLessThan(0.02)
  })
  it('one that is too large for the way it bends is refused', async () => {
    const tight = ellipticPrism(30, 4, 12, 200)
    const r = await fails(runStep('build/fillet', { body: 'm', edges: [{ at: [30, 0, 12] }], radius: 9 }, { m: tight }))
    expect(r).toMatchObject({ code: 'too-large', offer: { set: 'radius' } })
    const set = { body: 'm', edges: [{ at: [30, 0, 12] }], radius: r!.offer!.to }
    expect(change(await runStep('build/fillet', set, { m: tight }))).toBeLessThan(0)
  })
})
