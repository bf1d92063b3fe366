/** The bench's own reckoning, without a screen. */
import { describe, expect, it } from '@jest/globals'
import { stageOf } from '@/core/step/step'
import { allSteps } from '@/core/steps/registry'
import { factRows } from './cards/ghost-figures'
import { matchEntries } from './find/find'
import { fieldsOfTool, slotOf, takePoint, touchKind } from './stage3d/slots'
import { colourAt } from './stage3d/ramp'
import { freshId, middleOf, type BenchBody } from './state/job'
import { marksOf } from './state/marks'
import { useBench, type ToolInHand } from './state/store'
import { hintFor, startValues } from './state/tools'
import { trayGroups } from './tray/groups'

const summary = {
  kind: 'mesh' as const,
  size: [10, 20, 30] as [number, number, number],
  min: [0, 0, 0] as [number, number, number],
  closed: true,
  volume: 6000,
  area: 2200,
  triangles: 12,
  pieces: 1,
  holes: 0,
  openEdges: 0,
  nonManifoldEdges: 0,
}
const bodies: BenchBody[] = [
  { name: 'grip', hash: 'a', summary },
  { name: 'pin', hash: 'b', summary: { ...summary, kind: 'solid' } },
]
const hand = (kind: string, values: Record<string, unknown> = {}): ToolInHand => ({
  kind,
  values,
  editing: null,
  slot: null,
})
const hit = (name: string, point: [number, number, number], extra = {}) => ({
  name,
  hash: 'x',
  point,
  normal: [0, 0, 1] as [number, number, number],
  triangle: 0,
  distance: 1,
  ...extra,
})

describe('the tray', () => {
  it('names only tools that are, and every tool of a grouped stage', () => {
    const kinds = new Set(allSteps.map((s) => s.kind))
    for (const [stage, groups] of Object.entries(trayGroups)) {
      const named = new Set(groups.flatMap((g) => g.kinds))
      for (const k of named) expect(kinds.has(k)).toBe(true)
      expect(allSteps.filter((s) => stageOf(s.kind) === stage && !named.has(s.kind)).map((s) => s.kind)).toEqual([])
      // Never more than fit beside each other.
      expect(Math.max(...groups.map((g) => g.kinds.length))).toBeLessThanOrEqual(8)
    }
  })
})

describe('a tool in hand', () => {
  it('starts from what is picked and fits', () => {
    expect(startValues('mend/all', bodies, 'grip', undefined)).toMatchObject({ body: 'grip' })
    expect(startValues('mend/all', bodies, 'pin', undefined).body).toBe('grip') // the only mesh
    expect(startValues('build/block', [{ ...bodies[0], name: 'block' }], null, undefined).name).toBe('block 2')
    expect(startValues('send-out/file', bodies, null, undefined).bodies).toEqual(['grip', 'pin'])
  })
  it('every tool has a hint and a slot that can be found', () => {
    for (const s of allSteps) {
      const tool = hand(s.kind, startValues(s.kind, bodies, 'grip', undefined))
      expect(typeof hintFor(tool, slotOf(tool), fieldsOfTool)).toBe('string')
    }
    expect(hintFor(null, null, fieldsOfTool)).toMatch(/Click a body/)
  })
  it('a measure takes its first place, then its second, on another body too', () => {
    useBench.setState({ tool: hand('prove/measure') })
    const click = (h: ReturnType<typeof hit>) => {
      const t = useBench.getState().tool!
      takePoint(t, slotOf(t)!, h)
    }
    expect(slotOf(useBench.getState().tool)!.key).toBe('from')
    click(hit('grip', [1, 2, 3], { snap: { kind: 'corner', point: [1, 2, 3.5] } }))
    expect(useBench.getState().tool!.values).toMatchObject({ body: 'grip', from: { as: 'point', at: [1, 2, 3.5] } })
    expect(slotOf(useBench.getState().tool)!.key).toBe('to')
    click(hit('pin', [4, 5, 6]))
    expect(useBench.getState().tool!.values).toMatchObject({ other: 'pin', to: { as: 'point', at: [4, 5, 6] } })
  })
  it('a line is touched by its two ends; what a touch means follows from the tool', () => {
    useBench.setState({ tool: hand('set-down/three-touch', { body: 'grip', face: { as: 'plane', at: [0, 0, 0] } }) })
    const tool = () => useBench.getState().tool!
    expect([touchKind(tool(), 'direction'), touchKind(tool(), 'point')]).toEqual(['line', 'point'])
    takePoint(tool(), slotOf(tool())!, hit('grip', [0, 0, 0]))
    expect(slotOf(tool())!.key).toBe('direction')
    takePoint(tool(), slotOf(tool())!, hit('grip', [9, 0, 0]))
    expect(tool().values.direction).toEqual({ as: 'line', at: [0, 0, 0], to: [9, 0, 0] })
    expect(slotOf(tool())!.key).toBe('point')
    expect(touchKind(hand('set-down/line-up', { how: 'facing' }), 'touch')).toBe('plane')
    expect(touchKind(hand('prove/measure', { what: 'diameter' }), 'from')).toBe('axis')
  })
  it('a click fills a body, a list of bodies, points, and a face with its direction', () => {
    const after = (tool: ToolInHand, name = 'grip') => {
      useBench.setState({ tool })
      takePoint(tool, slotOf(tool)!, hit(name, [1.23456, 2, 3]))
      return useBench.getState().tool!.values
    }
    expect(after(hand('mend/all')).body).toBe('grip')
    expect(after(hand('build/union', { bodies: ['grip'] }), 'pin').bodies).toEqual(['grip', 'pin'])
    expect(after(hand('build/union', { bodies: ['grip', 'pin'] }), 'pin').bodies).toEqual(['grip'])
    expect(after({ ...hand('build/hollow', { body: 'grip' }), slot: 'drains' }).drains).toEqual([[1.2346, 2, 3]])
    expect(after(hand('build/cylinder', { name: 'c' }))).toMatchObject({ at: [1.2346, 2, 3], axis: [0, 0, 1] })
  })
  it('fresh ids do not clash', () => {
    expect(
      freshId({ format: 'glue-bench/recipe', version: 1, title: '', steps: [{ id: 's2', kind: 'mend/all', set: {} }] }),
    ).toBe('s3')
    expect(middleOf(bodies[0])).toEqual([5, 10, 15])
    expect(middleOf(undefined)).toBeUndefined()
  })
})

