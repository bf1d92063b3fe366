/** Where a place or direction comes from: numbers, a datum or outline by name, or a face, axis, edge or corner that is clicked. */
import { Form } from 'react-bootstrap'
import { isTaken, takenAs, type Taken, type TakenAs } from '@/core/find/taken'
import { SlotButton } from '@/bench/forms/slot-button'
import { pointText } from '@/bench/forms/point-text'
import { useTool } from '@/bench/state/tool'
import type { FieldProps } from '../field'
import { takenWords } from './taking'

interface Props extends FieldProps {
  /** The direction that is taken with this place. */
  readonly pairs?: string
}

/** What is taken, in words. */
const said = (t: Taken) => (t.as ? `${takenWords[t.as]} of ${t.from}` : t.from)

/** The choice of where it comes from, and the slot that shows what is taken. */
export function takenFrom({ field, value, tool, bodies, active, pairs, onPickHere }: Props) {
  const { change, setValues } = useTool.getState()
  const { key, info } = field
  const now = isTaken(value) ? value : null
  const as = tool.means[key] as TakenAs | undefined
  const may = takenAs.filter((a) => info.field === 'point' || a !== 'corner')
  const tells = (b: FieldProps['bodies'][number]) =>
    b.facts &&
    (b.facts.kind === 'outline' || (b.facts.kind === 'datum' && (info.field === 'point' || b.facts.badge !== 'point')))
  const named = bodies.filter(tells)
  const choose = (to: string) => {
    const [sort, ...rest] = to.split(' ')
    const what = rest.join(' ')
    if (sort === 'pick') {
      change({ means: { ...tool.means, [key]: what as TakenAs }, slot: key })
      return
    }
    change({ means: { ...tool.means, [key]: undefined } })
    const body = named.find((b) => b.name === what)
    // A plane or axis gives place and direction together; numbers come back to both together as well.
    const also = pairs && (body ? body.facts?.badge !== 'point' : isTaken(tool.values[pairs])) ? pairs : null
    const v = body ? { from: what } : undefined
    setValues({ [key]: v, ...(also ? { [also]: v } : {}) })
  }
  const is = as ? `pick ${as}` : !now ? 'numbers' : now.as ? `pick ${now.as}` : `body ${now.from}`
  return {
    choice: (
      <Form.Select
        size="sm"
        className="from"
        aria-label={`${info.label}: taken from`}
        value={is}
        onChange={(e) => choose(e.target.value)}
      >
        <option value="numbers">by numbers</option>
        {named.map((b) => (
          <option key={b.name} value={`body ${b.name}`}>
            of {b.name}
          </option>
        ))}
        {may.map((a) => (
          <option key={a} value={`pick ${a}`}>
            of {a === 'axis' ? 'an axis' : a === 'edge' ? 'an edge' : `a ${takenWords[a]}`}
          </option>
        ))}
      </Form.Select>
    ),
    slot: (now || as) && (
      <SlotButton
        full={!!now && !as}
        active={active && !!as}
        onClick={() => {
          if (now?.as) choose(`pick ${now.as}`)
          else onPickHere()
        }}
        words={as ? `click the ${takenWords[as]}` : said(now!)}
        figure={now?.at && !as ? pointText(now.at) : ''}
      />
    ),
  }
}
