/** Yes or no. */
import { useId } from 'react'
import { Form } from 'react-bootstrap'
import type { FieldKit } from '../field'

export const toggleField: FieldKit = {
  Input: function ToggleInput({ field: { info, fallback }, value, onChange }) {
    return (
      <Form.Check
        type="checkbox"
        id={useId()}
        label={info.label}
        checked={!!(value ?? fallback)}
        onChange={(e) => onChange(e.target.checked)}
      />
    )
  },
}
