import { describe, expect, it } from '@jest/globals'
import { stageOf, stages } from '@/core/step/step'
import { allSteps } from '@/core/steps/registry'
import { trayGroups } from './groups'

describe('the tray', () => {
  it('shows every step of every stage, never more in a group than fit beside each other', () => {
    for (const stage of stages) {
      const groups = trayGroups(stage)
      const named = new Set(groups.flatMap((g) => g.steps.map((s) => s.kind)))
      expect([...named].sort()).toEqual(
        allSteps
          .filter((s) => stageOf(s.kind) === stage)
          .map((s) => s.kind)
          .sort(),
      )
      // The names of many groups leave room for fewer tools.
      expect(Math.max(...groups.map((g) => g.steps.length))).toBeLessThanOrEqual(groups.length > 6 ? 6 : 8)
    }
  })
  it('names groups in the order of their tools, and a tool may stand in several', () => {
    expect(trayGroups('mend').map((g) => g.name)).toEqual(['First', 'Skin', 'Holes', 'Shape', 'Cut'])
    expect(
      trayGroups('mend')
        .filter((g) => g.steps.some((s) => s.title === 'Close holes'))
        .map((g) => g.name),
    ).toEqual(['First', 'Holes'])
    expect(trayGroups('prove').map((g) => g.name)).toEqual([''])
  })
})
