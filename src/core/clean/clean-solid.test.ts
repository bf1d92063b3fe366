/** Parts of known faces, faceted by the kernel, come back as the solids they were; scans of them within their noise. */
import { beforeAll, describe, expect, it } from '@jest/globals'
import type { ExactBody, MeshBody } from '@/core/bodies/body'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import { bracketShape } from '@/core/scan/shapes'
import type { Facts } from '@/core/base/facts'
import { runStep } from '@/testing/run-step'
import { box, cylinder, shaken, shifted, sphere } from '@/testing/shapes'
import { itLong, mostly } from '@/testing/long'

const made = async (kind: string, set: Record<string, unknown>, on: Record<string, ExactBody> = {}) => {
  const { bodies } = await runStep(kind, set, on)
  return (bodies.b ?? Object.values(bodies)[0]) as ExactBody
}
const faceted = async (b: ExactBody, chord: number) => (await facetSolid(b, chord)).mesh

interface Told {
  readonly solid: ExactBody
  readonly facts: Facts & {
    way: string
    faceted: number
    volume: number
    deviation: { max: number }
    regular: { text: string; taken: boolean }[]
  }
  readonly kinds: Record<string, number>
  readonly warnings: readonly string[]
  readonly all: ExactBody[]
}
async function clean(mesh: TriMesh, set: Record<string, unknown> = {}): Promise<Told> {
  const { bodies, facts, warnings } = await runStep('convert/clean-solid', { body: 'm', ...set }, { m: mesh })
  const all = Object.values(bodies) as ExactBody[]
  return {
    solid: all[0],
    all,
    facts: facts as Told['facts'],
    kinds: facts.faceKinds as Record<string, number>,
    warnings: warnings ?? [],
  }
}

const at = (x: number, y: number, z: number): [number, number, number] => [x, y, z]
const rod = () => made('build/cylinder', { name: 'b', radius: 10, height: 40, at: at(0, 0, 0) })
const block = () => made('build/block', { name: 'b', size: [40, 30, 20], at: at(0, 0, 0) })
const around = [0, 1, 2, 3, 4, 5].map((i) => at(28 * Math.cos((i * Math.PI) / 3), 28 * Math.sin((i * Math.PI) / 3), 8))

/** Solids, the chord they are faceted with, and how they come back. */
const parts: Record<
  string,
  { make: () => Promise<ExactBody>; chord: number; kinds: Record<string, number>; way: string }
> = {
  'a disc': {
    make: () => made('build/cylinder', { name: 'b', radius: 40, height: 8, at: at(3, 4, 5) }),
    chord: 0.02,
    kinds: { plane: 2, cylinder: 1 },
    way: 'extrusion',
  },
  'a ring': {
    make: () => made('build/ring', { name: 'b', radius: 20, thickness: 5, at: at(0, 0, 0) }),
    chord: 0.1,
    kinds: { torus: 1 },
    way: 'turning',
  },
  'a box with all edges rounded': {
    make: async () => made('build/fillet', { body: 'b', edges: 'all', radius: 4 }, { b: await block() }),
    chord: 0.05,
    kinds: { plane: 6, cylinder: 12, sphere: 8 },
    way: 'faces',
  },
  'a countersunk flange': {
    make: async () =>
      made(
        'build/hole',
        { body: 'b', at: around, diameter: 5, through: true, head: 'countersink', headDiameter: 10 },
        { b: await made('build/cylinder', { name: 'b', radius: 40, height: 8, at: at(0, 0, 0) }) },
      ),
    chord: 0.02,
    kinds: { plane: 2, cylinder: 7, cone: 6 },
    way: 'faces',
  },
  'a rod with a cross bore': {
    make: async () =>
      made(
        'build/difference',
        { from: 'b', take: ['c'] },
        {
          b: await rod(),
          c: await made('build/cylinder', { name: 'c', radius: 3, height: 40, at: at(-20, 0, 20), axis: [1, 0, 0] }),
        },
      ),
    chord: 0.02,
    kinds: { plane: 2, cylinder: 2 },
    way: 'faces',
  },
  'a rod cut aslant': {
    make: async () =>
      made('build/cut-by-plane', { body: 'b', at: at(0, 0, 28), normal: [0.3, 0, 1], keep: 'b' }, { b: await rod() }),
    chord: 0.02,
    kinds: { plane: 2, cylinder: 1 },
    way: 'faces',
  },
  'a rod with rounded ends': {
    make: async () => made('build/fillet', { body: 'b', edges: 'all', radius: 2 }, { b: await rod() }),
    chord: 0.02,
    kinds: { plane: 2, cylinder: 1, torus: 2 },
    way: 'turning',
  },
  'a block with a hollow': {
    make: async () =>
      made(
        'build/difference',
        { from: 'b', take: ['c'] },
        {
          b: await block(),
          c: await made('build/cylinder', { name: 'c', radius: 4, height: 10, at: at(0, 0, 5) }),
        },
      ),
    chord: 0.02,
    kinds: { plane: 8, cylinder: 1 },
    way: 'faces',
  },
}

