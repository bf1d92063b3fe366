import { describe, expect, it } from '@jest/globals'
import { isMesh, meshBody, type Body } from '@/core/bodies/body'
import { makeBlock, makeCylinder } from '@/core/kernels/exact/primitives'
import { compose, rotation, translation } from '@/core/math/affine'
import { random } from '@/core/math/random'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { meshVolume } from '@/core/mesh/measures'
import { transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { quiet } from '@/core/base/work'
import { box, shifted, sphere, torus, without } from '@/testing/shapes'
import { joinBodies, requireClosed } from './boolean'

const body = (mesh: TriMesh): Body => meshBody(mesh)
const join = (kind: 'union' | 'difference' | 'intersection', a: TriMesh, b: TriMesh) =>
  joinBodies(
    kind,
    [
      { name: 'a', body: body(a) },
      { name: 'b', body: body(b) },
    ],
    {},
    quiet,
  )
const skin = (b: Body): TriMesh => {
  if (!isMesh(b)) throw new Error('a mesh was meant')
  return b.mesh
}

describe('booleans of meshes', () => {
  // Inclusion and exclusion: |A or B| = |A| + |B| - |A and B|, |A less B| = |A| - |A and B|.
  it('volumes of bodies at random places keep the law of inclusion and exclusion, and come out sound', async () => {
    const rng = random(12)
    const shapes = [box(20, 16, 12, 3), sphere(9, 4), torus(9, 4, 40, 20)]
    for (let i = 0; i < 9; i++) {
      const a = shapes[i % 3]
      const b = transformMesh(
        shapes[(i + 1 + Math.floor(i / 3)) % 3],
        compose(
          translation([6 * rng.next(), 6 * rng.next(), 6 * rng.next()]),
          rotation([rng.normal(), rng.normal(), rng.normal()], 360 * rng.next()),
        ),
      )
      const [u, d, c] = [
        await join('union', a, b),
        await join('difference', a, b),
        await join('intersection', a, b).catch(() => null),
      ]
      const common = c ? meshVolume(skin(c.body)) : 0
      const va = meshVolume(a),
        vb = meshVolume(b)
      expect(Math.abs(meshVolume(skin(u.body)) - (va + vb - common)) / (va + vb)).toBeLessThan(1e-6)
      expect(Math.abs(meshVolume(skin(d.body)) - (va - common)) / va).toBeLessThan(1e-6)
      for (const r of [u, d]) {
        const f = checkUp(skin(r.body)).facts
        expect(f).toMatchObject({ closed: true, nonManifoldEdges: 0, flippedEdges: 0, selfCrossings: 0 })
      }
    }
  })
  it('every triangle knows the body and the triangle it came from', async () => {
    const a = box(20, 20, 20, 2),
      b = shifted(box(10, 10, 30, 2), 5, 5, -5)
    const r = await join('difference', a, b)
    const { body: out } = r
    if (!isMesh(out) || !out.tags) throw new Error('tags are missing')
    expect(out.tags.names).toEqual(['a', 'b'])
    const { source, face } = out.tags
    expect(source).toHaveLength(triangleCount(out.mesh))
    let fromB = 0
    for (let t = 0; t < source.length; t++) {
      const of = out.tags.names[source[t]] === 'a' ? a : b
      expect(face[t]).toBeLessThan(triangleCount(of))
      if (of !== b) continue
      fromB++
      // The bore's walls: all corners on x or y = 5 or 15.
      for (let c = 0; c < 3; c++) {
        const v = 3 * out.mesh.triangles[3 * t + c]
        const [x, y] = [out.mesh.positions[v], out.mesh.positions[v + 1]]
        expect([5, 15].some((w) => Math.abs(x - w) < 1e-5) || [5, 15].some((w) => Math.abs(y - w) < 1e-5)).toBe(true)
      }
    }
    expect(fromB).toBeGreaterThan(7)
    expect(meshVolume(out.mesh)).toBeCloseTo(8000 - 100 * 20, 3)
  })
  it('what is open, inside out or flipped is refused by name and place; what does not meet is told', async () => {
    const open = without(sphere(10, 4), (_x, _y, z) => z > 9)
    await expect(join('union', box(5, 5, 5), open)).rejects.toThrow(/"b" is open: 1 hole/)
    expect(() => requireClosed('x', { positions: new Float32Array(0), triangles: new Uint32Array(0) })).toThrow(
      /holds no triangles/,
    )
    const one = sphere(10, 2)
    const flipped = {
      positions: one.positions,
      triangles: Uint32Array.from(one.triangles.map((_, i, k) => (i === 1 ? k[2] : i === 2 ? k[1] : k[i]))),
    }
    expect(() => requireClosed('x', flipped)).toThrow(/3 flipped edges/)
    const far = shifted(box(5, 5, 5), 50, 0, 0)
    await expect(join('difference', box(5, 5, 5), far)).rejects.toThrow(/"b" does not cut "a"/)
    // One of several is told; all of them leave the body as it is.
    const three = [box(5, 5, 5), far, shifted(box(1, 1, 9), 2, 2, -2)]
    const more = await joinBodies(
      'difference',
      three.map((m, i) => ({ name: 'abc'[i], body: meshBody(m) })),
      {},
      quiet,
    )
    expect(more.warnings.join()).toMatch(/"b" does not cut "a"/)
    await expect(join('union', box(5, 5, 5), shifted(box(1, 1, 1), 2, 2, 2))).rejects.toMatchObject({
      code: 'nothing-changed',
    })
    expect((await join('union', box(5, 5, 5), far)).warnings.join()).toMatch(/still 2 pieces/)
    await expect(join('intersection', box(5, 5, 5), far)).rejects.toThrow(/no room in common/)
    await expect(join('difference', box(5, 5, 5), shifted(box(9, 9, 9), -2, -2, -2))).rejects.toThrow(/cut away whole/)
  })
  it('bodies that only touch have nothing in common, and say so; ones that overlap by a thousandth have', async () => {
    const cube = box(10, 10, 10, 2)
    for (const [x, y, z] of [
      [10, 0, 0],
      [10, 3, -2],
      [10, 10, 0],
      [10, 10, 10],
    ])
      await expect(join('intersection', cube, shifted(cube, x, y, z))).rejects.toMatchObject({ code: 'empty-result' })
    await expect(join('intersection', cube, shifted(cube, 10, 0, 0))).rejects.toThrow(/no room in common/)
    const thin = await join('intersection', cube, shifted(cube, 9.999, 0, 0))
    expect(thin.facts.volume).toBeCloseTo(0.1, 2)
  })
  it('a mended mesh and exact bodies: the cut is as exact as the chord says, faceted outward of nothing', async () => {
    const plate = box(40, 40, 6, 4)
    const pin = await makeCylinder(5, 20, [20, 20, -5], [0, 0, 1])
    for (const chord of [0.1, 0.01]) {
      const r = await joinBodies(
        'difference',
        [
          { name: 'plate', body: body(plate) },
          { name: 'pin', body: pin },
        ],
        { chord },
        quiet,
      )
      const bore = 9600 - meshVolume(skin(r.body))
      // An inscribed polygon of sagitta `chord` has less area than the circle, by at most 4/3 chord a side's length.
      expect(bore).toBeLessThan(Math.PI * 25 * 6)
      expect(bore).toBeGreaterThan((Math.PI * 25 - 2 * Math.PI * 5 * chord) * 6)
      expect(faultCount(checkUp(skin(r.body)).facts)).toBe(0)
      expect(r.facts.chordToleranceMm).toBe(chord)
    }
    const exact = await joinBodies(
      'union',
      [
        { name: 'p', body: pin },
        { name: 'q', body: await makeBlock([30, 30, 4], [5, 5, 0], [0, 0, 1], [1, 0, 0]) },
      ],
      {},
      quiet,
    )
    expect(exact.facts).toMatchObject({ exact: true })
    expect(exact.facts.volume).toBeCloseTo(Math.PI * 25 * 20 + 3600 - Math.PI * 25 * 4, 6)
  })
})
