import { describe, expect, it } from '@jest/globals'
import { lostOf } from './lost'
import { parcelOf } from './parcel'

const step = (set: Record<string, unknown>, kind = 'build/fillet') => ({ kind, set })
const gone = (point: [number, number, number]) => ({ code: 'lost-part', message: 'Gone.', where: { point } })

describe('a pick that is gone', () => {
  it('is told by its place, and the others of its list stay with all other settings', () => {
    const edges = [
      { at: [1, 2, 3], name: 'a | b' },
      { at: [4, 5, 6], name: 'c | d' },
    ]
    const lost = lostOf(step({ body: 'plate', edges, radius: 2 }), gone([4, 5, 6]))!
    expect(lost.key).toBe('edges')
    expect(lost.values).toEqual({ body: 'plate', edges: [edges[0]], radius: 2 })
  })
  it('the only one of a list leaves the field empty', () => {
    const lost = lostOf(step({ body: 'plate', edges: [{ at: [4, 5, 6] }] }), gone([4, 5, 6]))!
    expect(lost).toEqual({ key: 'edges', values: { body: 'plate' } })
  })
  it('a body that is gone is asked for: alone, of a list, or taken from', () => {
    const none = { code: 'no-body', message: 'None.', where: { body: 'pin' } }
    expect(lostOf(step({ body: 'pin', radius: 1 }), none)).toEqual({ key: 'body', values: { radius: 1 } })
    const cut = lostOf(step({ from: 'plate', take: ['pin', 'bush'] }, 'build/difference'), none)
    expect(cut).toEqual({ key: 'take', values: { from: 'plate', take: ['bush'] } })
    const at = { from: 'pin', as: 'axis', at: [0, 0, 0] }
    expect(lostOf(step({ name: 'a', at }, 'build/axis'), none)?.key).toBe('at')
  })
  it('failures that no pick mends, and steps that are not known, are none', () => {
    expect(lostOf(step({ body: 'plate' }), { code: 'too-large', message: 'Large.' })).toBeNull()
    expect(lostOf(step({ body: 'plate' }), undefined)).toBeNull()
    expect(lostOf(step({}, 'build/nothing'), gone([0, 0, 0]))).toBeNull()
    expect(lostOf(step({ body: 'plate', edges: [{ at: [9, 9, 9] }] }), gone([0, 0, 0]))).toBeNull()
  })
})

describe('steps taken along', () => {
  const steps = [{ id: 's1', kind: 'build/fillet', set: { body: 'plate', radius: 'r' } }]
  it('come back from what was kept, with their values', () => {
    const kept = JSON.stringify({ from: 'Plate', steps, values: { r: 2 } })
    expect(parcelOf(kept)).toMatchObject({ from: 'Plate', values: { r: 2 }, steps: [{ kind: 'build/fillet' }] })
  })
  it('what is no parcel, empty, or of steps that are not known, is none', () => {
    for (const text of [
      null,
      '',
      'no json',
      '{}',
      JSON.stringify({ from: 'x', steps: [], values: {} }),
      JSON.stringify({ from: 'x', steps: [{ id: 's1', kind: 'build/nothing', set: {} }], values: {} }),
      JSON.stringify({ from: 'x', steps, values: {} }),
    ])
      expect(parcelOf(text)).toBeNull()
  })
})
