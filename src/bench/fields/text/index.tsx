/** Plain words: names, file names, standards. */
import { useId } from 'react'
import { Form } from 'react-bootstrap'
import type { FieldKit } from '../field'

export const textField: FieldKit = {
  Input: function TextInput({ field: { key, info, fallback }, value, onChange, onEnter }) {
    return (
      <Form.Group controlId={useId()}>
        <Form.Label>{info.label}</Form.Label>
        <Form.Control
          size="sm"
          autoComplete="off"
          value={String(value ?? fallback ?? '')}
          name={key}
          onChange={(e) => onChange(e.target.value || undefined)}
          onKeyDown={(e) => {
            if (e.key !== 'Enter') return
            e.preventDefault()
            onEnter()
          }}
        />
        {info.help && <div className="field-help">{info.help}</div>}
      </Form.Group>
    )
  },
}
