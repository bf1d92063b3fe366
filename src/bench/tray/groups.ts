/** The groups of a stage, from what its steps say of themselves. */
import { stageOf, type AnyStep, type Stage } from '@/core/step/step'
import { allSteps } from '@/core/steps/registry'

const groupsOf = (s: AnyStep): readonly string[] =>
  s.group === undefined ? [] : typeof s.group === 'string' ? [s.group] : s.group

export interface TrayGroup {
  readonly name: string
  readonly steps: readonly AnyStep[]
}

/** Groups in the order in which the stage's steps name them; a stage whose steps name none is one group without a name. */
export function trayGroups(stage: Stage): TrayGroup[] {
  const all = allSteps.filter((s) => stageOf(s.kind) === stage)
  const names = [...new Set(all.flatMap(groupsOf))]
  if (!names.length) return [{ name: '', steps: all }]
  // A step that names no group is still in the tray: with the first.
  return names.map((name, i) => ({
    name,
    steps: all.filter((s) => groupsOf(s).includes(name) || (i === 0 && !groupsOf(s).length)),
  }))
}
