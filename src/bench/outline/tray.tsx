/** The tools of a drawing, in the tray while one is in hand: draw, change, hold to, measure. */
import { Ruler } from 'lucide-react'
import { useMemo, useState } from 'react'
import { constraintKinds, constraintWords } from '@/core/outline/constraint'
import { emptyDrawing, type Drawing } from '@/core/outline/drawing'
import { useTool } from '@/bench/state/tool'
import { addDimension, constraintFor, dimensionChoices, dimensionFor } from './holding'
import { Sign } from './signs'
import { chooseWay, hold, useOutline } from './state'
import { ways } from './ways'

const groups = ['Draw', 'Change', 'Hold to', 'Measure'] as const
const capital = (s: string) => s[0].toUpperCase() + s.slice(1)

export function OutlineTray() {
  const [group, setGroup] = useState<(typeof groups)[number]>('Draw')
  return (
    <div className="tray" role="toolbar" aria-label="Tools of the drawing">
      <div className="tray-groups" role="group" aria-label="Groups of tools">
        {groups.map((g) => (
          <button key={g} type="button" aria-pressed={g === group} onClick={() => setGroup(g)}>
            {g}
          </button>
        ))}
      </div>
      <div className="tray-tools drawing-tools">
        {group === 'Hold to' ? <HoldTools /> : group === 'Measure' ? <MeasureTools /> : <WayTools group={group} />}
      </div>
    </div>
  )
}

function WayTools({ group }: { group: 'Draw' | 'Change' }) {
  const way = useOutline((s) => s.way)
  return ways
    .filter((w) => w.group === group)
    .map(({ id, word, icon: Icon, hints }) => (
      <button key={id} type="button" title={hints[0]} aria-pressed={way === id} onClick={() => chooseWay(id)}>
        <Icon size={18} strokeWidth={1.7} aria-hidden />
        {word}
      </button>
    ))
}

function usePicked() {
  const d = useTool((s) => s.tool?.values.drawing as Drawing | undefined) ?? emptyDrawing
  const points = useOutline((s) => s.points)
  const curves = useOutline((s) => s.curves)
  return { d, picked: useMemo(() => ({ points, curves }), [points, curves]) }
}

function HoldTools() {
  const { d, picked } = usePicked()
  const fits = useMemo(() => constraintKinds.map((k) => constraintFor(d, k, picked)), [d, picked])
  return constraintKinds.map((kind, i) => (
    <button
      key={kind}
      type="button"
      disabled={!fits[i]}
      title={
        fits[i]
          ? `Hold what is picked: ${constraintWords[kind]}`
          : `${capital(constraintWords[kind])}: pick what it fits first`
      }
      onClick={() => fits[i] && void hold({ constraints: [fits[i]] })}
    >
      <Sign kind={kind} size={18} />
      {capital(constraintWords[kind])}
    </button>
  ))
}

function MeasureTools() {
  const { d, picked } = usePicked()
  const fits = useMemo(() => dimensionChoices.map((c) => dimensionFor(d, c, picked)), [d, picked])
  return dimensionChoices.map((c, i) => (
    <button
      key={c.key}
      type="button"
      disabled={!fits[i]}
      title={fits[i] ? `${c.word} of what is picked` : `${c.word}: pick what it fits first`}
      onClick={() => fits[i] && void addDimension(fits[i])}
    >
      <Ruler size={18} strokeWidth={1.7} aria-hidden />
      {c.word}
    </button>
  ))
}
