import { describe, expect, it } from '@jest/globals'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { resolvePart } from '@/core/kinds/parts'
import { rotation } from '@/core/math/affine'
import { meshVolume } from '@/core/mesh/measures'
import { buildTopology } from '@/core/mesh/topology'
import { combineSolids, solidDistance } from './boolean'
import { kernelMemory } from '../memory'
import { exactKernel } from './kernel'
import { makeBlock, makeCylinder } from './primitives'
import { liveHandles, withKernel } from './scope'
import { cachedShapes, clearShapes } from './shape-cache'
import { readStep, writeStep } from './step-file'
import { transformSolid } from './transform'
import { facetSolid } from './triangles'

const z = [0, 0, 1] as const
const block = (name = 'plate', size: [number, number, number] = [30, 20, 6]) =>
  makeBlock(size, [0, 0, 0], z, [1, 0, 0], name)
const pin = (at: [number, number, number], name = 'pin', radius = 4) => makeCylinder(radius, 40, at, z, name)
const faces = (b: ExactBody) => b.parts.faces.map((f) => f.name).sort()

describe('primitives', () => {
  it('name their faces by where they lie, and know kind, area, axis and radius exactly', async () => {
    const b = await block()
    expect(faces(b)).toEqual(['plate/back', 'plate/base', 'plate/front', 'plate/left', 'plate/right', 'plate/top'])
    const top = b.parts.faces.find((f) => f.name === 'plate/top')!
    expect(top).toMatchObject({ shape: 'plane', at: [15, 10, 6], area: 600, axis: [0, 0, 1] })
    const c = await pin([0, 0, 0])
    const wall = c.parts.faces.find((f) => f.name === 'pin/wall')!
    // Lateral area of a cylinder: 2 pi r h.
    expect(wall).toMatchObject({ shape: 'cylinder', radius: 4, axis: [0, 0, 1] })
    expect(wall.area).toBeCloseTo(2 * Math.PI * 4 * 40, 4)
    const rim = c.parts.edges.find((e) => e.name === 'pin/top | pin/wall')!
    expect(rim).toMatchObject({ shape: 'circle', radius: 4 })
    expect(rim.length).toBeCloseTo(8 * Math.PI, 5)
  })
  it('facets carry the face, lines the edge they show', async () => {
    const b = await block()
    b.display.face.forEach((f, t) => {
      const v = 3 * b.display.triangles[3 * t]
      const n = [b.display.normals[v], b.display.normals[v + 1], b.display.normals[v + 2]]
      b.parts.faces[f].axis!.forEach((a, k) => expect(n[k]).toBeCloseTo(a, 6))
    })
    const lengths = new Float64Array(b.parts.edges.length)
    b.display.edge.forEach((e, s) => {
      const l = b.display.lines
      lengths[e] += Math.hypot(l[6 * s + 3] - l[6 * s], l[6 * s + 4] - l[6 * s + 1], l[6 * s + 5] - l[6 * s + 2])
    })
    b.parts.edges.forEach((e, i) => expect(lengths[i]).toBeCloseTo(e.length, 6))
  })
})

