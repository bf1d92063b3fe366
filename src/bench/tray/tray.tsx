'use client'
/** The tools of the current stage, icon and word; where there are many, one group of them at a time. */
import { useState } from 'react'
import { stageOf } from '@/core/step/step'
import { allSteps, stepOf } from '@/core/steps/registry'
import { useBench } from '@/bench/state/store'
import { trayGroups } from './groups'
import { ToolIcon } from './icons'

export function Tray({ take }: { take(kind: string): void }) {
  const stage = useBench((s) => s.stage)
  const tool = useBench((s) => s.tool)
  const [chosen, setChosen] = useState<Record<string, string>>({})
  const all = allSteps.filter((s) => stageOf(s.kind) === stage)
  const groups = trayGroups[stage] ?? []
  // A tool that no group names yet is still in the tray.
  const loose = all.filter((s) => groups.length && !groups.some((g) => g.kinds.includes(s.kind)))
  const group = groups.find((g) => g.name === chosen[stage]) ?? groups[0]
  const tools = group ? [...group.kinds.flatMap((k) => stepOf(k) ?? []), ...(group === groups[0] ? loose : [])] : all
  return (
    <div className="tray" role="toolbar" aria-label="Tools of this stage">
      {groups.length > 1 && (
        <div className="tray-groups" role="group" aria-label="Groups of tools">
          {groups.map((g) => (
            <button
              key={g.name}
              type="button"
              aria-pressed={g === group}
              onClick={() => setChosen({ ...chosen, [stage]: g.name })}
            >
              {g.name}
            </button>
          ))}
        </div>
      )}
      <div className="tray-tools">
        {tools.length === 0 && (
          <p className="soft small m-0 py-3">
            No tool of this stage is built yet. Everything else stays reachable by stage or by Find.
          </p>
        )}
        {tools.map((s) => (
          <button
            key={s.kind}
            type="button"
            title={s.summary}
            aria-pressed={tool?.kind === s.kind}
            onClick={() => take(s.kind)}
          >
            <ToolIcon kind={s.kind} size={19} strokeWidth={1.7} />
            {s.title}
          </button>
        ))}
      </div>
    </div>
  )
}
