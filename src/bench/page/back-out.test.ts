import { beforeEach, describe, expect, it } from '@jest/globals'
import { fresh, useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { backOut, longEdit } from './back-out'
import { freshBench } from '@/testing/fresh-bench'

const none = () => false
let stopped = 0
const esc = (now = 0, hand = none) => backOut(hand, () => stopped++, now)
const values = () => useTool.getState().tool?.values

beforeEach(freshBench)
beforeEach(() => {
  useBench.setState({ ...fresh, finding: false })
  useTool.getState().take(null)
  stopped = 0
})

describe('Esc', () => {
  it('takes back the last pick, then all of them, then puts the tool away', () => {
    useTool.getState().take({ kind: 'mend/heal', values: { body: 'grip' } })
    const { pick } = useTool.getState()
    pick({ region: [1] })
    pick({ region: [1, 2] })
    pick({ region: [1, 2, 3] })
    esc()
    expect(values()!.region).toEqual([1, 2])
    // Something else in between begins anew: only one pick goes again.
    useTool.getState().setValues({ how: 'flat' })
    esc()
    expect(values()!.region).toEqual([1])
    esc()
    expect(values()).toEqual({ body: 'grip' })
    esc(0)
    expect(useTool.getState().tool).toBeNull()
    expect(stopped).toBe(1)
  })
  it('asks before the work of more than a minute goes', () => {
    useTool.getState().take({ kind: 'mend/heal', values: {} })
    useTool.getState().pick({ region: [1] })
    const began = useTool.getState().tool!.since!
    esc(began + longEdit + 1)
    esc(began + longEdit + 1)
    expect(useTool.getState().tool).not.toBeNull()
    const q = useBench.getState().question!
    expect(q.ask).toBe('sure')
    esc()
    expect(useBench.getState().question).toBeNull()
    expect(useTool.getState().tool).not.toBeNull()
    esc(began + longEdit + 1)
    const again = useBench.getState().question!
    if (again.ask === 'sure') again.done()
    expect(useTool.getState().tool).toBeNull()
  })
  it('leaves to the hand what it holds, closes Find first, and ends with the selection', () => {
    useTool.getState().take({ kind: 'mend/trim', values: {} })
    useBench.setState({ finding: true, selected: 'grip', checkUpOf: 'grip', sectionPick: 1 })
    esc()
    expect(useBench.getState().finding).toBe(false)
    let corners = 2
    const hand = () => corners-- > 0
    esc(0, hand)
    esc(0, hand)
    expect(useTool.getState().tool).not.toBeNull()
    esc(0, hand)
    expect(useTool.getState().tool).toBeNull()
    esc()
    expect(useBench.getState().sectionPick).toBeNull()
    esc()
    expect(useBench.getState().checkUpOf).toBeNull()
    esc()
    expect(useBench.getState().selected).toBeNull()
  })
})
