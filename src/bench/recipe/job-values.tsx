/** Job values: named numbers at the top of the recipe. A change runs again what speaks of them. */
import { Plus, X } from 'lucide-react'
import { useEffect, useState } from 'react'
import { num } from '@/core/base/say'
import { isValueName } from '@/core/base/quantity'
import type { Recipe } from '@/core/recipe/recipe'
import { speaksOf, valuesOf, type ValueTexts } from '@/core/recipe/values'
import { tell, useBench } from '@/bench/state/store'

interface Props {
  recipe: Recipe
  change(recipe: Recipe, label: string): void
}

/** The sentence with which values are refused; null: they can be read. */
function refusal(texts: ValueTexts): string | null {
  try {
    valuesOf(texts)
    return null
  } catch (error) {
    return error instanceof Error ? error.message : String(error)
  }
}

/** Lays values down, if they can be read. */
function putValues(recipe: Recipe, next: ValueTexts, label: string, change: Props['change']): void {
  const bad = refusal(next)
  if (bad) return tell(bad)
  change({ ...recipe, values: Object.keys(next).length ? { ...next } : undefined }, label)
}

/** Asks for the name of a new value. */
export function addValue(recipe: Recipe, change: Props['change']): void {
  const values = recipe.values ?? {}
  useBench.getState().set({
    question: {
      ask: 'name',
      title: 'A value for this job',
      label: 'Name, as in wall or bore_2',
      value: '',
      done: (text) => {
        const name = text.trim()
        if (!isValueName(name))
          return tell('A value is called by a letter, then letters, digits and low lines; units are taken.')
        if (name in values) return tell(`There is a value "${name}" already.`)
        putValues(recipe, { ...values, [name]: 1 }, `Value ${name}`, change)
      },
    },
  })
}

export function JobValues({ recipe, change }: Props) {
  const values = recipe.values ?? {}
  const names = Object.keys(values).sort()
  const put = (next: ValueTexts, label: string) => putValues(recipe, next, label, change)
  const drop = (name: string) => {
    const used = recipe.steps.filter((s) => speaksOf(s.set, name))
    if (used.length)
      return tell(
        `"${name}" is spoken of in ${used.length} ${used.length === 1 ? 'step' : 'steps'}: change those first.`,
      )
    put(Object.fromEntries(Object.entries(values).filter(([n]) => n !== name)), `Take away value ${name}`)
  }
  let numbers: ReadonlyMap<string, number> = new Map()
  try {
    numbers = valuesOf(values)
  } catch {
    // Told when it was set.
  }
  if (!names.length) return null
  return (
    <section className="job-values" aria-label="Values">
      <div className="d-flex justify-content-between align-items-center">
        <span className="small soft">Values</span>
        <button
          type="button"
          className="icon-button"
          title="Add a value"
          aria-label="Add a value"
          onClick={() => addValue(recipe, change)}
        >
          <Plus size={14} aria-hidden />
        </button>
      </div>
      {names.map((name) => (
        <Row
          key={name}
          name={name}
          text={String(values[name])}
          shown={typeof values[name] === 'string' ? numbers.get(name) : undefined}
          onChange={(text) => {
            const plain = Number(text.replace(',', '.'))
            put({ ...values, [name]: text.trim() && Number.isFinite(plain) ? plain : text }, `${name} = ${text}`)
          }}
          onDrop={() => drop(name)}
        />
      ))}
    </section>
  )
}

function Row({
  name,
  text,
  shown,
  onChange,
  onDrop,
}: {
  name: string
  text: string
  shown: number | undefined
  onChange(text: string): void
  onDrop(): void
}) {
  const [typed, setTyped] = useState(text)
  useEffect(() => setTyped(text), [text])
  const put = () => {
    const t = typed.trim()
    if (!t) return setTyped(text)
    if (t !== text) onChange(t)
  }
  return (
    <div className="job-value">
      <span className="figure" title={name}>
        {name}
      </span>
      <input
        className="form-control form-control-sm figure"
        aria-label={`Value ${name}`}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={put}
        onKeyDown={(e) => {
          if (e.key === 'Enter') e.currentTarget.blur()
          if (e.key === 'Escape') {
            e.stopPropagation()
            setTyped(text)
          }
        }}
      />
      {shown !== undefined && <span className="figure soft small">{num(shown, 3)}</span>}
      <button type="button" className="icon-button" aria-label={`Take away value ${name}`} onClick={onDrop}>
        <X size={13} aria-hidden />
      </button>
    </div>
  )
}