describe('clean tessellations come back as they were', () => {
  it.each(Object.keys(parts))('%s', async (name) => {
    const { make, chord, kinds, way } = parts[name]
    const part = await make()
    const mesh = await faceted(part, chord)
    const { solid, facts, kinds: found } = await clean(mesh)
    expect(solid.kind).toBe('solid')
    expect(solid.facts).toMatchObject({ valid: true, closed: true })
    expect(facts).toMatchObject({ way, faceted: 0 })
    expect(found).toEqual(kinds)
    // To a hundredth of what the facets are off.
    const facets = Math.abs(meshVolume(mesh) - part.facts.volume)
    expect(Math.abs(facts.volume - part.facts.volume)).toBeLessThan(Math.max(1e-6, 0.01 * facets))
  })
  it('face by face on wish, with the same volume', async () => {
    const { facts, kinds } = await clean(cylinder(10, 20, 48), { way: 'faces' })
    expect(facts.way).toBe('faces')
    expect(kinds).toEqual({ plane: 2, cylinder: 1 })
    expect(facts.volume).toBeCloseTo(2000 * Math.PI, 6)
  })
  it('a ball, from facets alone', async () => {
    const { facts, kinds } = await clean(sphere(15, 3))
    expect(kinds).toEqual({ sphere: 1 })
    expect(facts.volume / ((4 / 3) * Math.PI * 15 ** 3)).toBeCloseTo(1, 5)
  })
})

describe('profiles', () => {
  let letters: TriMesh
  let volume = 0
  beforeAll(async () => {
    const drawing = { points: [[0, 0]], curves: [], lettering: [{ text: 'ROWS', at: 0, size: 10 }] }
    const outline = await runStep('build/outline', { name: 'o', drawing }, {})
    const solid = await made('build/extrude', { outline: 'o', distance: 3, name: 'b' }, outline.bodies as never)
    volume = solid.facts.volume
    letters = await faceted(solid, 0.02)
  })
  it('letters in one mesh: each an extrusion of lines and arcs, of its own name', async () => {
    const { all, facts } = await clean(letters)
    expect(all).toHaveLength(4)
    expect(facts).toMatchObject({ solids: 4, faceted: 0, valid: true, closed: true })
    expect(Math.abs(facts.volume - volume)).toBeLessThan(2e-4 * volume)
    expect(facts.deviation.max).toBeLessThan(0.01)
  })
  it('with splines only: round letters have few faces', async () => {
    const lines = await clean(letters)
    const splines = await clean(letters, { draw: ['spline'] })
    const faces = (t: Told) => t.all.reduce((n, b) => n + b.facts.faces, 0)
    expect(faces(splines)).toBeLessThan(0.6 * faces(lines))
    expect(Math.abs(splines.facts.volume - volume)).toBeLessThan(5e-4 * volume)
  })
  itLong('a turned vase whose wall is a spline: three faces', async () => {
    const drawing = {
      points: [at(0, 0, 0), at(20, 0, 0), at(30, 20, 0), at(15, 40, 0), at(18, 60, 0), at(0, 60, 0)].map((p) =>
        p.slice(0, 2),
      ),
      curves: [
        { kind: 'line', from: 5, to: 0 },
        { kind: 'line', from: 0, to: 1 },
        { kind: 'spline', through: [1, 2, 3, 4] },
        { kind: 'line', from: 4, to: 5 },
      ],
    }
    const outline = await runStep('build/outline', { name: 'o', normal: [0, -1, 0], x: [1, 0, 0], drawing }, {})
    const vase = await made(
      'build/revolve',
      { outline: 'o', axis: [0, 0, 1], at: at(0, 0, 0), name: 'b' },
      outline.bodies as never,
    )
    const { facts, all } = await clean(await faceted(vase, 0.05), { draw: ['line', 'spline'] })
    expect(facts).toMatchObject({ way: 'turning', faceted: 0 })
    expect(all[0].facts.faces).toBe(3)
    expect(facts.volume / vase.facts.volume).toBeCloseTo(1, 3)
  })
  it('the table tells each wall with its kind, size and distance', async () => {
    const { facts } = await clean(
      await faceted(await made('build/cylinder', { name: 'b', radius: 40, height: 8, at: at(3, 4, 5) }), 0.02),
    )
    const table = facts.table as unknown as { shape: string; size?: number; corners: number; max: number }[]
    expect(table.map((f) => f.shape).sort()).toEqual(['cylinder', 'plane', 'plane'])
    expect(table.find((f) => f.shape === 'cylinder')).toMatchObject({ size: 40 })
    for (const f of table) expect(f.max).toBeLessThan(1e-5)
  })
  it('what is none is told', async () => {
    await expect(clean(sphere(10, 3), { way: 'extrusion' })).rejects.toMatchObject({ code: 'no-extrusion' })
    await expect(clean(box(30, 20, 10, 1), { way: 'turning' })).rejects.toMatchObject({ code: 'no-turning' })
  })
})

