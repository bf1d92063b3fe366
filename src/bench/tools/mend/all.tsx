import { Bandage } from 'lucide-react'
import { Form } from 'react-bootstrap'
import { num, plural } from '@/core/base/say'
import type { Border } from '@/core/mend/borders'
import type { Vec3 } from '@/core/math/vec'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { defineTool, type CardProps } from '../tool'

/** More are not listed: what has so many open borders is not closed one by one. */
const listed = 12

/** The borders that stay open, each with a tick that closes it; its words look at it. */
function Borders({ tool, ghost }: CardProps) {
  const { lookAt } = useBench.getState()
  const left = (ghost.state === 'ready' ? (ghost.report?.facts.bordersLeft ?? []) : []) as unknown as Border[]
  const ticked = (tool.values.closeAt as Vec3[] | undefined) ?? []
  if (!left.length && !ticked.length) return null
  const set = (closeAt: Vec3[]) => useTool.getState().pick({ closeAt })
  const same = (a: Vec3) => (b: Vec3) => a.every((x, k) => x === b[k])
  const rows = [
    ...ticked.map((at) => ({ at, words: 'a border that is closed', reach: 10 })),
    ...left
      .slice(0, listed)
      .map((b) => ({ at: b.at, words: `${plural(b.edges, 'edge')}, ${num(b.lengthMm, 1)} mm`, reach: b.lengthMm / 4 })),
  ]
  return (
    <fieldset className="mb-2" data-testid="borders">
      <legend className="small">
        {left.length ? `${plural(left.length, 'border')} left open: tick those to close` : 'All borders are closed'}
      </legend>
      {rows.map(({ at, words, reach }, i) => {
        const on = ticked.some(same(at))
        return (
          <div key={at.join()} className="d-flex gap-2 align-items-baseline small">
            <Form.Check
              id={`border-${i}`}
              aria-label={`Close the border of ${words}`}
              checked={on}
              onChange={() => set(on ? ticked.filter((p) => !same(at)(p)) : [...ticked, at])}
            />
            <button type="button" className="btn btn-link btn-sm p-0" onClick={() => lookAt('Fit', at, reach)}>
              {words}
            </button>
          </div>
        )
      })}
      {left.length > listed && <p className="small soft mb-0">and {left.length - listed} shorter ones</p>}
    </fieldset>
  )
}

export const allTool = defineTool({
  kind: 'mend/all',
  icon: Bandage,
  // The list of what stays open is the field: rims that are closed anyway are not to be picked.
  Card: { Head: () => null, fields: ['closeAt'] },
  Extra: Borders,
})
