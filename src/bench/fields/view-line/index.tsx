/** A line or outline drawn in the view. */
import { SlotButton } from '@/bench/forms/slot-button'
import { Drawing } from '@/bench/hands/drawing'
import { DrawnShapeView } from '@/bench/hands/drawn-shape'
import type { BenchView } from '@/bench/hands/hand'
import { hoverHit } from '@/bench/hands/hover'
import { viewLoop } from '@/bench/hands/view-loop'
import { useTool } from '@/bench/state/tool'
import type { FieldKit } from '../field'

const closed = (b: BenchView) => {
  const c = b.field?.info.closed
  return !!c && b.tool?.values[c.field] === c.is
}

const drawing = new Drawing(
  (b) => (b.field?.info.field === 'view-line' ? (closed(b) ? 'outline' : 'line') : null),
  (corners, b) => {
    if (!b.tool || !b.field || !b.target) return
    useTool.getState().pick({
      ...(b.tool.values.body ? {} : { body: b.target.name }),
      [b.field.key]: viewLoop(corners, b),
    })
  },
)

export const viewLineField: FieldKit = {
  picks: 'first',
  hand: {
    hint: (b) =>
      closed(b)
        ? 'Draw round the part: click corners and click the first one again, or drag freely'
        : 'Drag a line across the body, or click its corners and press Enter',
    down: (p, b) => drawing.down(p, b),
    click: (p, b) => drawing.click(p, b),
    move(p) {
      drawing.move(p)
      hoverHit(p)
      return true
    },
    key: (e, b) => drawing.key(e, b),
    undo: () => drawing.back(),
    leave: () => void drawing.clear(),
    Flat: () => <DrawnShapeView drawing={drawing} />,
  },
  Input: function ViewLineInput({ field: { info, fallback }, value, active, onChange, onPickHere }) {
    const line = (value ?? fallback) as { line: unknown[] } | undefined
    return (
      <div>
        <div className="form-label">{info.label}</div>
        <SlotButton
          full={!!line}
          active={active}
          onClick={onPickHere}
          words={line ? 'drawn' : 'draw it in the view'}
          figure={line ? `${line.line.length} corners` : ''}
        />
        {line && (
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange(undefined)}>
            draw again
          </button>
        )}
      </div>
    )
  },
}
