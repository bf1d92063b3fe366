/** Figures, colours, marks and lists, without a screen. */
import { describe, expect, it } from '@jest/globals'
import { badgeOf } from './readout/bodies'
import { rowText } from './readout/readout'
import { colourAt } from './draw/ramp'
import { matchEntries } from './find/find'
import { subjectOf } from './recipe/step-words'
import { clipFor, drawnBodies, shownBodies, sideShift } from './stage3d/drawn-bodies'
import { reachAlong, sceneBounds } from './stage3d/scene-bounds'
import { marksOf } from './state/marks'
import { colourOf } from './state/store'
import { benchBody, benchFacts } from '@/testing/bench'

describe('figures and colours', () => {
  it('the ramp is paper within the tolerance, purple below, green above, and even on both sides', () => {
    expect(colourAt(0.05, 1, 0.1)).toEqual(colourAt(-0.05, 1, 0.1))
    const low = colourAt(-1, 1, 0.1),
      high = colourAt(1, 1, 0.1)
    expect(low[2]).toBeGreaterThan(low[1])
    expect(high[1]).toBeGreaterThan(high[2])
    expect(colourAt(5, 1, 0.1)).toEqual(high)
  })
  it('what lies beyond a bound that was to be held is brick, on either side', () => {
    const out = colourAt(0.5, 1, 0.1, 0.4)
    expect(colourAt(-0.5, 1, 0.1, 0.4)).toEqual(out)
    expect(out[0]).toBeGreaterThan(2 * Math.max(out[1], out[2]))
    expect(colourAt(0.39, 1, 0.1, 0.4)).toEqual(colourAt(0.39, 1, 0.1))
  })
  it('a body is drawn in the chosen colour, else in that of its file, else in one of the palette', () => {
    const pin = { name: 'pin', facts: benchFacts('solid', { colour: '#ff0000' }) }
    expect(colourOf({}, pin, 0)).toBe('#ff0000')
    expect(colourOf({ pin: { colour: '#00ff00' } }, pin, 0)).toBe('#00ff00')
    expect(colourOf({}, benchBody('grip'), 1)).toBe('#7e9996')
  })
  it('rows and badges say what they measure', () => {
    expect(rowText({ key: 'area', label: '', value: 1234, as: 'area' })).toBe('12.3 cm²')
    expect(rowText({ key: 'v', label: '', value: 2000, as: 'volume' })).toBe('2 cm³')
    expect(rowText({ key: 'n', label: '', value: 12000, as: 'count' })).toBe('12\u202f000')
    expect(rowText({ key: 'k', label: '', value: '2 plane', as: 'words' })).toBe('2 plane')
    expect(badgeOf(benchBody('pin', 'solid'))).toEqual({ text: 'solid · closed', ok: true })
    expect(badgeOf({ facts: undefined }).text).toBe('…')
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
  it('a card names what its step is about', () => {
    expect(subjectOf({ kind: 'build/difference', set: { from: 'grip', take: ['pin', 'key'] } })).toBe(
      'grip by pin, key',
    )
    expect(subjectOf({ kind: 'bring-in/file', set: { file: 'a.stl', name: 'a' } })).toBe('a.stl')
    expect(subjectOf({ kind: 'build/union', set: { bodies: ['a', 'b'] } })).toBe('a + b')
    expect(subjectOf({ kind: 'build/cylinder', set: { name: 'pin' } })).toBe('pin')
    expect(subjectOf({ kind: 'mend/all', set: { body: 'grip' } })).toBe('grip')
  })
})

describe('marks', () => {
  it('stay; once their body has changed they are of the past, and with the body they go', () => {
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

describe('what is drawn', () => {
  const bodies = [benchBody('grip'), benchBody('pin', 'solid')]
  it('hidden bodies are not; of a comparison both are', () => {
    expect(shownBodies(bodies, { pin: { hidden: true } }, null).map((b) => b.name)).toEqual(['grip'])
    const both = { a: 'grip', b: 'pin', how: 'overlaid' as const, at: 0.5 }
    expect(shownBodies(bodies, { pin: { hidden: true } }, both)).toHaveLength(2)
  })
  it('a ghost stands in for what it changes, adds what it makes and leaves out what it takes away', () => {
    const ghost = { bodies: { grip: 'new', ball: 'other', pin: null }, summaries: { other: benchFacts('mesh') } }
    const drawn = drawnBodies(bodies, bodies, ghost, null)
    expect(drawn.map((d) => [d.name, d.hash, d.isGhost])).toEqual([
      ['grip', 'new', true],
      ['ball', 'other', true],
    ])
    expect(drawnBodies(bodies, bodies, { bodies: null, summaries: null }, null)).toHaveLength(2)
    // A map of what is there against a ball that a step makes: the ball does not hide it.
    const map = {
      name: 'grip',
      againstName: 'ball',
      hash: 'grip-hash',
      against: 'other',
      tolerance: 0.1,
      reach: 1,
      flip: false,
    }
    expect(drawnBodies(bodies, bodies, { ...ghost, bodies: { ball: 'other' } }, map).map((d) => d.name)).toEqual([
      'grip',
      'pin',
    ])
  })
  it('bounds are rounded outward, and the reach along a direction is that of the boxes', () => {
    const b = [{ ...bodies[0], facts: benchFacts('mesh', { min: [0.4, -2.5, 0], size: [10, 5, 3.2] }) }]
    expect(sceneBounds(b)).toMatchObject({ min: [0, -3, 0], max: [11, 3, 4] })
    expect(reachAlong(b, [0, 1, 0])).toEqual([-2.5, 2.5])
    expect(reachAlong([], [0, 1, 0])).toEqual([-10, 10])
    expect(sideShift(b, 'grip', 'grip')).toBeCloseTo(11.5)
    expect(clipFor('grip', [], null, null)).toBeUndefined()
  })
})
