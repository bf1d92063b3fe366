import { beforeEach, describe, expect, it } from '@jest/globals'
import { recipeWith, stepOfTool } from '@/bench/ghost/ghost-state'
import { canBeLive } from '@/bench/ghost/live-ghost'
import { hintOf } from '@/bench/stage3d/router'
import { activeField } from '@/bench/fields/slot'
import { freshId, middleOf } from '@/bench/state/job'
import { useTool } from '@/bench/state/tool'
import { allSteps, stepOf } from '@/core/steps/registry'
import { benchBody, viewFromAbove } from '@/testing/bench'
import { tools } from './all'
import { toolOf } from './registry'
import { startValues } from './start'
import { freshBench } from '@/testing/fresh-bench'

beforeEach(freshBench)

const bodies = [benchBody('grip'), benchBody('pin', 'solid')]

describe('tools', () => {
  it('each makes a step that is, and each step has an icon', () => {
    for (const t of tools) expect(stepOf(t.kind)).toBeDefined()
    expect(allSteps.filter((s) => !toolOf(s.kind)).map((s) => s.kind)).toEqual([])
  })
  it('start from what is picked and fits', () => {
    expect(startValues('mend/all', bodies, 'grip', undefined)).toMatchObject({ body: 'grip' })
    expect(startValues('mend/all', bodies, 'pin', undefined).body).toBe('grip') // the only mesh
    expect(startValues('build/block', [benchBody('block')], null, undefined).name).toBe('block 2')
    expect(startValues('send-out/file', bodies, null, undefined).bodies).toEqual(['grip', 'pin'])
    expect(startValues('send-out/file', bodies, null, { title: 'Gate & grip' }).file).toBe('gate-grip.3mf')
    // An outline is no part: it is left out, or goes out alone as a drawing when it is picked.
    const more = [...bodies, benchBody('rim', 'outline')]
    expect(startValues('send-out/file', more, 'grip', undefined).bodies).toEqual(['grip', 'pin'])
    expect(startValues('send-out/file', more, 'rim', undefined)).toMatchObject({ bodies: ['rim'], file: 'part.dxf' })
    // With one body that fits, it is that one, whatever is picked; numbers are not overruled by a datum that happens to be there.
    const cut = startValues('convert/section-line', [benchBody('grip'), benchBody('p', 'datum')], null, undefined)
    expect(cut).toMatchObject({ bodies: ['grip'] })
    expect(cut.plane).toBeUndefined()
    expect(startValues('build/edit-hole', bodies, 'grip', undefined).body).toBeUndefined()
    expect(startValues('build/union', bodies, 'pin', undefined).bodies).toEqual(['pin'])
  })
  it('each says what the next click does', () => {
    for (const s of allSteps) {
      useTool.getState().take({ kind: s.kind, values: startValues(s.kind, bodies, 'grip', undefined) })
      const b = viewFromAbove(bodies)
      const wants = activeField(b.tool) !== null || toolOf(s.kind)?.hand !== undefined
      expect([s.kind, hintOf(b).length > 8]).toEqual([s.kind, wants])
    }
    useTool.getState().take(null)
    expect(hintOf(viewFromAbove(bodies))).toMatch(/Click a body/)
  })
  it('a step holds what its settings know, and tells what is missing', () => {
    expect(stepOfTool({ kind: 'mend/weld', values: { body: 'grip', left: 3, within: '' } }, 's1').step).toEqual({
      id: 's1',
      kind: 'mend/weld',
      set: { body: 'grip' },
    })
    expect(stepOfTool({ kind: 'mend/weld', values: {} }, 's1')).toMatchObject({
      step: null,
      problem: expect.any(String),
    })
    expect(stepOfTool({ kind: 'no/thing', values: {} }, 's1').problem).toBe('unknown tool')
  })
  it('fresh ids do not clash', () => {
    const steps = [{ id: 's2', kind: 'mend/all', set: {} }]
    expect(freshId({ format: 'glue-bench/recipe', version: 1, title: '', steps })).toBe('s3')
    expect(middleOf(bodies[0])).toEqual([5, 10, 15])
    expect(middleOf(undefined)).toBeUndefined()
  })
})

describe('the recipe of a ghost', () => {
  const steps = ['a', 'b', 'c'].map((id) => ({ id, kind: 'mend/weld', set: { body: id } }))
  const job = { recipe: { format: 'glue-bench/recipe' as const, version: 1 as const, title: '', steps } }
  const step = { id: 'ghost', kind: 'mend/weld', set: { body: 'x' } }
  it('ends with the tool’s step: at the end, at the marker, or in place of the step under edit', () => {
    const ids = (editing: string | null, marker: number | null) =>
      recipeWith(job, { editing }, step, marker).steps.map((s) => s.id)
    expect(ids(null, null)).toEqual(['a', 'b', 'c', 'ghost'])
    expect(ids(null, 1)).toEqual(['a', 'ghost'])
    expect(ids('b', null)).toEqual(['a', 'ghost'])
  })
  it('is made here only for small bodies that lie on the bench', () => {
    expect(canBeLive(bodies, ['grip', 'pin'])).toBe(true)
    expect(canBeLive(bodies, ['gone'])).toBe(false)
    const large = { ...bodies[0], facts: { ...bodies[0].facts!, figures: { triangles: 1e6 } } }
    expect(canBeLive([large], ['grip'])).toBe(false)
  })
})

describe('what a tool starts with', () => {
  it('for all bodies is what is seen, and what is selected', () => {
    const bodies = [benchBody('grip'), benchBody('pin'), benchBody('lid')]
    const of = (selected: string | null, hidden: string[]) =>
      startValues('send-out/file', bodies, selected, { title: 't' }, new Set(hidden)).bodies
    expect(of(null, [])).toEqual(['grip', 'pin', 'lid'])
    expect(of(null, ['pin'])).toEqual(['grip', 'lid'])
    expect(of('pin', ['pin', 'lid'])).toEqual(['grip', 'pin'])
  })
})
