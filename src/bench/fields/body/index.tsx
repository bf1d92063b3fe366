/** A body, chosen from a list or clicked. */
import { useId } from 'react'
import { Form } from 'react-bootstrap'
import { fits } from '@/core/step/fields'
import { clickHand, type FieldKit } from '../field'

const clickBody = clickHand({
  hint: (f) => `Click the body: ${f.info.label.toLowerCase()}`,
  take: ({ hit, field }) => ({ values: { [field.key]: hit.name } }),
})

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
            {info.listed ? 'none' : some.length ? 'click a body, or choose' : 'no fitting body on the bench'}
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
  hand: (info) => (info.byClick || info.listed ? undefined : clickBody),
}
