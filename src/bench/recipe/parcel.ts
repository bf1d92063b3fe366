'use client'
/** Steps taken along from one job to another: kept in the browser until others are taken. */
import { useSyncExternalStore } from 'react'
import { wanted, carried, packed, type Parcel } from '@/core/recipe/carry'
import { parseRecipe, type Recipe } from '@/core/recipe/recipe'
import { plural } from '@/core/base/say'
import type { BenchBody } from '@/bench/state/job'
import { tell, useBench } from '@/bench/state/store'

const key = 'glue-bench/steps'
const told = 'glue-bench/steps-taken'

const subscribe = (call: () => void) => {
  window.addEventListener('storage', call)
  window.addEventListener(told, call)
  return () => {
    window.removeEventListener('storage', call)
    window.removeEventListener(told, call)
  }
}
const read = () => {
  try {
    return localStorage.getItem(key)
  } catch {
    return null // a browser that keeps nothing
  }
}

/** A text that was kept as a parcel; null for what is none. */
export function parcelOf(text: string | null): Parcel | null {
  if (!text) return null
  try {
    const p = JSON.parse(text) as Partial<Parcel>
    const recipe = parseRecipe({
      format: 'glue-bench/recipe',
      version: 1,
      title: p.from,
      values: p.values,
      steps: p.steps,
    })
    return recipe.steps.length ? { from: recipe.title, steps: recipe.steps, values: recipe.values ?? {} } : null
  } catch {
    return null
  }
}

/** The steps that were taken along last, as they were kept. */
export const useParcelText = (): string | null => useSyncExternalStore(subscribe, read, () => null)

/** Takes steps along. */
export function takeAlong(recipe: Recipe, ids: readonly string[]): void {
  try {
    localStorage.setItem(key, JSON.stringify(packed(recipe, ids)))
  } catch {
    return tell('This browser keeps nothing, so no steps can be taken along.')
  }
  window.dispatchEvent(new Event(told))
  tell(`${plural(ids.length, 'step')} taken along. Put down here, or in another job.`, 'good')
}

/** Puts steps down at a place of a recipe; bodies that are not there are asked for first. */
export function putDown(
  recipe: Recipe,
  at: number,
  parcel: Parcel,
  bodies: readonly BenchBody[],
  change: (recipe: Recipe, label: string) => void,
): void {
  const there = bodies.map((b) => b.name)
  const missing = wanted(parcel.steps).filter((n) => !there.includes(n))
  const put = (map: ReadonlyMap<string, string>) => {
    try {
      change(carried(recipe, at, parcel, there, map), `Put down ${plural(parcel.steps.length, 'step')}`)
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error))
    }
  }
  if (!missing.length) return put(new Map())
  if (!there.length) return tell(`These steps work on "${missing[0]}", and nothing is on the bench here.`)
  useBench.getState().set({
    question: {
      ask: 'choices',
      title: `Steps of "${parcel.from}"`,
      text: 'They work on bodies that are not here under these names. Use instead:',
      rows: missing.map((label, i) => ({ label, options: there, value: there[Math.min(i, there.length - 1)] })),
      yes: 'Put down',
      done: (values) => put(new Map(missing.map((n, i) => [n, values[i]]))),
    },
  })
}
