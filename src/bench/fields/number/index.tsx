/** A number: length, angle, share, count or factor. */
import { NumberField } from '@/bench/forms/number-field'
import type { FieldKit } from '../field'

export const numberField: FieldKit = {
  Input: function NumberInput({ field: { info, fallback }, value, onChange, onEnter }) {
    return (
      <NumberField
        label={info.label}
        value={(value ?? fallback) as number | string | undefined}
        kind={info.field === 'length' ? 'length' : info.field === 'angle' ? 'angle' : 'plain'}
        unit={info.unit}
        help={info.help}
        onChange={onChange}
        onText={onChange}
        onEnter={onEnter}
      />
    )
  },
}
