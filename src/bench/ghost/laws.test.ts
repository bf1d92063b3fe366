/** A ghost equals what comes of it: by chance, wherever in a recipe its step goes, new or edited. */
import { expect, it } from '@jest/globals'
import fc from 'fast-check'
import { quiet } from '@/core/base/work'
import { dependentsOf } from '@/core/recipe/dependents'
import { evaluate, MemoryStore } from '@/core/recipe/evaluate'
import { emptyRecipe, type Recipe, type RecipeStep } from '@/core/recipe/recipe'
import { fewRuns } from '@/testing/small-bodies'
import { recipeWith, stepOfTool } from './ghost-state'

const run = (recipe: Recipe, store: MemoryStore) =>
  evaluate(recipe, { fileHash: () => Promise.resolve(null), store, work: quiet })

const size = fc.integer({ min: 2, max: 20 })
/** A body of its own, or something done to one of those before it. */
const anyStep = (id: string, before: number): fc.Arbitrary<RecipeStep> => {
  const block = fc
    .tuple(size, size, size)
    .map((s) => ({ id, kind: 'build/block', set: { name: `b${id}`, size: s, at: [0, 0, 0] } }))
  const moved = fc
    .tuple(fc.nat(Math.max(0, before - 1)), size)
    .map(([of, by]) => ({ id, kind: 'set-down/move', set: { body: `b${of}`, by: [by, 1, 2] } }))
  return before ? fc.oneof(block, moved) : block
}
/** Recipes of four steps; a body that is not there makes its step fail, which is a result too. */
const anyRecipe = fc
  .tuple(anyStep('0', 0), anyStep('1', 1), anyStep('2', 2), anyStep('3', 3))
  .map((steps): Recipe => ({ ...emptyRecipe('t'), steps }))

it('of a new step, at the end or at the marker', async () => {
  await fc.assert(
    fc.asyncProperty(anyRecipe, fc.nat(4), anyStep('9', 3), async (recipe, at, { kind, set }) => {
      const store = new MemoryStore()
      const marker = at === 4 ? null : at
      const { step } = stepOfTool({ kind, values: set }, '9')
      const ghost = await run(recipeWith({ recipe }, { editing: null }, step!, marker), store)
      const place = marker ?? recipe.steps.length
      const applied = { ...recipe, steps: [...recipe.steps.slice(0, place), step!, ...recipe.steps.slice(place)] }
      const [shown, made] = [ghost.steps.at(-1)!, (await run(applied, store)).steps[place]]
      expect({ ...shown, ms: 0, cached: false }).toEqual({ ...made, ms: 0, cached: false })
    }),
    fewRuns(25),
  )
})

it('of a step that is edited: what comes before it is as it was, and only what hangs on it may change', async () => {
  await fc.assert(
    fc.asyncProperty(anyRecipe, fc.nat(3), fc.tuple(size, size, size), async (recipe, at, other) => {
      const store = new MemoryStore()
      const old = recipe.steps[at]
      const values = old.kind === 'build/block' ? { ...old.set, size: other } : { ...old.set, by: other }
      const { step } = stepOfTool({ kind: old.kind, values }, old.id, old)
      const before = await run(recipe, store)
      const ghost = await run(recipeWith({ recipe }, { editing: old.id }, step!, null), store)
      const after = await run({ ...recipe, steps: recipe.steps.map((s) => (s.id === old.id ? step! : s)) }, store)
      expect({ ...ghost.steps.at(-1)!, ms: 0, cached: false }).toEqual({ ...after.steps[at], ms: 0, cached: false })
      const hang = new Set([old.id, ...dependentsOf(recipe, at)])
      recipe.steps.forEach((s, i) => {
        if (!hang.has(s.id)) expect(after.steps[i].bodies).toEqual(before.steps[i].bodies)
      })
    }),
    fewRuns(25),
  )
})
