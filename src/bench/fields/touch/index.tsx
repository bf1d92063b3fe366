/** A touch on a body: the face, axis, line or point that is meant there. */
import { SlotButton } from '@/bench/forms/slot-button'
import type { Touch, TouchAs } from '@/core/find/touch'
import type { FieldInfo } from '@/core/step/fields'
import { pointText } from '@/bench/forms/point-text'
import { useTool, withDefaults, type ToolInHand } from '@/bench/state/tool'
import { clickHand, tidyPoint, type FieldKit } from '../field'

const words: Record<TouchAs, string> = { plane: 'a face', axis: 'an axis', line: 'a line', point: 'a point' }

/** What a touch may mean in this tool as it stands, the likeliest first. */
export function meanings(info: FieldInfo, tool: Pick<ToolInHand, 'kind' | 'values'>): readonly TouchAs[] {
  const m = info.means
  if (!m) return ['point']
  return 'of' in m ? (m.of[String(withDefaults(tool)[m.by])] ?? ['point']) : m
}

/** What a click means now: what was touched already, what the maker chose, else the likeliest. */
export function meaning(key: string, info: FieldInfo, tool: Pick<ToolInHand, 'kind' | 'values' | 'means'>): TouchAs {
  const may = meanings(info, tool)
  const have = (tool.values[key] as Touch | undefined)?.as ?? tool.means[key]
  return may.find((m) => m === have) ?? may[0]
}

/** Half a line waits for its other end. */
const half = (t: Touch | undefined) => t?.as === 'line' && !t.to

export const touchField: FieldKit = {
  picks: 'first',
  waits: (v) => v === undefined || half(v as Touch),
  hand: clickHand({
    snaps: true,
    hint: (f) => `Click on a body: ${f.info.label.toLowerCase()}`,
    take({ hit, field: { key, info }, tool }) {
      const as = meaning(key, info, tool)
      const have = tool.values[key] as Touch | undefined
      const snapped = tidyPoint(hit.snap?.point ?? hit.point)
      const on = info.on ?? 'body'
      const ends = half(have)
      return {
        values: {
          // A place on another body names that body; on the same one there is nothing to name.
          [on]: info.same && hit.name === tool.values[info.same] ? undefined : hit.name,
          [key]: ends
            ? { ...have, to: snapped }
            : { as, at: as === 'point' || as === 'line' ? snapped : tidyPoint(hit.point) },
        },
        slot: as !== 'line' || ends ? null : key,
      }
    },
  }),
  Input: function TouchInput({ field: { key, info, fallback }, value, tool, active, onChange, onPickHere }) {
    const t = (value ?? fallback) as Touch | undefined
    const as = meaning(key, info, tool)
    const may = meanings(info, tool)
    const { change, setValues } = useTool.getState()
    const mean = (to: TouchAs) => {
      if (t) setValues({ [key]: undefined })
      change({ means: { ...tool.means, [key]: to }, slot: key })
    }
    return (
      <div>
        <div className="form-label d-flex justify-content-between">
          <span>{info.label}</span>
          {t && (
            <button
              type="button"
              className="btn btn-link btn-sm p-0"
              onClick={() => {
                onChange(undefined)
                onPickHere()
              }}
            >
              clear
            </button>
          )}
        </div>
        <SlotButton
          full={!!t}
          active={active}
          onClick={onPickHere}
          words={t ? (half(t) ? 'click its other end' : words[t.as]) : `click: ${words[as]}`}
          figure={t ? pointText(t.at) : ''}
        />
        {may.length > 1 && (
          <div className="d-flex gap-2 small mt-1" role="group" aria-label={`${info.label} is`}>
            {may.map((k) => (
              <button
                key={k}
                type="button"
                className={`btn btn-link btn-sm p-0 ${as === k ? 'fw-bold' : ''}`}
                aria-pressed={as === k}
                onClick={() => mean(k)}
              >
                {words[k]}
              </button>
            ))}
          </div>
        )}
      </div>
    )
  },
}
