/** Any of a few: side by side, each on or off. */
import { useId } from 'react'
import type { FieldKit } from '../field'

export const choicesField: FieldKit = {
  Input: function ChoicesInput({ field: { info, fallback }, value, onChange }) {
    const id = useId()
    const now = (value ?? fallback ?? []) as readonly string[]
    const all = Object.entries(info.labels ?? {})
    return (
      <div>
        <div className="form-label" id={id}>
          {info.label}
        </div>
        <div className="seg seg-wrap" role="group" aria-labelledby={id}>
          {all.map(([v, l]) => (
            <button
              key={v}
              type="button"
              role="checkbox"
              aria-checked={now.includes(v)}
              // In the order of the list, whichever was switched last.
              onClick={() =>
                onChange(all.map(([k]) => k).filter((k) => (k === v ? !now.includes(k) : now.includes(k))))
              }
            >
              {l}
            </button>
          ))}
        </div>
      </div>
    )
  },
}
