/** A body, chosen from a list or clicked. */
import { useId } from 'react'
import { Form } from 'react-bootstrap'
import { fits, type FieldInfo } from '@/core/step/fields'
import type { Hand } from '@/bench/hands/hand'
import { hoverArea } from '@/bench/hands/hover'
import { showMoment } from '@/bench/hands/moment'
import { useTool } from '@/bench/state/tool'
import { clickHand, type FieldKit } from '../field'

const clickBody = clickHand({
  hint: (f) => `Click the body: ${f.info.label.toLowerCase()}`,
  take: ({ hit, field }) => ({ values: { [field.key]: hit.name } }),
})
const flat = (info: FieldInfo) => info.kinds?.length === 1 && info.kinds[0] === 'outline'
/** An outline has no skin: its areas are what a click meets. */
const clickOutline: Hand = {
  hint: (b) => `Click an area of the outline, or choose it: ${b.field?.info.label.toLowerCase() ?? ''}`,
  move(p) {
    hoverArea(p)
    return true
  },
  leave: () => showMoment(null),
  async click(p, { field }) {
    const hit = await p.area()
    if (hit && field) useTool.getState().pick({ [field.key]: hit.name })
    return true
  },
}

export const bodyField: FieldKit = {
  // A body that is told by a click somewhere on it is the tool's own affair.
  picks: (info) => (info.byClick || info.listed ? undefined : 'last'),
  Input: function BodyInput({ field: { info, fallback }, value, bodies, onChange }) {
    const id = useId()
    const now = value ?? fallback
    const some = bodies.filter((b) => b.facts && fits(info, b.facts.kind))
    return (
      <Form.Group controlId={id}>
        <Form.Label>{info.label}</Form.Label>
        <Form.Select
          size="sm"
          value={String(now ?? '')}
          className={now ? 'filled' : undefined}
          onChange={(e) => onChange(e.target.value || undefined)}
        >
          <option value="">
            {info.listed
              ? 'none'
              : !some.length
                ? 'no fitting body on the bench'
                : flat(info)
                  ? 'click an area, or choose'
                  : 'click a body, or choose'}
          </option>
          {some.map((b) => (
            <option key={b.name} value={b.name}>
              {b.name}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
    )
  },
  hand: (info) => (info.byClick || info.listed ? undefined : flat(info) ? clickOutline : clickBody),
}
