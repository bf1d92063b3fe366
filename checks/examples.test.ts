/** The example recipes: each runs headless, and what it makes has the size that a closed form gives where there is one. */
import { readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { decodeBody, factsOf } from '@/core/kinds/registry'
import { evaluate, MemoryStore } from '@/core/recipe/evaluate'
import { parseRecipe } from '@/core/recipe/recipe'
import { allSteps } from '@/core/steps/registry'

const names = readdirSync('examples').filter((f) => f.endsWith('.json'))

/** Volumes in mm³: prisms, Pappus, frusta, Steiner's formula for boxes with rounded edges. */
const volumes: Record<string, number> = {
  'build-extrude.json': 4 * (40 * 24 - 2 * Math.PI * 2.2 ** 2),
  // Chamfered stem (a frustum below a cylinder), flange, knob.
  'build-revolve.json': (Math.PI / 3) * (64 + 72 + 81) + Math.PI * (81 * 11 + 196 * 4 + 25 * 9),
  'build-loft.json': Math.PI * 10 * (400 + 120 + 36),
  'build-sweep.json': Math.PI * 25 * (Math.PI / 2) * 30,
  'build-cone.json': Math.PI * 5 * (64 + 24 + 9),
  'build-sphere.json': (4 / 3) * Math.PI * 729,
  'build-ring.json': 2 * Math.PI ** 2 * 12 * 9,
  'build-shell.json': 40 * 24 * 12 - 36 * 20 * 10,
  'build-fillet.json':
    36 * 20 * 8 + 2 * 2 * (36 * 20 + 36 * 8 + 20 * 8) + Math.PI * 4 * (36 + 20 + 8) + (4 / 3) * Math.PI * 8,
  // M3 medium by ISO 273: 3.4 mm; its head 5.9 mm wide and 3 mm deep.
  'build-hole.json': 40 * 24 * 12 - 4 * Math.PI * (1.7 ** 2 * 9 + 2.95 ** 2 * 3),
  'build-copies.json': 60 * 5 * 4 - 5 * Math.PI * 1.5 ** 2 * 4,
  'build-union.json': 40 * 24 * 12 + Math.PI * 25 * 8,
  'build-difference.json': 40 * 24 * 12 - Math.PI * 25 * 12,
  'build-intersection.json': Math.PI * 25 * 12,
  'build-thicken.json': 40 * 30 * 3,
  'build-cap.json': Math.PI * 64 * 20,
  // A crown of radius 50, its top at 18 over the base: the segment's area times the width.
  'build-replace-face.json': 24 * (20 * Math.sqrt(2500 - 400) + 2500 * Math.asin(0.4) + 40 * -32),
  // Two arms of 20 mm that overlap by 2.
  'build-mirror.json': 38 * 10 * 5,
}

/** Volumes, mm³, or where a body has none areas, mm², of all bodies that are there at the end, the smallest first. */
const drafted = (d: number) => 2 * (40 * 24 + 4 * (40 - d) * (24 - d) + (40 - 2 * d) * (24 - 2 * d))
const bodies: Record<string, number[]> = {
  'build-axis.json': [Math.PI * 25 * 20],
  'build-block.json': [40 * 24 * 12],
  // The chamfered slab is a prismatoid (Simpson's rule is exact for it).
  'build-chamfer.json': [40 * 24 * 10.5 + (1.5 / 6) * (40 * 24 + 4 * 38.5 * 22.5 + 37 * 21)],
  // The plane x + z = 5: widths of 15 + z on one side.
  'build-cut-by-plane.json': [40 * 24 * 12 - 24 * (15 * 12 + 72), 24 * (15 * 12 + 72)],
  'build-cylinder.json': [Math.PI * 25 * 20],
  'build-delete-face.json': [40 * 24 * 12],
  'build-draft.json': [drafted(12 * Math.tan(Math.PI / 60))],
  'build-extend.json': [45 * 40],
  'build-offset-face.json': [40 * 24 * 15],
  // The sheet faces its axis, and goes that way.
  'build-offset.json': [Math.PI * 13 * 40],
  'build-pipe.json': [Math.PI * (36 - 4.5 ** 2) * (60 + (Math.PI / 2) * 15 + 35)],
  'build-plane.json': [40 * 24 * 12],
  'build-point.json': [40 * 24 * 12],
  'build-sew.json': [4 * 10 * 20],
  // The sheet bends at y = 3 - |x| / 10.
  'build-split-by.json': [12 * (40 * 9 + 40), 12 * (40 * 15 - 40)],
  'build-trim-sheet.json': [40 * 30 - Math.PI * 64],
}

describe('examples', () => {
  it.each(names)('%s runs, and gives what it should', async (name) => {
    const recipe = parseRecipe(JSON.parse(readFileSync(`examples/${name}`, 'utf8')))
    const store = new MemoryStore()
    const done = await evaluate(recipe, {
      fileHash: () => Promise.resolve(null),
      store,
      work: quiet,
    })
    expect(done.steps.map((s) => s.error?.message)).toEqual(done.steps.map(() => undefined))
    expect(recipe.steps.at(-1)!.kind).toBe(name.replace('-', '/').replace('.json', ''))
    if (volumes[name]) expect(Number(done.steps.at(-1)!.facts.volume) / volumes[name]).toBeCloseTo(1, 7)
    if (name in bodies) {
      const made = await Promise.all(
        [...done.bodies.values()].map(async (h) => factsOf(decodeBody(await store.bytes(h)))),
      )
      const sizes = made.flatMap(({ kind, figures: f }) =>
        kind === 'solid' ? f.volume : kind === 'sheet' ? f.area : [],
      )
      sizes.sort((a, b) => a - b)
      expect(sizes.map((v, i) => v / bodies[name][i])).toEqual(bodies[name].map(() => expect.closeTo(1, 7)))
    }
  })
  it('of an outline has the area of its drawing; of lettering is one body, its letters no more than a slab', async () => {
    const last = async (name: string) => {
      const recipe = parseRecipe(JSON.parse(readFileSync(`examples/${name}`, 'utf8')))
      const store = new MemoryStore()
      const done = await evaluate(recipe, { fileHash: () => Promise.resolve(null), store, work: quiet })
      return { facts: done.steps.at(-1)!.facts, body: decodeBody(await store.bytes([...done.bodies.values()].at(-1)!)) }
    }
    const { volume, pieces } = factsOf((await last('build-lettering.json')).body).figures
    expect(pieces).toBe(1)
    expect(volume).toBeGreaterThan(80 * 20 * 3)
    expect(volume).toBeLessThan(80 * 20 * 3 + 80 * 8)
    // A plate less two bores.
    expect(Number((await last('build-outline.json')).facts.area)).toBeCloseTo(40 * 24 - 2 * Math.PI * 2.2 ** 2, 3)
  })
  it('all state what they come to', () =>
    expect(names.filter((n) => !(n in volumes) && !(n in bodies))).toEqual([
      'build-lettering.json',
      'build-outline.json',
    ]))
  it('there is one for every feature', () => {
    // Those that take meshes only have no file to start from here.
    const meshOnly = ['build/edit-hole', 'build/hollow']
    const features = allSteps.filter((s) => s.kind.startsWith('build/') && !meshOnly.includes(s.kind))
    for (const s of features) expect(names).toContain(`${s.kind.replace('/', '-')}.json`)
  })
})