describe('drawn parts that were remeshed or scanned', () => {
  itLong.each([
    [2, 0],
    [1.2, 0],
    [1.2, 0.015],
  ])('the bracket in triangles of %s mm, off by %s: all seventeen faces', async (edge, noise) => {
    const fine = await runStep('mend/refine', { body: 'm', edge }, { m: await bracketShape({ sides: 48 }) })
    const m = shaken((fine.bodies.m as MeshBody).mesh, noise)
    const r = await clean(m, { way: 'faces' })
    expect(r.kinds).toEqual({ plane: 7, cylinder: 10 })
    expect(r.facts.faceted).toBe(0)
    // Corners on chords of 48 sides lie within 12 (1 - cos(pi / 48)) = 0.026 of the walls.
    const drawn = await clean(await bracketShape({ sides: 48 }), { way: 'faces' })
    expect(Math.abs(r.facts.volume / drawn.facts.volume - 1)).toBeLessThan(1e-3)
  })
})

describe('fillets left out', () => {
  const rounded = async () => made('build/fillet', { body: 'b', edges: 'all', radius: 4 }, { b: await block() })
  const cases: Record<
    string,
    { make: () => Promise<ExactBody>; set?: object; kinds: Record<string, number>; volume: number; out: number }
  > = {
    'a box with all edges rounded is the box it was': { make: rounded, kinds: { plane: 6 }, volume: 24_000, out: 20 },
    'a rod with rounded ends is the rod': {
      make: async () => made('build/fillet', { body: 'b', edges: 'all', radius: 2 }, { b: await rod() }),
      kinds: { plane: 2, cylinder: 1 },
      volume: Math.PI * 100 * 40,
      out: 2,
    },
    'a boss on a plate, its foot and its rim rounded': {
      make: async () => {
        const joined = await made(
          'build/union',
          { bodies: ['b', 'c'] },
          { b: await block(), c: await made('build/cylinder', { name: 'c', radius: 8, height: 15, at: at(0, 0, 20) }) },
        )
        const edges = [at(8, 0, 20), at(8, 0, 35)].map((p) => ({ at: p }))
        return made('build/fillet', { body: 'b', edges, radius: 1.5 }, { b: joined })
      },
      kinds: { plane: 7, cylinder: 1 },
      volume: 24_000 + Math.PI * 64 * 15,
      out: 2,
    },
    'only those up to a radius': {
      make: async () => {
        const uprights = [at(20, 15, 10), at(-20, 15, 10), at(20, -15, 10), at(-20, -15, 10)].map((p) => ({ at: p }))
        const upright = await made('build/fillet', { body: 'b', edges: uprights, radius: 6 }, { b: await block() })
        return made('build/fillet', { body: 'b', edges: [{ at: at(0, 15, 20) }], radius: 2 }, { b: upright })
      },
      set: { upTo: 3 },
      kinds: { plane: 6, cylinder: 4 },
      volume: 24_000 - (4 - Math.PI) * 36 * 20,
      out: 8,
    },
  }
  it.each(Object.keys(cases))('%s', async (name) => {
    const { make, set, kinds, volume, out } = cases[name]
    const m = await faceted(await make(), 0.02)
    const kept = await clean(m, { way: 'faces' })
    expect(kept.facts.faceted).toBe(0)
    const r = await clean(m, { fillets: 'out', ...set })
    expect(r.warnings).toEqual([])
    expect(r.facts.filletsLeftOut).toBe(out)
    expect(r.kinds).toEqual(kinds)
    expect(r.solid.facts.valid).toBe(true)
    expect(r.solid.facts.volume / volume).toBeCloseTo(1, 5)
    expect(r.solid.facts.volume).not.toBeCloseTo(kept.solid.facts.volume, 0)
  })
  it('the round end of a slot is no fillet: it stays, and that none was found is said', async () => {
    const m = await faceted(await rod(), 0.02)
    const r = await clean(m, { fillets: 'out' })
    expect(r.kinds).toEqual({ plane: 2, cylinder: 1 })
    expect(r.warnings[0]).toMatch(/No fillets/)
  })
})

