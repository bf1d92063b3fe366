/** Job values: named numbers that any number of any step may speak of, in arithmetic. */
import { namesIn, isValueName, parseQuantity, type QuantityKind } from '@/core/base/quantity'
import { StepError } from '@/core/base/step-error'
import type { Dimension } from '@/core/outline/constraint'
import { fieldsOf, type FieldInfo } from '@/core/step/fields'
import type { z } from 'zod'

/** A number, or arithmetic with units and other names. */
export type ValueText = number | string
export type ValueTexts = Readonly<Record<string, ValueText>>

const bad = (sentence: string, tryThis?: string) => new StepError('bad-value', sentence, tryThis ? { tryThis } : {})

/** One text in mm, degrees or plain. Throws StepError `bad-value` naming what is not known. `what`: for the sentence. */
export function valueOfText(
  text: string,
  kind: QuantityKind,
  named: (name: string) => number | undefined,
  what: string,
): number {
  const v = parseQuantity(text, kind, named)
  if (v !== null) return v
  const unknown = namesIn(text).find((n) => named(n) === undefined)
  if (unknown !== undefined)
    throw bad(`${what}: there is no value named "${unknown}".`, 'Add it to the job values, or write the number itself.')
  throw bad(`${what}: "${text}" is not a number.`, 'Try 3.4, 1/4 in or 2*wall + 1.')
}

/** Named texts as numbers, whatever their order. Throws StepError `bad-value` for one that speaks of itself, of nothing known, or has no fit name. */
export function valuesOf(
  texts: ValueTexts,
  outside: (name: string) => number | undefined = () => undefined,
  kindOf: (name: string) => QuantityKind = () => 'length',
  what = (name: string) => `Value "${name}"`,
): Map<string, number> {
  const done = new Map<string, number>()
  const under = new Set<string>()
  const find = (name: string): number | undefined => {
    const known = done.get(name)
    if (known !== undefined) return known
    if (!Object.hasOwn(texts, name)) return outside(name)
    if (under.has(name)) throw bad(`${what(name)} speaks of itself.`, 'Give one of the values a plain number.')
    under.add(name)
    const text = texts[name]
    const v =
      typeof text === 'number'
        ? text
        : parseQuantity(text, 'angle', find) !== null && parseQuantity(text, 'length', find) === null
          ? valueOfText(text, 'angle', find, what(name))
          : valueOfText(text, kindOf(name), find, what(name))
    under.delete(name)
    done.set(name, v)
    return v
  }
  for (const name of Object.keys(texts)) {
    if (!isValueName(name))
      throw bad(`"${name}" is no name a value can have.`, 'Use letters, digits and low lines; units are taken.')
    find(name)
  }
  return done
}

const kinds: Partial<Record<FieldInfo['field'], QuantityKind>> = {
  length: 'length',
  angle: 'angle',
  number: 'plain',
  percent: 'plain',
  count: 'plain',
  point: 'length',
  points: 'length',
  size: 'length',
  direction: 'plain',
}

/** The dimensions of a drawing as numbers: they may speak of each other by name, and of job values. */
export function dimensionsOf(list: readonly Dimension[], named: (name: string) => number | undefined): Dimension[] {
  const key = (d: Dimension, i: number) => d.name ?? `dimension_${i + 1}`
  const texts: Record<string, ValueText> = {}
  const kind = new Map<string, QuantityKind>()
  list.forEach((d, i) => {
    if (d.value === undefined || d.driven) return
    if (d.name !== undefined && Object.hasOwn(texts, d.name))
      throw bad(`Two dimensions are named "${d.name}".`, 'Give one of them another name.')
    texts[key(d, i)] = d.value
    kind.set(key(d, i), d.kind === 'angle' ? 'angle' : 'length')
  })
  const numbers = valuesOf(
    texts,
    named,
    (n) => kind.get(n)!,
    (n) => (list.some((d) => d.name === n) ? `Dimension "${n}"` : `Dimension ${n.slice(10)}`),
  )
  return list.map((d, i) => (numbers.has(key(d, i)) && !d.driven ? { ...d, value: numbers.get(key(d, i)) } : d))
}

/** Settings with every text that stands for a number as that number; what is no text stays. Throws StepError `bad-value`. */
export function withValues(
  settings: z.ZodObject,
  set: Readonly<Record<string, unknown>>,
  named: ReadonlyMap<string, number>,
): Record<string, unknown> {
  const out: Record<string, unknown> = { ...set }
  const find = (n: string) => named.get(n)
  for (const { key, info } of fieldsOf(settings)) {
    const v = out[key]
    if (info.field === 'drawing') {
      const dimensions = (v as { dimensions?: unknown } | null | undefined)?.dimensions
      if (Array.isArray(dimensions) && dimensions.every((d) => d && typeof d === 'object'))
        out[key] = { ...(v as object), dimensions: dimensionsOf(dimensions as Dimension[], find) }
      continue
    }
    const kind = kinds[info.field]
    if (!kind) continue
    const number = (x: unknown): unknown =>
      typeof x === 'string' ? valueOfText(x, kind, find, info.label) : Array.isArray(x) ? x.map(number) : x
    if (typeof v === 'string' || Array.isArray(v)) out[key] = number(v)
  }
  return out
}

/** Whether settings speak of a value by name. */
export const speaksOf = (set: unknown, name: string): boolean =>
  typeof set === 'string'
    ? namesIn(set).includes(name)
    : Array.isArray(set)
      ? set.some((v) => speaksOf(v, name))
      : !!set && typeof set === 'object' && Object.values(set).some((v) => speaksOf(v, name))

/** Names of the values that settings speak of, and of those that these speak of in turn. */
export function valuesUsed(settings: unknown, values: ValueTexts): string[] {
  const used = new Set<string>()
  const add = (text: unknown) => {
    for (const name of Object.keys(values))
      if (!used.has(name) && speaksOf(text, name)) {
        used.add(name)
        add(values[name])
      }
  }
  add(settings)
  return Object.keys(values).filter((n) => used.has(n))
}
