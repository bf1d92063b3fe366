'use client'
/** Find: type any tool, body, step or setting; Enter runs it. */
import { Search } from 'lucide-react'
import { useCombobox } from 'downshift'
import { useMemo, useState } from 'react'
import { Form } from 'react-bootstrap'
import { fieldsOf } from '@/core/step/fields'
import type { RecipeStep } from '@/core/recipe/recipe'
import { stageOf, stageTitles } from '@/core/step/step'
import { allSteps, stepOf } from '@/core/steps/registry'
import type { BenchBody } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'
import { subjectOf } from '@/bench/recipe/step-words'

export interface FindEntry {
  key: string
  title: string
  note: string
  words: string
  run(): void
}

/** Entries whose words hold every typed word, best matches of the title first. */
export function matchEntries(entries: readonly FindEntry[], typed: string): FindEntry[] {
  const parts = typed.toLowerCase().split(/\s+/).filter(Boolean)
  const score = (e: FindEntry) => {
    const title = e.title.toLowerCase()
    return title.startsWith(parts[0] ?? '') ? 0 : title.includes(parts[0] ?? '') ? 1 : 2
  }
  return entries
    .filter((e) => parts.every((p) => e.words.toLowerCase().includes(p)))
    .map((e, i) => ({ e, i, s: score(e) }))
    .sort((a, b) => a.s - b.s || a.i - b.i)
    .map((x) => x.e)
    .slice(0, 12)
}

interface Props {
  steps: RecipeStep[]
  bodies: BenchBody[]
  take(kind: string): void
  edit(step: RecipeStep): void
}

/** Selects a body and looks at it. */
function goTo(b: BenchBody): void {
  const { set, lookAt } = useBench.getState()
  set({ selected: b.name })
  const { facts } = b
  if (!facts) return
  const [x, y, z] = facts.min.map((v, k) => v + facts.size[k] / 2)
  lookAt('Fit', [x, y, z], Math.max(...facts.size))
}

/** All that can be found: tools, bodies, steps, ways to look. */
function entriesOf({ steps, bodies, take, edit }: Props): FindEntry[] {
  const tools = allSteps.map((s) => {
    const labels = fieldsOf(s.settings).map((f) => f.info.label)
    return {
      key: s.kind,
      title: s.title,
      note: stageTitles[stageOf(s.kind)],
      words: `${s.title} ${s.summary} ${s.kind} ${labels.join(' ')}`,
      run: () => take(s.kind),
    }
  })
  const onBench = bodies.map((b) => ({
    key: `body ${b.name}`,
    title: b.name,
    note: 'body',
    words: `${b.name} body`,
    run: () => goTo(b),
  }))
  const made = steps.map((s) => {
    const title = stepOf(s.kind)?.title
    return {
      key: `step ${s.id}`,
      title: s.title ?? `${title ?? s.kind} ${subjectOf(s)}`,
      note: 'step',
      words: `${s.title ?? ''} ${title ?? ''} ${subjectOf(s)} step`,
      run: () => edit(s),
    }
  })
  const shadings = (['plain', 'edges', 'see-through', 'stripes'] as const).map((m) => ({
    key: `shading ${m}`,
    title: `Shading: ${m}`,
    note: 'view',
    words: `shading ${m} view`,
    run: () => useBench.getState().set({ shading: m }),
  }))
  return [...tools, ...onBench, ...made, ...shadings]
}

export function Find({ steps, bodies, take, edit }: Props) {
  const [typed, setTyped] = useState('')
  const entries = useMemo(() => entriesOf({ steps, bodies, take, edit }), [steps, bodies, take, edit])
  const found = matchEntries(entries, typed)
  const close = () => useBench.getState().set({ finding: false })
  const { getInputProps, getMenuProps, getItemProps, highlightedIndex } = useCombobox<FindEntry>({
    items: found,
    isOpen: true,
    defaultHighlightedIndex: 0,
    inputValue: typed,
    itemToString: (e) => e?.title ?? '',
    onSelectedItemChange: ({ selectedItem }) => {
      if (!selectedItem) return
      close()
      selectedItem.run()
    },
  })
  return (
    <div
      className="find-box"
      onMouseDown={(e) => {
        if (e.target === e.currentTarget) close()
      }}
    >
      <div role="dialog" aria-modal="true" aria-label="Find">
        <Form.Control
          {...getInputProps({
            autoFocus: true,
            placeholder: 'Find a tool, body, step or setting',
            'aria-label': 'Find a tool, body, step or setting',
            // At once, not after the next drawing: Enter may follow right behind the last letter.
            onChange: (e) => setTyped(e.currentTarget.value),
            onKeyDown: (e) => {
              if (e.key !== 'Escape') return
              e.stopPropagation()
              close()
            },
          })}
        />
        <ul {...getMenuProps({ 'aria-label': 'Found' })}>
          {found.map((e, index) => (
            <li key={e.key} {...getItemProps({ item: e, index })} aria-selected={highlightedIndex === index}>
              <Search size={14} className="soft m-0" aria-hidden="true" />
              {e.title}
              <span className="soft">{e.note}</span>
            </li>
          ))}
        </ul>
        {!found.length && <p className="soft small px-3 pb-3 m-0">Nothing of that name.</p>}
      </div>
    </div>
  )
}
