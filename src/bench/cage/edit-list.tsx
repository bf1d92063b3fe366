/** What was done to a cage, the last few first to be seen, with the way back to before each. */
import { useState } from 'react'
import { plural } from '@/core/base/say'
import { editWords, type CageEdit } from '@/core/cage/edit/schema'
import { toldOf } from './words'

/** So many of the last are listed unless all are asked for. */
const listed = 4

export function EditList({ edits, onBack }: { edits: readonly CageEdit[]; onBack(kept: readonly CageEdit[]): void }) {
  const [all, setAll] = useState(false)
  if (!edits.length) return <p className="soft small mb-1">Nothing is edited yet.</p>
  const shown = all ? edits : edits.slice(-listed)
  const first = edits.length - shown.length
  return (
    <div data-testid="cage-edits">
      <div className="form-label">{plural(edits.length, 'edit')}</div>
      <ol className="edit-list" start={first + 1}>
        {shown.map((e, i) => (
          <li key={first + i}>
            <span>{editWords[e.do]}</span>
            <span className="figure soft">{toldOf(e)}</span>
            <button
              type="button"
              className="btn btn-link btn-sm p-0"
              title="The cage as it was before this edit; undo brings it back"
              onClick={() => onBack(edits.slice(0, first + i))}
            >
              back to before
            </button>
          </li>
        ))}
      </ol>
      {edits.length > listed && (
        <button type="button" className="btn btn-link btn-sm p-0" onClick={() => setAll(!all)}>
          {all ? 'only the last' : `all ${edits.length}`}
        </button>
      )}
    </div>
  )
}
