/** The tools of a drawing, in the tray while one is in hand: draw, change, hold to, measure. */
import { Ruler } from 'lucide-react'
import { useMemo, useState } from 'react'
import { constraintKinds, constraintWords } from '@/core/outline/constraint'
import { addDimension, constraintFor, dimensionChoices, dimensionFor } from './holding'
import { Sign } from './signs'
import { chooseWay, hold, useDrawing, useOutline } from './state'
import { wayGroups, ways, type WayGroup } from './ways'

const groups = [...wayGroups, 'Hold to', 'Measure'] as const
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

function WayTools({ group }: { group: WayGroup }) {
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
  const d = useDrawing()
  const points = useOutline((s) => s.points)
  const curves = useOutline((s) => s.curves)
  return { d, picked: useMemo(() => ({ points, curves }), [points, curves]) }
}

/** Only what fits is shown: one row, the same height with anything picked. */
function HoldTools() {
  const { d, picked } = usePicked()
  const fits = useMemo(() => constraintKinds.flatMap((k) => constraintFor(d, k, picked) ?? []), [d, picked])
  if (!fits.length)
    return (
      <p className="soft small m-0 py-3">
        Pick points or curves: what they can be held to stands here.{' '}
        {capital(Object.values(constraintWords).join(', '))}.
      </p>
    )
  return fits.map((c) => (
    <button
      key={c.kind}
      type="button"
      title={`Hold what is picked: ${constraintWords[c.kind]}`}
      onClick={() => void hold({ constraints: [c] })}
    >
      <Sign kind={c.kind} size={18} />
      {capital(constraintWords[c.kind])}
    </button>
  ))
}

function MeasureTools() {
  const { d, picked } = usePicked()
  const fits = useMemo(
    () =>
      dimensionChoices.flatMap((c) => {
        const dim = dimensionFor(d, c, picked)
        return dim ? [{ c, dim }] : []
      }),
    [d, picked],
  )
  if (!fits.length)
    return (
      <p className="soft small m-0 py-3">
        Pick points or curves: the dimensions they can have stand here. {dimensionChoices.map((c) => c.word).join(', ')}
        .
      </p>
    )
  return fits.map(({ c, dim }) => (
    <button key={c.key} type="button" title={`${c.word} of what is picked`} onClick={() => void addDimension(dim)}>
      <Ruler size={18} strokeWidth={1.7} aria-hidden />
      {c.word}
    </button>
  ))
}
