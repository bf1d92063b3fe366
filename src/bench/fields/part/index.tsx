/** Faces and edges of a body: hovered and clicked on the bench, kept by place and lasting name. */
import { SlotButton } from '@/bench/forms/slot-button'
import { num } from '@/core/base/say'
import type { PartReference } from '@/core/find/part'
import type { PartSort } from '@/core/kinds/kind'
import { partWords } from '@/core/kinds/pointed-part'
import type { FieldInfo } from '@/core/step/fields'
import { pointText } from '@/bench/forms/point-text'
import type { Hand, Pointer } from '@/bench/hands/hand'
import { latest, showMoment } from '@/bench/hands/moment'
import { movePointer } from '@/bench/state/pointer'
import { tell, useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { tidyPoint, type FieldKit } from '../field'

const sortOf = (info: FieldInfo): PartSort => (info.field === 'face' || info.field === 'faces' ? 'face' : 'edge')
const many = (info: FieldInfo) => info.field === 'faces' || info.field === 'edges'
const listOf = (value: unknown): PartReference[] =>
  Array.isArray(value) ? (value as PartReference[]) : value && value !== 'all' ? [value as PartReference] : []
const same = (a: PartReference, b: PartReference) =>
  a.name && b.name ? a.name === b.name : a.at.every((v, k) => v === b.at[k])

const handFor = (sort: PartSort): Hand => ({
  hint({ field }) {
    const one = sort === 'face' ? 'a face' : 'an edge'
    if (!field) return `Click ${one}`
    return many(field.info)
      ? `Click ${sort}s for “${field.info.label}”; click one again to leave it out`
      : `Click ${one} for “${field.info.label}”`
  },
  move(p) {
    hover({ p, sort })
    return true
  },
  leave: () => showMoment(null),
  async click(p, { tool, field }) {
    const found = await p.part(sort)
    if (!found || !tool || !field) {
      tell(`There is no ${sort} there.`)
      return true
    }
    const ref: PartReference = {
      at: tidyPoint(found.at) as [number, number, number],
      ...(found.part.name ? { name: found.part.name } : {}),
    }
    const on = field.info.on ?? 'body'
    const old = tool.values[on] === found.name ? listOf(tool.values[field.key]) : []
    const next = old.some((r) => same(r, ref)) ? old.filter((r) => !same(r, ref)) : [...old, ref]
    useTool
      .getState()
      .pick(
        { [on]: found.name, [field.key]: many(field.info) ? (next.length ? next : undefined) : ref },
        many(field.info) ? field.key : null,
      )
    useBench.getState().set({ selected: found.name })
    return true
  },
})

const hover = latest(async ({ p, sort }: { p: Pointer; sort: PartSort }) => {
  const found = await p.part(sort)
  movePointer({
    at: found?.at ?? null,
    body: found?.name ?? null,
    words: found ? partWords(found.sort, found.part, (v) => num(v)) : '',
  })
  showMoment(found ? { triangles: found.triangles, lines: found.lines } : null)
})

const hands = { face: handFor('face'), edge: handFor('edge') }

/** What is picked, or what to click. */
function slotWords(sort: PartSort, now: unknown, list: readonly PartReference[]): string {
  if (now === 'all') return `all ${sort}s`
  if (list.length === 1) return list[0].name ?? `${sort} near`
  return list.length ? `${list.length} ${sort}s` : `click ${sort === 'face' ? 'a face' : 'an edge'}`
}

export const partField: FieldKit = {
  picks: 'first',
  hand: (info) => hands[sortOf(info)],
  waits: (v, info) => many(info) || v === undefined,
  Input: function PartInput({ field: { info, fallback }, value, active, onChange, onPickHere }) {
    const now = value ?? fallback
    const list = listOf(now)
    const sort = sortOf(info)
    return (
      <div>
        <div className="form-label d-flex justify-content-between">
          <span>{info.label}</span>
          {now !== undefined && (
            <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange(undefined)}>
              clear
            </button>
          )}
        </div>
        <SlotButton
          full={now !== undefined}
          active={active}
          onClick={onPickHere}
          words={slotWords(sort, now, list)}
          figure={list.length === 1 ? pointText(list[0].at) : ''}
        />
        {many(info) && now !== 'all' && (
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange('all')}>
            all of them
          </button>
        )}
      </div>
    )
  },
}
