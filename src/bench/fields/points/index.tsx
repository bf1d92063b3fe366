/** Several places on a body, or on the rims of its holes. */
import { Form } from 'react-bootstrap'
import { SlotButton } from '@/bench/forms/slot-button'
import type { Hand } from '@/bench/hands/hand'
import { hoverArea } from '@/bench/hands/hover'
import { showMoment } from '@/bench/hands/moment'
import { picking } from '@/bench/picking/client'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { clickHand, tidyPoint, type FieldKit } from '../field'

const listOf = (value: unknown): number[][] => (Array.isArray(value) ? (value as number[][]) : [])

/** Areas of outlines: hovered, picked and given back by a click. */
const areaHand: Hand = {
  hint: () => 'Click the areas of an outline to take; none: all that are no holes',
  move(p) {
    hoverArea(p)
    return true
  },
  leave: () => showMoment(null),
  async click(p, { tool, field }) {
    const hit = await p.area()
    if (!hit || !tool || !field) return true
    const on = field.info.on ?? 'outline'
    const old = tool.values[on] === hit.name ? listOf(tool.values[field.key]) : []
    // The area that was picked before is given back.
    const kept: number[][] = []
    for (const q of old) {
      const at = await picking().areaOf(hit.hash, q as [number, number, number])
      if (at !== hit.index) kept.push(q)
    }
    const next = kept.length < old.length ? kept : [...kept, tidyPoint(hit.at)]
    useTool.getState().pick({ [on]: hit.name, [field.key]: next.length ? next : undefined }, field.key)
    useBench.getState().set({ selected: hit.name })
    return true
  },
}
const placesHand = clickHand({
  snaps: true,
  hint: (f) =>
    f.info.pick === 'rims' ? 'Click near the rims to close' : `Click on a body: ${f.info.label.toLowerCase()}`,
  take: ({ hit, field: { key, info }, tool }) => ({
    values: {
      ...(info.on ? { [info.on]: hit.name } : tool.values.body ? {} : { body: hit.name }),
      [key]: [...listOf(tool.values[key]), tidyPoint(hit.snap?.point ?? hit.point)],
      // A hole goes into the face that is clicked, straight down.
      ...(key === 'at' && info.on && !listOf(tool.values[key]).length && tool.values.axis === undefined
        ? { axis: tidyPoint(hit.normal.map((v) => -v)) }
        : {}),
    },
  }),
})

export const pointsField: FieldKit = {
  picks: (info) => (info.pick ? 'first' : undefined),
  waits: (v, info) => info.pick !== 'area' || v === undefined,
  hand: (info) => (info.pick === 'area' ? areaHand : placesHand),
  Input: function PointsInput({ field: { info, fallback }, value, bodies, active, onChange, onPickHere }) {
    const list = listOf(value ?? fallback)
    const datums = info.pick === 'point' ? bodies.filter((b) => b.facts?.kind === 'datum') : []
    return (
      <div>
        <div className="form-label">{info.label}</div>
        <SlotButton
          full={list.length > 0}
          active={active}
          onClick={onPickHere}
          words={
            list.length
              ? `${list.length} picked`
              : info.pick === 'rims'
                ? 'click near the rims'
                : info.pick === 'area'
                  ? 'click the areas'
                  : 'click on the body'
          }
        />
        {list.length > 0 && (
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange([])}>
            clear
          </button>
        )}
        {datums.length > 0 && (
          <Form.Select
            size="sm"
            className="from"
            aria-label={`${info.label}: at a datum`}
            value=""
            onChange={(e) => e.target.value && onChange([...list, { from: e.target.value }])}
          >
            <option value="">and at a datum</option>
            {datums.map((b) => (
              <option key={b.name} value={b.name}>
                {b.name}
              </option>
            ))}
          </Form.Select>
        )}
        {info.help && !list.length && <div className="field-help">{info.help}</div>}
      </div>
    )
  },
}
