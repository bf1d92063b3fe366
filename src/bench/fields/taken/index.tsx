/** Edges and faces of bodies whose lines are taken over: picked on the bench by the tool's own hand, listed here. */
import { isTaken } from '@/core/find/taken'
import { pointText } from '@/bench/forms/point-text'
import type { FieldKit } from '../field'

export const takenField: FieldKit = {
  Input: function TakenInput({ field: { info }, value, onChange }) {
    const list = Array.isArray(value) ? value.filter(isTaken) : []
    return (
      <div>
        <div className="form-label d-flex justify-content-between">
          <span>{info.label}</span>
          {list.length > 0 && (
            <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange(undefined)}>
              clear
            </button>
          )}
        </div>
        {list.map((t, i) => (
          <div key={i} className="d-flex justify-content-between gap-2 small">
            <span className="text-truncate" title={t.name}>
              {t.as} of {t.from}
            </span>
            <span className="figure soft">{t.at ? pointText(t.at) : ''}</span>
            <button
              type="button"
              className="btn btn-link btn-sm p-0"
              aria-label={`Leave out the ${t.as} of ${t.from}`}
              onClick={() => onChange(list.length > 1 ? list.filter((_, k) => k !== i) : undefined)}
            >
              leave out
            </button>
          </div>
        ))}
        {!list.length && <p className="soft small mb-1">none: take them over on the bench, by Edge in Trace</p>}
      </div>
    )
  },
}
