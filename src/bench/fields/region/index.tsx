/** An area of a body, picked on the bench. */
import { SlotButton } from '@/bench/forms/slot-button'
import { many } from '@/core/base/say'
import type { Region } from '@/core/find/region'
import { useTool } from '@/bench/state/tool'
import type { FieldKit } from '../field'
import { FitFound } from './fit-found'
import { regionHand } from './hand'

export const regionField: FieldKit = {
  picks: 'first',
  waits: () => true,
  hand: regionHand,
  Input: function RegionInput({ field: { info, fallback }, value, active, onChange, onPickHere }) {
    const list = ((value ?? fallback) as Region | undefined) ?? []
    const picked = useTool((s) => s.picked)
    return (
      <div>
        <div className="form-label">{info.label}</div>
        <SlotButton
          full={list.length > 0}
          active={active}
          onClick={onPickHere}
          words={list.length ? 'picked area' : 'pick on the bench'}
          figure={list.length ? `${many(picked)} triangles` : ''}
        />
        {info.fitted && <FitFound />}
        {list.length > 0 && (
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange(undefined)}>
            clear
          </button>
        )}
      </div>
    )
  },
}
