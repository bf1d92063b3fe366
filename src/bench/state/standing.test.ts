/** What is told of bodies that arrive off the mat, and which step back behind what was made of them. */
import { describe, expect, it } from '@jest/globals'
import type { JobState } from '@/core/recipe/job-state'
import { reachesBelow } from '@/bench/stage3d/scene-bounds'
import { benchFacts } from '@/testing/bench'
import { bodiesAt } from './job'
import { offMat, ontoMat } from './off-mat'
import { isFaint } from './store'

interface Made {
  kind: string
  set?: Record<string, unknown>
  bodies: Record<string, string | null>
  ok?: boolean
}
/** A job whose steps made these bodies; a body's hash tells its lowest height: "-12". */
function jobOf(steps: readonly Made[]): JobState {
  const hashes = steps.flatMap((s) => Object.values(s.bodies).flatMap((h) => h ?? []))
  return {
    recipe: { steps: steps.map((s, i) => ({ id: String(i + 1), kind: s.kind, set: s.set ?? {} })) },
    run: { state: 'done', steps: steps.map((s) => ({ ok: s.ok ?? true, bodies: s.bodies })) },
    summaries: Object.fromEntries(
      hashes.map((h) => [h, benchFacts('mesh', { min: [0, 0, Number.parseFloat(h)], size: [10, 10, 10] })]),
    ),
  } as unknown as JobState
}
const brought = (...heights: string[]): Made => ({
  kind: 'bring-in/file',
  bodies: Object.fromEntries(heights.map((h, i) => [`part ${i + 1}`, h])),
})
const bodies = (job: JobState) => bodiesAt(job, job.recipe.steps.length)
const offered = (job: JobState) => offMat(job, bodies(job))

describe('What arrives off the mat', () => {
  it.each([
    ['below', ['-12.5'], -12.5],
    ['above', ['3'], 3],
    ['by the lowest of several', ['4', '-2', '7'], -2],
  ])('%s: is offered, and its steps set the lowest point on it', (_, heights, lowest) => {
    const job = jobOf([brought(...heights)])
    const off = offered(job)!
    expect(off.lowest).toBe(lowest)
    const steps = ontoMat(job, off)
    expect(steps.map((s) => s.set)).toEqual(heights.map((_h, i) => ({ body: `part ${i + 1}`, by: [0, 0, -lowest] })))
    expect(new Set(steps.map((s) => s.id)).size).toBe(heights.length)
    expect(reachesBelow(bodies(job))).toBe(lowest < 0)
  })
  it('nothing is offered where it stands, where it was set down, or before the run has ended', () => {
    expect(offered(jobOf([brought('0')]))).toBeNull()
    expect(offered(jobOf([brought('-0.0001')]))).toBeNull()
    expect(reachesBelow(bodies(jobOf([brought('-0.0001')])))).toBe(false)
    expect(offered(jobOf([brought('-5'), { kind: 'set-down/move', bodies: { 'part 1': '-4' } }]))).toBeNull()
    const job = jobOf([brought('-5')])
    expect(offMat({ ...job, run: { ...job.run!, state: 'running' } }, bodies(job))).toBeNull()
  })
})

describe('What a conversion was made of', () => {
  const back = (job: JobState) => bodies(job).flatMap((b) => (isFaint({}, b) ? [b.name] : []))
  const net: Made = { kind: 'convert/quad-net', set: { body: 'part 1', name: 'net' }, bodies: { net: '0.5' } }
  const cage: Made = { kind: 'convert/cage', set: { body: 'net', name: 'cage' }, bodies: { cage: '0.25' } }
  it('steps back, one after the other, and comes again when it is said', () => {
    const job = jobOf([brought('0'), net, cage])
    expect(back(job)).toEqual(['part 1', 'net'])
    const [part] = bodies(job)
    expect(isFaint({ 'part 1': { ghost: false } }, part)).toBe(false)
    expect(isFaint({ 'part 1': { colour: '#fff' } }, part)).toBe(true)
  })
  it('stays where nothing lies over it: the step failed, what it made is gone, or it was changed since', () => {
    expect(back(jobOf([brought('0'), { ...net, ok: false, bodies: {} }]))).toEqual([])
    expect(back(jobOf([brought('0'), net, { kind: 'mend/remove', bodies: { net: null } }]))).toEqual([])
    expect(back(jobOf([brought('0'), net, { kind: 'set-down/move', bodies: { 'part 1': '9' } }]))).toEqual([])
    expect(back(jobOf([brought('0'), { ...net, kind: 'convert/section-line' }]))).toEqual([])
  })
})
