import { describe, expect, it } from '@jest/globals'
import { factRows, shown } from './facts'

describe('facts on cards', () => {
  it('come out named, in the order of the step, with their units', () => {
    const lines = shown('triangles', 'volume', 'volumeChange', 'deviationMaxMm')
    expect(factRows(lines, { deviationMaxMm: 0.12345, triangles: 12345, volumeChange: -2500, volume: 1 })).toEqual([
      ['Triangles', '12\u202f345'],
      ['Volume', '− 2.5 cm³'],
      ['Off by at most', '0.1235 mm'],
    ])
    expect(factRows(lines, { volume: 12 })).toEqual([['Volume', '12 mm³']])
    expect(factRows(shown('value'), { value: 45, unit: '°' })).toEqual([['Measured', '45°']])
    expect(factRows(shown('within'), { within: 0.955 })).toEqual([['Within tolerance', '95.5 %']])
    expect(factRows(shown('size', 'bytes'), { size: [1, 2, 3], bytes: 1500 })).toEqual([
      ['Size', '1 × 2 × 3 mm'],
      ['File size', '1.5 kB'],
    ])
  })
  it('of a step may lie inside another fact, and are left out where they are missing', () => {
    const lines = shown({ key: 'found.rms', label: 'Axis found, rms', as: 'length' }, 'equal')
    expect(factRows(lines, { found: { rms: 0.001 } })).toEqual([['Axis found, rms', '0.001 mm']])
    expect(factRows(lines, {})).toEqual([])
  })
})