describe('the map', () => {
  it('of an extrusion tells on which side of its walls corners lie', async () => {
    const round = cylinder(10, 20, 60, 4)
    // Every other ruling lies a little outside of the circle, the next as much inside.
    const positions = round.positions.map((v, k) => {
      const angle = Math.atan2(round.positions[k - (k % 3) + 1], round.positions[k - (k % 3)])
      const out = Math.round((angle * 60) / (2 * Math.PI)) % 2 ? 1.001 : 0.999
      return k % 3 === 2 ? v : v * out
    })
    const { facts } = await clean({ positions, triangles: round.triangles }, { way: 'extrusion', tolerance: 0.05 })
    const { histogram, against } = facts as unknown as { against: string; histogram: { bins: number[] } }
    expect(against).toBe('solid')
    expect(facts.deviation.max).toBeCloseTo(0.01, 2)
    const half = histogram.bins.length >> 1
    const side = (some: readonly number[]) => some.reduce((a, b) => a + b, 0)
    expect(side(histogram.bins.slice(0, half))).toBeGreaterThan(0)
    expect(side(histogram.bins.slice(-half))).toBeGreaterThan(0)
  })
})

describe('what cannot be recognised', () => {
  it.each(mostly([0.02, 0.05], (chord) => chord === 0.05))(
    'a blend between two tubes faceted at %s becomes fitted faces beside true tubes, or stays facets, and the body is a solid',
    async (chord) => {
      const tee = await made(
        'build/union',
        { bodies: ['b', 'c'] },
        {
          b: await rod(),
          c: await made('build/cylinder', { name: 'c', radius: 6, height: 30, at: at(0, 0, 20), axis: [1, 0, 0.3] }),
        },
      )
      const blended = await made('build/fillet', { body: 'b', edges: 'all', radius: 1 }, { b: tee })
      const mesh = await faceted(blended, chord)
      const off = (volume: number) => Math.abs(volume / blended.facts.volume - 1)
      const { solid, facts, kinds, warnings } = await clean(mesh, { leftovers: 'facets' })
      expect(solid.facts).toMatchObject({ valid: true, closed: true })
      expect(kinds.cylinder).toBe(2)
      expect(facts.faceted).toBeGreaterThan(100)
      expect(off(facts.volume)).toBeLessThan(chord / 50)
      expect(warnings[0]).toMatch(/facets/)
      const fitted = await clean(mesh)
      expect(fitted.solid.facts).toMatchObject({ valid: true, closed: true })
      expect(fitted.kinds.cylinder).toBe(2)
      expect(fitted.facts.fitted).toBe(fitted.kinds.bspline)
      expect(fitted.facts.faceted).toBeLessThan(12)
      expect(off(fitted.facts.volume)).toBeLessThan(chord / 1000)
    },
  )
  it('an open mesh gives a sheet, and where it is open', async () => {
    const whole = cylinder(10, 20, 48)
    const open = { positions: whole.positions, triangles: whole.triangles.slice(0, -3 * 48) }
    const { solid, facts, warnings } = await clean(open)
    expect(solid.kind).toBe('sheet')
    expect((facts.open as unknown[]).length).toBe(2)
    expect(warnings[0]).toMatch(/open at 2 rims/)
  })
  it('non-manifold edges are sent to Mend', async () => {
    const b = box(10, 10, 10, 1)
    const fin = {
      positions: b.positions,
      triangles: Uint32Array.from([...b.triangles, b.triangles[0], b.triangles[1], 6]),
    }
    await expect(clean(fin)).rejects.toMatchObject({
      code: 'not-closed',
      details: { tryThis: expect.stringContaining('Mend') },
    })
  })
  it('stray pieces are left out, and told', async () => {
    const part = cylinder(10, 20, 48)
    const specks = concatMeshes([
      part,
      shifted(box(0.1, 0.1, 0.1, 1), 30, 0, 0),
      shifted(box(0.1, 0.1, 0.1, 1), 31, 0, 0),
    ])
    const { all, kinds, warnings } = await clean(specks)
    expect(all).toHaveLength(1)
    expect(kinds).toEqual({ plane: 2, cylinder: 1 })
    expect(warnings[0]).toMatch(/2 stray pieces/)
    const { all: every } = await clean(specks, { least: 0 })
    expect(every).toHaveLength(3)
  })
  it('pieces: hollows stay with the body round them', async () => {
    const inner = sphere(5, 3)
    const hollow = concatMeshes([
      sphere(15, 4),
      { positions: inner.positions, triangles: inner.triangles.slice().reverse() },
    ])
    const { all, kinds } = await clean(hollow)
    expect(all).toHaveLength(1)
    expect(kinds).toEqual({ sphere: 2 })
  })
})

