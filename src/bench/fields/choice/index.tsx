/** One of a few: side by side where the words fit, else a list. */
import { useId } from 'react'
import { Form } from 'react-bootstrap'
import type { FieldKit } from '../field'

export const choiceField: FieldKit = {
  Input: function ChoiceInput({ field: { info, fallback }, value, onChange }) {
    const id = useId()
    const now = value ?? fallback
    const labels = Object.entries(info.labels ?? {})
    if (labels.length <= 3 && labels.reduce((s, [, l]) => s + l.length, 0) < 30)
      return (
        <div>
          <div className="form-label" id={id}>
            {info.label}
          </div>
          <div className="seg" role="radiogroup" aria-labelledby={id}>
            {labels.map(([v, l]) => (
              <button key={v} type="button" role="radio" aria-checked={now === v} onClick={() => onChange(v)}>
                {l}
              </button>
            ))}
          </div>
        </div>
      )
    return (
      <Form.Group controlId={id}>
        <Form.Label>{info.label}</Form.Label>
        <Form.Select size="sm" value={String(now ?? '')} onChange={(e) => onChange(e.target.value)}>
          {labels.map(([v, l]) => (
            <option key={v} value={v}>
              {l}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
    )
  },
}
