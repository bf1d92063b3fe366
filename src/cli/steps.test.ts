import { describe, expect, it } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { allSteps } from '@/core/steps/registry'
import { listSteps, listStepsJson, stepsPage } from './steps'

describe('the list of steps', () => {
  it('names every kind in text, JSON Schema and the page of tools, which is current', () => {
    const json = listStepsJson() as { kind: string; settings: { properties: object; additionalProperties: boolean } }[]
    expect(json.map((s) => s.kind)).toEqual(allSteps.map((s) => s.kind))
    expect(json.every((s) => s.settings.additionalProperties === false)).toBe(true)
    for (const s of allSteps) expect(listSteps()).toContain(s.kind)
    expect(readFileSync('docs/tools.md', 'utf8')).toBe(stepsPage())
  })
})
