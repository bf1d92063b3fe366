/** What can be done to the cage in hand, in the tray. */
import { useState } from 'react'
import { editWords } from '@/core/cage/edit/schema'
import { actionGroups, actions, doAction } from './actions'
import { change, useCage } from './state'

export function CageTray() {
  const [group, setGroup] = useState<(typeof actionGroups)[number]>('Grow')
  const now = useCage((s) => s.action)
  return (
    <div className="tray" role="toolbar" aria-label="Tools of the cage">
      <div className="tray-groups" role="group" aria-label="Groups of tools">
        {actionGroups.map((g) => (
          <button key={g} type="button" aria-pressed={g === group} onClick={() => setGroup(g)}>
            {g}
          </button>
        ))}
      </div>
      <div className="tray-tools drawing-tools">
        {actions
          .filter((a) => a.group === group)
          .map(({ kind, icon: Icon, tells, wants }) => (
            <button
              key={kind}
              type="button"
              title={tells}
              aria-pressed={wants ? now === kind : undefined}
              onClick={() => (wants ? change({ action: kind }) : doAction(kind))}
            >
              <Icon size={18} strokeWidth={1.7} aria-hidden />
              {editWords[kind]}
            </button>
          ))}
      </div>
    </div>
  )
}
