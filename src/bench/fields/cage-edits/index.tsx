/** Edits of a cage: they are made on the bench, so the card lists what was done and takes the last ones back. */
import type { CageEdit } from '@/core/cage/edit/schema'
import { EditList } from '@/bench/cage/edit-list'
import { useTool } from '@/bench/state/tool'
import type { FieldKit } from '../field'

export const cageEditsField: FieldKit = {
  Input: function CageEditsInput({ value, field }) {
    return (
      <EditList
        edits={(value as CageEdit[] | undefined) ?? []}
        onBack={(edits) => useTool.getState().pick({ [field.key]: edits })}
      />
    )
  },
}
