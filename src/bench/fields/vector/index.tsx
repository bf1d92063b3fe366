/** Three numbers: a place, a direction or a size. Some are filled by a click: a face gives place and direction, a rim its point. */
import { NumberField } from '@/bench/forms/number-field'
import { fieldsOfTool } from '@/bench/state/tool'
import { clickHand, tidyPoint, type FieldKit } from '../field'

const faceHand = clickHand({
  hint: () => 'Click a face to place it there, or type numbers',
  take: ({ hit, field, tool }) => ({
    values: {
      [field.key]: tidyPoint(hit.point),
      ...(fieldsOfTool(tool).some((f) => f.key === 'axis') ? { axis: tidyPoint(hit.normal) } : {}),
    },
  }),
})
const pointHand = clickHand({
  snaps: true,
  hint: (f) => `Click near the rim: ${f.info.label.toLowerCase()}`,
  take: ({ hit, field, tool }) => ({
    values: {
      ...(tool.values.body ? {} : { body: hit.name }),
      [field.key]: tidyPoint(hit.snap?.point ?? hit.point),
    },
    slot: null,
  }),
})

export const vectorField: FieldKit = {
  picks: (info) => (info.pick === 'face' || info.pick === 'point' ? 'first' : undefined),
  hand: (info) => (info.pick === 'face' ? faceHand : info.pick === 'point' ? pointHand : undefined),
  Input: function VectorInput({ field: { info, fallback }, value, active, onChange, onPickHere, onEnter }) {
    const now = (value ?? fallback) as (number | string)[] | undefined
    const v = now ?? [0, 0, 0]
    const kind = info.field === 'direction' ? 'plain' : 'length'
    const picks =
      info.pick === 'face'
        ? active
          ? 'click on a face'
          : 'pick a face'
        : info.pick === 'point'
          ? active
            ? 'click on the rim'
            : now
              ? 'pick again'
              : 'pick'
          : null
    return (
      <div>
        <div className="form-label d-flex justify-content-between">
          {info.label}
          {picks && (
            <button type="button" className="btn btn-link btn-sm p-0" aria-pressed={active} onClick={onPickHere}>
              {picks}
            </button>
          )}
        </div>
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
      </div>
    )
  },
}
