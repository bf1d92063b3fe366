/** Several places on a body, or on the rims of its holes. */
import { SlotButton } from '@/bench/forms/slot-button'
import { clickHand, tidyPoint, type FieldKit } from '../field'

const listOf = (value: unknown): number[][] => (Array.isArray(value) ? (value as number[][]) : [])

export const pointsField: FieldKit = {
  picks: (info) => (info.pick ? 'first' : undefined),
  waits: () => true,
  hand: clickHand({
    snaps: true,
    hint: (f) =>
      f.info.pick === 'rims' ? 'Click near the rims to close' : `Click on a body: ${f.info.label.toLowerCase()}`,
    take: ({ hit, field: { key, info }, tool }) => ({
      values: {
        ...(info.on ? { [info.on]: hit.name } : tool.values.body ? {} : { body: hit.name }),
        [key]: [...listOf(tool.values[key]), tidyPoint(hit.snap?.point ?? hit.point)],
      },
    }),
  }),
  Input: function PointsInput({ field: { info, fallback }, value, active, onChange, onPickHere }) {
    const list = listOf(value ?? fallback)
    return (
      <div>
        <div className="form-label">{info.label}</div>
        <SlotButton
          full={list.length > 0}
          active={active}
          onClick={onPickHere}
          words={
            list.length ? `${list.length} picked` : info.pick === 'rims' ? 'click near the rims' : 'click on the body'
          }
        />
        {list.length > 0 && (
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange([])}>
            clear
          </button>
        )}
        {info.help && !list.length && <div className="field-help">{info.help}</div>}
      </div>
    )
  },
}
