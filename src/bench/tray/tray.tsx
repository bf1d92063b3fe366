/** The tools of the current stage, icon and word; where there are many, one group of them at a time. */
import { useState } from 'react'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { ToolIcon, toolOf } from '@/bench/tools/registry'
import { trayGroups } from './groups'

export function Tray({ take }: { take(kind: string): void }) {
  const stage = useBench((s) => s.stage)
  const kind = useTool((s) => s.tool?.kind)
  const [chosen, setChosen] = useState<Record<string, string>>({})
  const groups = trayGroups(stage)
  const group = groups.find((g) => g.name === chosen[stage]) ?? groups[0]
  // A drawing or a cage in hand has tools of its own.
  const Own = kind ? toolOf(kind)?.Tray : undefined
  if (Own) return <Own />
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
        {group.steps.length === 0 && (
          <p className="soft small m-0 py-3">
            No tool of this stage is built yet. Everything else stays reachable by stage or by Find.
          </p>
        )}
        {group.steps.map((s) => (
          <button
            key={s.kind}
            type="button"
            title={s.summary}
            aria-pressed={kind === s.kind}
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
