/** A drawing: it is made on the bench, so the card says only what is in it. */
import { plural } from '@/core/base/say'
import type { Drawing } from '@/core/outline/drawing'
import type { FieldKit } from '../field'

export const drawingField: FieldKit = {
  Input: function DrawingInput({ field: { info }, value }) {
    const d = value as Drawing | undefined
    return (
      <p className="soft small mb-1">
        {info.label}: {d?.curves.length ? plural(d.curves.length, 'curve') : 'nothing yet'}
      </p>
    )
  },
}
