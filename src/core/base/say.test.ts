/** Numbers and counts in words, and what is asked of work on its way. */
import { describe, expect, it } from '@jest/globals'
import { areaText, many, mm, num, one, percentText, plural, sizeText, volumeText } from './say'
import { reportError, StepError, Stopped } from './step-error'
import { checkStop, span } from './work'

describe('words', () => {
  it('round, and leave out what says nothing', () => {
    expect([num(3.14159), num(2.5, 0), num(-0.004), num(1.1, 4)]).toEqual(['3.14', '3', '0', '1.1'])
    expect([mm(1.256), sizeText([1, 2.25, 30.04]), percentText(0.1234)]).toEqual([
      '1.26 mm',
      '1 × 2.3 × 30 mm',
      '12.3 %',
    ])
  })
  it('count one and many, and large numbers in threes', () => {
    expect([plural(1, 'hole'), plural(2, 'hole'), plural(0, 'body', 'bodies')]).toEqual([
      '1 hole',
      '2 holes',
      '0 bodies',
    ])
    expect(many(1234567).replace(/\s/g, ' ')).toBe('1 234 567')
  })
  it('take the unit that reads well, a thousand of the smaller on', () => {
    expect([volumeText(999.94), volumeText(1000), volumeText(-25_000)]).toEqual(['999.9 mm³', '1 cm³', '-25 cm³'])
    expect([areaText(999.94), areaText(1000), areaText(-25_000)]).toEqual(['999.9 mm²', '10 cm²', '-250 cm²'])
  })
  it('put the article', () => expect([one('mesh'), one('outline')]).toEqual(['a mesh', 'an outline']))
})

describe('work', () => {
  it('within a part of other work tells its share of that, and is stopped with it', () => {
    const told: number[] = []
    const stop = new AbortController()
    const whole = { progress: (share: number) => void told.push(share), signal: stop.signal }
    const part = span(span(whole, 0.5, 1), 0, 0.5)
    for (const s of [0, 0.5, 1]) part.progress(s, 'x')
    expect(told).toEqual([0.5, 0.625, 0.75])
    expect(() => checkStop(part)).not.toThrow()
    stop.abort()
    expect(() => checkStop(part)).toThrow(Stopped)
  })
  it('an error of a step is told with code, place and advice; any other as a fault of ours', () => {
    const told = reportError(new StepError('no-hole', 'None.', { where: { body: 'b' }, tryThis: 'Look.' }))
    expect(told).toMatchObject({ code: 'no-hole', message: 'None.', where: { body: 'b' }, tryThis: 'Look.' })
    expect(reportError(new Error('secret')).code).not.toBe('no-hole')
    expect(reportError(new Stopped()).code).toBe('stopped')
  })
})
