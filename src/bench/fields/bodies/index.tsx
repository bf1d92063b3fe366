/** Several bodies, ticked in a list or clicked on and off. */
import { useId } from 'react'
import { Form } from 'react-bootstrap'
import { fits } from '@/core/step/fields'
import { clickHand, type FieldKit } from '../field'

const listOf = (value: unknown): string[] => (Array.isArray(value) ? (value as string[]) : [])

export const bodiesField: FieldKit = {
  picks: (info) => (info.listed ? undefined : 'last'),
  waits: () => true,
  Input: function BodiesInput({ field: { info, fallback }, value, tool, bodies, onChange }) {
    const id = useId()
    const list = listOf(value ?? fallback)
    const other = info.besides ? tool.values[info.besides] : undefined
    const some = bodies.filter((b) => b.facts && fits(info, b.facts.kind) && b.name !== other)
    return (
      <fieldset>
        <legend className="form-label">{info.label}</legend>
        {some.map((b) => (
          <Form.Check
            key={b.name}
            type="checkbox"
            id={`${id}-${b.name}`}
            label={b.name}
            checked={list.includes(b.name)}
            onChange={(e) => onChange(e.target.checked ? [...list, b.name] : list.filter((n) => n !== b.name))}
          />
        ))}
        {!some.length && <div className="soft small">no fitting body on the bench</div>}
      </fieldset>
    )
  },
  hand: (info) => (info.listed ? undefined : clickBodies),
}

const clickBodies = clickHand({
  hint({ info: { label } }) {
    const purpose = label === 'Bodies' ? '' : ` for “${label}”`
    return `Click bodies${purpose}; click one again to leave it out`
  },
  take: ({ hit, field, tool }) => {
    const old = listOf(tool.values[field.key])
    return {
      values: { [field.key]: old.includes(hit.name) ? old.filter((n) => n !== hit.name) : [...old, hit.name] },
    }
  },
})
