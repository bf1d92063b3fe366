/** Figures against closed forms, standards and open data; the source stands beside each. */
import { meshBody } from '@/core/bodies/body'
import { describe, expect, it } from '@jest/globals'
import bunny from 'bunny'
import { makeBlock, makeCylinder } from '@/core/kernels/exact/primitives'
import { combineSolids } from '@/core/kernels/exact/boolean'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { readStep, writeStep } from '@/core/kernels/exact/step-file'
import { boreAt, boreField, equalBores, findBores } from '@/core/find/bore'
import { editHoles, sidesFor } from '@/core/holes/edit-hole'
import { standardDiameter } from '@/core/holes/standards'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { mendAll } from '@/core/mend/mend-all'
import { MeshSearch } from '@/core/mesh/closest'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { meshFrom, vertex } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { quiet } from '@/core/base/work'
import { bracketShape } from '@/core/scan/shapes'
import { joinBodies } from '@/core/join/boolean'

describe('exact bodies', () => {
  it('block and cylinder have the volumes and areas of Euclid', async () => {
    const b = await makeBlock([20, 30, 5], [1, 2, 3], [0, 0, 1], [1, 0, 0])
    expect(b.facts).toMatchObject({
      volume: 3000,
      faces: 6,
      edges: 12,
      valid: true,
      closed: true,
      faceKinds: { plane: 6 },
    })
    const c = await makeCylinder(4, 60, [0, 0, -30], [0, 0, 1])
    expect(c.facts.volume).toBeCloseTo(Math.PI * 16 * 60, 9)
    expect(c.facts.area).toBeCloseTo(2 * Math.PI * 16 + 2 * Math.PI * 4 * 60, 9)
    expect(c.facts.size).toEqual([8, 8, 60])
  })
  it('two crossed cylinders share the Steinmetz solid, 16/3 r³ (Archimedes, The Method)', async () => {
    const r = 7
    const a = await makeCylinder(r, 40, [0, 0, -20], [0, 0, 1]),
      b = await makeCylinder(r, 40, [-20, 0, 0], [1, 0, 0])
    const common = await combineSolids('intersection', [a, b])
    expect(common.facts.volume / ((16 / 3) * r ** 3)).toBeCloseTo(1, 5)
    // The same through facets and mesh booleans, within what the chords cost.
    const mesh = meshBody((await facetSolid(a, 0.002)).mesh)
    const joined = await joinBodies(
      'intersection',
      [
        { name: 'a', body: mesh },
        { name: 'b', body: b },
      ],
      { chord: 0.002 },
      quiet,
    )
    expect(Number(joined.facts.volume) / ((16 / 3) * r ** 3)).toBeCloseTo(1, 2)
  })
  it('STEP (ISO 10303) goes out and comes back with volume and face kinds', async () => {
    const plate = await makeBlock([30, 30, 8], [0, 0, 0], [0, 0, 1], [1, 0, 0])
    const drilled = await combineSolids('difference', [plate, await makeCylinder(5, 20, [15, 15, -5], [0, 0, 1])])
    const [back] = await readStep((await writeStep([{ name: 'plate', body: drilled }])).bytes)
    expect(back.facts.volume).toBeCloseTo(30 * 30 * 8 - Math.PI * 25 * 8, 6)
    expect(back.facts.faceKinds).toMatchObject({ plane: 6, cylinder: 1 })
  })
  it('facets are closed and as near as the chord tolerance says', async () => {
    const c = await makeCylinder(10, 20, [0, 0, 0], [0, 0, 1])
    const { mesh } = await facetSolid(c, 0.01)
    expect(checkUp(mesh).facts).toMatchObject({ closed: true, selfCrossings: 0 })
    // Chords of sagitta s on radius r lose at most the share 4 s / (3 r) of the circle's area (small-angle form).
    expect(1 - meshVolume(mesh) / c.facts.volume).toBeLessThan((4 * 0.01) / (3 * 10) + 1e-4)
  })
})

describe('holes', () => {
  it('ISO 273:1979 clearance holes and tap drills', () => {
    expect(['M3 fine', 'M3 medium', 'M3 coarse', 'M8 medium', 'M3 tap'].map(standardDiameter)).toEqual([
      3.2, 3.4, 3.6, 9, 2.5,
    ])
  })
  it('the four wrong holes of the bracket are found and made M3: volume by the areas of regular polygons', async () => {
    const mesh = await bracketShape({ hole: 5.08 })
    const field = boreField(mesh)
    expect(
      findBores(field)
        .map((b) => Number(b.diameter.toFixed(2)))
        .sort((a, b) => a - b),
    ).toEqual([5.08, 5.08, 5.08, 5.08, 13])
    const near = new MeshSearch(mesh).nearest([-23 + 2.54, -13, 3])!
    const bore = boreAt(field, near.point, near.triangle, 1)!
    expect(bore).toMatchObject({ through: true })
    expect(bore.depth).toBeCloseTo(6, 4)
    const bores = equalBores(field, bore)
    expect(bores).toHaveLength(4)
    const area = (n: number, d: number) => (n / 2) * (d / 2) ** 2 * Math.sin((2 * Math.PI) / n)
    for (const d of [3.4, 7]) {
      const e = await editHoles('bracket', mesh, bores, { do: 'resize', diameter: d }, 0.005, quiet)
      expect(e.volume - e.volumeBefore).toBeCloseTo(4 * 6 * (area(96, 5.08) - area(sidesFor(d / 2, 0.005), d)), 2)
      expect(faultCount(checkUp(e.mesh).facts)).toBe(0)
      // All that is away from the plate's two faces and the old walls stands to the vertex.
      const have = new Set(Array.from({ length: e.mesh.positions.length / 3 }, (_, v) => vertex(e.mesh, v).join()))
      const walls = new Set(
        bores.flatMap((b) => b.triangles.flatMap((t) => Array.from(mesh.triangles.slice(3 * t, 3 * t + 3)))),
      )
      const gone = Array.from({ length: mesh.positions.length / 3 }, (_, v) => v).filter(
        (v) => !walls.has(v) && !have.has(vertex(mesh, v).join()),
      )
      expect(gone).toEqual([])
    }
    const closed = await editHoles('bracket', mesh, bores, { do: 'close' }, 0.005, quiet)
    expect(closed.volume - closed.volumeBefore).toBeCloseTo(4 * 6 * area(96, 5.08), 2)
    expect(findBores(boreField(closed.mesh))).toHaveLength(1)
  })
})

describe('an open scan', () => {
  it('the bunny scanned at Stanford (registry package "bunny") comes out closed, near the scan', () => {
    const raw = weldMesh(meshFrom(bunny.positions.flat(), bunny.cells.flat())).mesh
    const before = checkUp(raw).facts
    const m = mendAll(raw, { speckShare: 0.01, fill: 'smooth' })
    expect(m.after.closed).toBe(true)
    expect(faultCount(m.after)).toBeLessThanOrEqual(faultCount(before))
    expect(m.after.selfCrossings).toBe(0)
    expect(meshVolume(m.mesh)).toBeGreaterThan(0)
    expect(Math.abs(meshArea(m.mesh) / meshArea(raw) - 1)).toBeLessThan(0.1)
    // What was sound before stays where it was: every old vertex lies near the mended skin.
    const search = new MeshSearch(m.mesh)
    const reach = Math.max(...before.size)
    let far = 0
    for (let v = 0; v < raw.positions.length / 3; v++)
      if (search.nearest(vertex(raw, v))!.distance > 0.01 * reach) far++
    expect(far / (raw.positions.length / 3)).toBeLessThan(0.01)
  })
})
