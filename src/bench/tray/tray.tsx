'use client'
/** The tools of the current stage, icon and word. */
import { stageOf } from '@/core/recipe/step'
import { allSteps } from '@/core/steps/registry'
import { useBench } from '@/bench/state/store'
import { ToolIcon } from './icons'

/** Tools of one need stand together; a rule parts the groups. */
const groups: Record<string, string[]> = { mend: ['mend/check-up', 'mend/all'], 'set-down': ['set-down/size', 'set-down/centre', 'set-down/rest', 'set-down/face-to-floor'], build: ['build/block', 'build/cylinder'] }

export function Tray({ take }: { take(kind: string): void }) {
  const stage = useBench((s) => s.stage)
  const tool = useBench((s) => s.tool)
  const tools = allSteps.filter((s) => stageOf(s.kind) === stage)
  const first = groups[stage] ?? []
  return (
    <div className="tray" role="toolbar" aria-label="Tools of this stage">
      {tools.length === 0 && <p className="soft small m-0 py-3">No tool of this stage is built yet. Everything else stays reachable by stage or by Find.</p>}
      {tools.map((s, i) => {
        const rule = i > 0 && first.includes(tools[i - 1].kind) && !first.includes(s.kind)
        return (
          <span key={s.kind} className="d-flex">
            {rule && <span className="group-rule" />}
            <button type="button" title={s.summary} aria-pressed={tool?.kind === s.kind} onClick={() => take(s.kind)}>
              <ToolIcon kind={s.kind} size={19} strokeWidth={1.7} />
              {s.title}
            </button>
          </span>
        )
      })}
    </div>
  )
}