describe('regularities', () => {
  it('of the bracket are found, listed and snapped', async () => {
    const { facts, solid } = await clean(await bracketShape({ sides: 48 }))
    const texts = facts.regular.map((r) => r.text)
    expect(texts).toContain('3 planes and 10 cylinders along z')
    expect(texts).toContain('4 cylinders of radius 2.54')
    expect(texts.some((t) => /mirrored about x 0/.test(t))).toBe(true)
    const radii = solid.parts.faces.flatMap((f) => (f.shape === 'cylinder' ? [f.radius!] : []))
    expect(radii.filter((r) => r === 2.54)).toHaveLength(4)
  })
  it('one that is not wanted is left as the mesh has it', async () => {
    const loose = ['4 cylinders of radius 2.54']
    const { facts, solid } = await clean(await bracketShape({ sides: 48 }), { loose })
    expect(facts.regular.find((r) => r.text === loose[0])).toMatchObject({ taken: false })
    expect(solid.facts.valid).toBe(true)
  })
})

describe('scans', () => {
  itLong.each([0.01, 0.03])('of the bracket with noise %d: every face, radii within twice the noise', async (noise) => {
    const refined = await runStep('mend/refine', { body: 'm', edge: 2 }, { m: await bracketShape({ sides: 96 }) })
    const truth = meshVolume(await bracketShape({ sides: 96 }))
    const { facts, kinds, solid } = await clean(shaken((refined.bodies.m as { mesh: TriMesh } & ExactBody).mesh, noise))
    expect(kinds).toEqual({ plane: 7, cylinder: 10 })
    expect(facts).toMatchObject({ faceted: 0, valid: true, closed: true })
    expect(facts.volume / truth).toBeCloseTo(1, 3)
    const radii = solid.parts.faces.flatMap((f) => (f.shape === 'cylinder' ? [f.radius!] : [])).sort((a, b) => a - b)
    const want = [2.54, 2.54, 2.54, 2.54, 6, 6, 6, 6, 6.5, 12]
    radii.forEach((r, i) => expect(Math.abs(r - want[i])).toBeLessThan(Math.max(0.02, 2 * noise)))
    // Axes along z to a tenth of a degree.
    for (const f of solid.parts.faces)
      if (f.shape === 'cylinder') expect(Math.abs(f.axis![2])).toBeGreaterThan(Math.cos(0.1 * (Math.PI / 180)))
  })
})