describe('names', () => {
  it('stay with their faces through a cut, and the cut brings those of the cutter', async () => {
    const cut = await combineSolids('difference', [await block(), await pin([10, 10, -5])])
    expect(faces(cut)).toEqual([
      'pin/wall',
      'plate/back',
      'plate/base',
      'plate/front',
      'plate/left',
      'plate/right',
      'plate/top',
    ])
    expect(
      cut.parts.edges
        .filter((e) => e.shape === 'circle')
        .map((e) => e.name)
        .sort(),
    ).toEqual(['pin/wall | plate/base', 'pin/wall | plate/top'])
  })
  it('are found again when something upstream has changed size and place', async () => {
    const hole = async (x: number, radius: number, length: number) =>
      combineSolids('difference', [await block('plate', [length, 20, 6]), await pin([x, 10, -5], 'pin', radius)])
    const before = await hole(10, 4, 30)
    const wall = before.parts.faces.find((f) => f.name === 'pin/wall')!
    const rim = before.parts.edges.find((e) => e.name === 'pin/wall | plate/top')!
    const after = await hole(32, 2.5, 44)
    const found = resolvePart(after, 'face', { at: wall.at, name: wall.name })
    expect(found).toMatchObject({ shape: 'cylinder', radius: 2.5 })
    expect(resolvePart(after, 'edge', { at: rim.at, name: rim.name })).toMatchObject({ shape: 'circle', radius: 2.5 })
    // Moved and turned whole, they keep their names.
    const turned = await transformSolid(after, rotation([1, 0, 0], 90))
    expect(resolvePart(turned, 'face', { at: [0, 0, 0], name: 'pin/wall' }).axis).toEqual([0, -1, 0])
  })
  it('of equal bodies are told apart, faces that were split by their places', async () => {
    const slot = await combineSolids('difference', [
      await block('plate', [30, 20, 6]),
      await makeBlock([10, 40, 40], [10, -10, 3], z, [1, 0, 0], 'slot'),
    ])
    expect(faces(slot).filter((n) => n.startsWith('plate/top'))).toEqual(['plate/top #1', 'plate/top #2'])
    const left = resolvePart(slot, 'face', { at: [29, 10, 6], name: 'plate/top #1' })
    expect(left.at[0]).toBeLessThan(10)
    // A name from before the split goes to the nearer part.
    expect(resolvePart(slot, 'face', { at: [29, 10, 6], name: 'plate/top' }).at[0]).toBeGreaterThan(20)
    const both = await combineSolids('union', [await pin([0, 0, 0]), await pin([3, 0, 0])])
    expect(new Set(faces(both)).size).toBe(both.parts.faces.length)
  })
  it('that are gone are asked for, never guessed', async () => {
    const b = await block()
    expect(resolvePart(b, 'face', { at: [15, 10, 7] }).name).toBe('plate/top')
    // A place off the body means none of its faces.
    expect(() => resolvePart(b, 'face', { at: [15, 10, 50] })).toThrow(/the nearest one lies 44 mm from the place/)
    const lost = (ref: Parameters<typeof resolvePart>[2]) => () => resolvePart(b, 'face', ref)
    expect(lost({ at: [100, 100, 100], name: 'pin/wall' })).toThrow(StepError)
    expect(lost({ at: [30, 10, 6], name: 'pin/wall' })).toThrow(/several others/)
    // Renamed, but alone where it was: it is still the one.
    expect(resolvePart(b, 'face', { at: [15, 10, 6], name: 'pin/wall' }).name).toBe('plate/top')
  })
})

describe('measuring', () => {
  it('the distance of two bodies, which the bench warns by', async () => {
    expect(await solidDistance(await pin([0, 0, 0]), await pin([10, 0, 0]))).toBeCloseTo(2, 9)
    expect(await solidDistance(await pin([0, 0, 0]), await pin([3, 0, 0]))).toBe(0)
  })
  it('facets close up, whatever was faceted before', async () => {
    const b = await pin([0, 0, 0])
    const fine = await facetSolid(b, 0.001),
      coarse = await facetSolid(b, 0.2)
    expect(coarse.mesh.triangles.length).toBeLessThan(fine.mesh.triangles.length / 3)
    expect(buildTopology(fine.mesh).openEdges).toBe(0)
    // A polygon of n sides inscribed: the volume nears pi r^2 h from below.
    expect(meshVolume(fine.mesh) / (Math.PI * 16 * 40)).toBeCloseTo(1, 3)
    expect(meshVolume(fine.mesh)).toBeLessThan(Math.PI * 16 * 40)
    expect((await facetSolid(b, 0.001)).mesh).toEqual(fine.mesh)
  })
})

