/**
 * Three numbers: a place, a direction or a size. Some are filled by a click: a face gives place and direction, a rim its point. A place or
 * direction may also be taken from a body, and then follows it.
 */
import { isTaken } from '@/core/find/taken'
import { NumberField } from '@/bench/forms/number-field'
import { shownFields, type ToolInHand } from '@/bench/state/tool'
import { clickHand, tidyPoint, type FieldKit } from '../field'
import { takenFrom } from './taken-from'
import { takes, withTaking } from './taking'

/** The direction that goes with a place: the first that shows. */
const directionOf = (tool: ToolInHand) => shownFields(tool).find((f) => f.info.field === 'direction')?.key

const faceHand = clickHand({
  hint: () => 'Click a face to place it there, or type numbers',
  take({ hit, field, tool }) {
    const direction = directionOf(tool)
    return {
      values: {
        [field.key]: tidyPoint(hit.point),
        ...(direction ? { [direction]: tidyPoint(hit.normal) } : {}),
      },
    }
  },
})
const pointHand = clickHand({
  snaps: true,
  hint: (f) => `Click a place: ${f.info.label.toLowerCase()}`,
  take: ({ hit, field, tool }) => ({
    values: {
      ...(tool.values.body ? {} : { body: hit.name }),
      [field.key]: tidyPoint(hit.snap?.point ?? hit.point),
    },
    slot: null,
  }),
})
const hands = { face: withTaking(faceHand, directionOf), point: withTaking(pointHand), none: withTaking() }

export const vectorField: FieldKit = {
  picks: (info) => (info.pick === 'face' || info.pick === 'point' ? 'first' : takes(info) ? 'last' : undefined),
  // Those that no click fills wait for none.
  waits: (v, info) => v === undefined && (info.pick === 'face' || info.pick === 'point'),
  hand: (info) =>
    info.pick === 'face' ? hands.face : info.pick === 'point' ? hands.point : takes(info) ? hands.none : undefined,
  Input: function VectorInput(props) {
    const { field, value, tool, active, onChange, onPickHere, onEnter } = props
    const { info, fallback } = field
    const now = value ?? fallback
    const v = Array.isArray(now) ? (now as (number | string)[]) : [0, 0, 0]
    const kind = info.field === 'direction' ? 'plain' : 'length'
    const from = takes(info)
      ? takenFrom({ ...props, pairs: info.pick === 'face' ? directionOf(tool) : undefined })
      : null
    const byHand = !isTaken(now) && !tool.means[field.key]
    const picks = !byHand
      ? null
      : info.pick === 'face'
        ? active
          ? 'click on a face'
          : 'pick a face'
        : info.pick === 'point'
          ? active
            ? 'click a place'
            : now
              ? 'pick again'
              : 'pick'
          : null
    return (
      <div>
        <div className="form-label d-flex justify-content-between align-items-center gap-2">
          <span>{info.label}</span>
          {from?.choice}
        </div>
        {byHand && (
          <div className="d-flex gap-1">
            {['x', 'y', 'z'].map((a, k) => (
              <div key={a} style={{ minWidth: 0 }}>
                <NumberField
                  hideLabel
                  label={`${info.label} ${a}`}
                  value={v[k]}
                  kind={kind}
                  onChange={(x) => onChange(v.map((old, i) => (i === k ? (x ?? 0) : old)))}
                  onText={(x) => onChange(v.map((old, i) => (i === k ? x : old)))}
                  onEnter={onEnter}
                />
              </div>
            ))}
          </div>
        )}
        {from?.slot}
        {picks && (
          <button type="button" className="btn btn-link btn-sm p-0" aria-pressed={active} onClick={onPickHere}>
            {picks}
          </button>
        )}
      </div>
    )
  },
}