describe('figures and colours', () => {
  it('facts come out named, with their units', () => {
    expect(factRows({ deviationMaxMm: 0.12345, triangles: 12345, volumeChange: -2500 })).toEqual([
      ['Triangles', '12\u202f345'],
      ['Volume', '− 2.5 cm³'],
      ['Off by at most', '0.1235 mm'],
    ])
    expect(factRows({ value: 45, unit: '°' })).toEqual([['Measured', '45°']])
    expect(factRows({ within: 0.955 })).toEqual([['Within tolerance', '95.5 %']])
  })
  it('the ramp is paper within the tolerance, purple below, green above, and even on both sides', () => {
    expect(colourAt(0.05, 1, 0.1)).toEqual(colourAt(-0.05, 1, 0.1))
    const low = colourAt(-1, 1, 0.1),
      high = colourAt(1, 1, 0.1)
    expect(low[2]).toBeGreaterThan(low[1])
    expect(high[1]).toBeGreaterThan(high[2])
    expect(colourAt(5, 1, 0.1)).toEqual(high)
  })
  it('Find matches every word, titles first', () => {
    const entry = (title: string, words: string) => ({ key: title, title, note: '', words, run: () => {} })
    const all = [
      entry('Smooth folds', 'smooth folds relax'),
      entry('Close holes', 'close holes fill rim smooth'),
      entry('Smooth', 'smooth even fair'),
    ]
    expect(matchEntries(all, 'smooth').map((e) => e.title)).toEqual(['Smooth folds', 'Smooth', 'Close holes'])
    expect(matchEntries(all, 'rim fill').map((e) => e.title)).toEqual(['Close holes'])
    expect(matchEntries(all, 'zebra')).toEqual([])
  })
  it('a measure mark stays; once its body has changed it is of the past, and with the body it goes', () => {
    const step = (id: string, kind: string, set: Record<string, unknown> = {}) => ({ id, kind, set })
    const report = (id: string, kind: string, changed: Record<string, string | null> = {}, facts = {}) => ({
      id,
      kind,
      ok: true,
      ms: 1,
      cached: false,
      said: '',
      warnings: [],
      files: [],
      facts,
      bodies: changed,
    })
    const mark = { value: 3, unit: 'mm', markFrom: [0, 0, 0], markTo: [0, 0, 3] }
    const steps = [
      step('m', 'prove/measure', { body: 'grip', other: 'pin' }),
      step('t', 'set-down/turn', { body: 'grip' }),
    ]
    const measured = report('m', 'prove/measure', {}, mark)
    expect(marksOf(steps, [measured]).map((m) => [m.id, m.past])).toEqual([['m', false]])
    expect(marksOf(steps, [measured, report('t', 'set-down/turn', { block: 'x' })])[0].past).toBe(false)
    expect(marksOf(steps, [measured, report('t', 'set-down/turn', { pin: 'x' })])[0].past).toBe(true)
    expect(marksOf(steps, [measured, report('t', 'build/union', { grip: 'y', pin: null })])).toEqual([])
    expect(marksOf(steps, [{ ...measured, ok: false }])).toEqual([])
  })
})
