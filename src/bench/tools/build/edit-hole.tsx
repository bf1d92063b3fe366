import { Target } from 'lucide-react'
import { Form } from 'react-bootstrap'
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'
import { num } from '@/core/base/say'
import { standardHoles } from '@/core/holes/standards'
import { Label } from '@/bench/draw/labels'
import { Overlay } from '@/bench/draw/overlays'
import { NumberField } from '@/bench/forms/number-field'
import type { Hand, Pointer } from '@/bench/hands/hand'
import { latest, showMoment } from '@/bench/hands/moment'
import type { BoreHit } from '@/bench/picking/worker'
import { movePointer } from '@/bench/state/pointer'
import { tell, useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { defineTool, type CardProps } from '../tool'

/** The hole that was clicked, as it was found. */
const taken = createStore<{ bore: BoreHit | null }>(() => ({ bore: null }))

const words = (b: BoreHit, to?: number) =>
  `Ø ${num(b.diameter)}${to ? ` → ${num(to)}` : ''} mm, ${b.through ? 'through' : `${num(b.depth, 1)} deep`}`

const hover = latest(async (p: Pointer) => {
  const bore = await p.bore()
  movePointer({ at: bore?.at ?? null, body: bore?.name ?? null, words: bore ? words(bore) : '' })
  const chosen = useTool.getState().tool?.values.at !== undefined
  showMoment(
    bore ? { triangles: bore.points, ...(chosen ? {} : { label: { at: bore.centre, text: words(bore) } }) } : null,
  )
})

/** The bore under the pointer shows itself; a click takes it. */
const boreHand: Hand = {
  hint: (b) => (b.tool?.values.at ? 'Type a diameter, then Enter' : "Click a hole's wall, then type a diameter"),
  move(p) {
    hover(p)
    return true
  },
  leave: () => showMoment(null),
  async click(p) {
    const bore = await p.bore()
    if (!bore) {
      tell("There is no round hole there. Click on a hole's wall.")
      return true
    }
    taken.setState({ bore })
    useBench.getState().set({ selected: bore.name })
    useTool.getState().pick({ body: bore.name, at: bore.at.map((v) => Number(v.toFixed(5))) })
    return true
  },
  Over: function TakenBore() {
    const bore = useStore(taken, (s) => s.bore)
    const at = useTool((s) => s.tool?.values.at)
    return bore && at ? <Overlay points={bore.points} colour="#8a2f63" opacity={0.55} /> : null
  },
  Flat: function TakenLabel() {
    const bore = useStore(taken, (s) => s.bore)
    const values = useTool((s) => s.tool?.values)
    if (!bore || !values?.at) return null
    const resize = (values.action ?? 'resize') === 'resize'
    return (
      <Label at={bore.centre} className="chip picked">
        {words(bore, resize ? (values.diameter as number | undefined) : undefined)}
      </Label>
    )
  },
}

/** The clicked hole, its new diameter or a standard one. */
function HoleSlot({ tool, ghost, onEnter }: CardProps) {
  const { setValues } = useTool.getState()
  const found = ghost.report?.facts.found as { diameter: number; through: boolean; depth: number } | undefined
  const standard = standardHoles.find((h) => h.diameter === tool.values.diameter)?.name ?? ''
  return (
    <>
      <div className="field">
        <div className="form-label">Hole</div>
        <div className={`slot ${tool.values.at ? 'full' : 'active'}`} data-testid="hole-slot">
          <span>{tool.values.at ? String(tool.values.body) : "click a hole's wall"}</span>
          <span className="figure">
            {found
              ? `Ø ${Number(found.diameter.toFixed(2))} ${found.through ? 'through' : `${Number(found.depth.toFixed(1))} deep`}`
              : ''}
          </span>
        </div>
      </div>
      {(tool.values.action ?? 'resize') === 'resize' && (
        <div className="field d-flex gap-2">
          <div className="flex-fill" style={{ flexBasis: 0 }}>
            <NumberField
              label="Diameter"
              value={tool.values.diameter as number | undefined}
              kind="length"
              unit="mm"
              onChange={(v) => setValues({ diameter: v, standard: undefined })}
              onEnter={onEnter}
            />
          </div>
          <Form.Group controlId="standard-hole" className="flex-fill" style={{ flexBasis: 0 }}>
            <Form.Label>Standard</Form.Label>
            <Form.Select
              size="sm"
              value={standard}
              onChange={(e) => {
                const h = standardHoles.find((x) => x.name === e.target.value)
                if (h) setValues({ diameter: h.diameter, standard: undefined })
              }}
            >
              <option value="">own</option>
              {standardHoles.map((h) => (
                <option key={h.name} value={h.name}>
                  {h.name} · {h.diameter}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
        </div>
      )}
    </>
  )
}

export const editHoleTool = defineTool({
  kind: 'build/edit-hole',
  icon: Target,
  Card: { fields: ['at', 'body', 'diameter', 'standard'], Head: HoleSlot },
  hand: boreHand,
  start() {
    taken.setState({ bore: null })
    return false
  },
})