describe('the scope', () => {
  it('leaves no handle undeleted but the shapes it keeps on purpose, however a call ends', async () => {
    await combineSolids('union', [await block(), await pin([10, 10, -5])])
    clearShapes()
    expect(liveHandles()).toBe(0)
    const a = await block(),
      b = await pin([10, 10, -5])
    for (let i = 0; i < 20; i++) await combineSolids('difference', [a, b])
    expect(liveHandles()).toBe(cachedShapes())
    await expect(
      withKernel('Trying', (oc) => {
        new oc.gp_Pnt(1, 2, 3)
        throw new Error('half-way')
      }),
    ).rejects.toThrow(/Trying failed in the exact kernel \(half-way\)/)
    await expect(combineSolids('intersection', [a, await pin([100, 0, 0])])).rejects.toThrow(/leaves nothing/)
    await expect(pin([0, 0, 0], 'p', -1)).rejects.toThrow(StepError)
    expect(liveHandles()).toBe(cachedShapes())
    clearShapes()
    expect(liveHandles()).toBe(0)
  })
  it('tells how much the kernel holds', async () => {
    await exactKernel()
    expect(kernelMemory()).toMatchObject({ spoilt: false })
    expect(kernelMemory().bytes).toBeGreaterThan(1 << 20)
  })
})

describe('STEP', () => {
  const text = async (b: Uint8Array) => new TextDecoder().decode(b)
  it('gives bodies back with the names of their products, in letters of any script', async () => {
    const { bytes } = await writeStep([
      { name: "Grip 'left'", body: await block('a') },
      { name: 'Bügel Ж', body: await pin([50, 0, 0]) },
    ])
    expect(await text(bytes)).toContain("Grip ''left''")
    const [a, b] = await readStep(bytes, 'part')
    expect([a.label, b.label]).toEqual(["Grip 'left'", 'Bügel Ж'])
    expect(a.facts.volume).toBeCloseTo(3600, 6)
    expect(a.parts.faces.every((f) => f.name.startsWith('part 1/plane'))).toBe(true)
    expect(new Set(faces(a)).size).toBe(6)
  })
  it('keeps the colour a file gives a body', async () => {
    const plain = await text((await writeStep([{ name: 'red', body: await block('a') }])).bytes)
    const solid = /#(\d+)\s*=\s*MANIFOLD_SOLID_BREP/.exec(plain)![1]
    const top = Math.max(...[...plain.matchAll(/#(\d+)\s*=/g)].map((m) => Number(m[1])))
    // A styled item as ISO 10303-46 writes it.
    const style = [
      `#${top + 1} = COLOUR_RGB('',1.,0.5,0.);`,
      `#${top + 2} = FILL_AREA_STYLE_COLOUR('',#${top + 1});`,
      `#${top + 3} = FILL_AREA_STYLE('',(#${top + 2}));`,
      `#${top + 4} = SURFACE_STYLE_FILL_AREA(#${top + 3});`,
      `#${top + 5} = SURFACE_SIDE_STYLE('',(#${top + 4}));`,
      `#${top + 6} = SURFACE_STYLE_USAGE(.BOTH.,#${top + 5});`,
      `#${top + 7} = PRESENTATION_STYLE_ASSIGNMENT((#${top + 6}));`,
      `#${top + 8} = STYLED_ITEM('color',(#${top + 7}),#${solid});`,
    ].join('\n')
    const at = plain.lastIndexOf('ENDSEC;')
    const [body] = await readStep(new TextEncoder().encode(`${plain.slice(0, at)}${style}\n${plain.slice(at)}`))
    expect(body.colour).toBe('#ff8000')
  })
  it('brings faces that belong to no solid as sheets', async () => {
    const bytes = await withKernel('Making a face', (oc) => {
      const face = new oc.BRepBuilderAPI_MakeFace(
        new oc.gp_Pln(new oc.gp_Pnt(0, 0, 0), new oc.gp_Dir(0, 0, 1)),
        0,
        10,
        0,
        5,
      )
      const writer = new oc.STEPControl_Writer()
      writer.Transfer(face.Shape(), 'STEPControl_AsIs' as never, true, new oc.Message_ProgressRange())
      writer.Write('/face.step')
      const made = oc.FS.readFile('/face.step', { encoding: 'utf8' }) as unknown as string
      oc.FS.unlink('/face.step')
      return new TextEncoder().encode(made)
    })
    const all = await readStep(bytes, 'skin')
    expect(all.map((b) => b.kind)).toEqual(['sheet'])
    expect(all[0].facts).toMatchObject({ faces: 1, closed: false, valid: true, area: 50 })
  })
})
