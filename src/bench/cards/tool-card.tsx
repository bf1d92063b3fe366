'use client'
/** The card of the tool in hand: what it needs, few settings, the ghost with its figures, Apply and Cancel. */
import { useState } from 'react'
import { Form, ProgressBar } from 'react-bootstrap'
import { Button } from '@/bench/forms/button'
import { stepOf } from '@/core/steps/registry'
import { many } from '@/core/base/say'
import { standardHoles } from '@/core/holes/standards'
import { FieldInput } from '@/bench/forms/field-input'
import { NumberField } from '@/bench/forms/number-field'
import { fieldsOfTool, slotOf, visible } from '@/bench/stage3d/slots'
import type { BenchBody, Progress } from '@/bench/state/job'
import { useBench, type ToolInHand } from '@/bench/state/store'
import { ToolIcon } from '@/bench/tray/icons'
import { DeviationOf, Estimate, HoleList } from './extras'
import { GhostFigures } from './ghost-figures'
import { UnitTable } from './unit-table'
import { slowKinds, type GhostState } from './use-ghost'

interface Props {
  job: string
  tool: ToolInHand
  bodies: BenchBody[]
  ghost: GhostState
  progress: Progress | null
  applying: boolean
  later: number
  onApply(): void
  onCancel(): void
}

export function ToolCard({ job, tool, bodies, ghost, progress, applying, later, onApply, onCancel }: Props) {
  const [more, setMore] = useState(false)
  const { setValues, set } = useBench.getState()
  const step = stepOf(tool.kind)
  if (!step) return null
  const slot = slotOf(tool)
  const special =
    tool.kind === 'bring-in/file'
      ? ['file', 'unit']
      : tool.kind === 'build/edit-hole'
        ? ['at', 'body', 'diameter', 'standard']
        : []
  const defaults = Object.fromEntries(fieldsOfTool(tool).map((f) => [f.key, f.fallback]))
  const values = { ...defaults, ...tool.values }
  const fields = fieldsOfTool(tool).filter((f) => visible(f.info, values) && !special.includes(f.key))
  const input = (f: (typeof fields)[number]) => (
    <div className="field" key={f.key}>
      <FieldInput
        name={f.key}
        info={f.info}
        value={tool.values[f.key]}
        fallback={f.fallback}
        bodies={bodies}
        active={slot?.key === f.key}
        onChange={(v) => setValues({ [f.key]: v })}
        onPickHere={() => set({ tool: { ...tool, slot: f.key } })}
        onEnter={onApply}
      />
    </div>
  )
  const hidden = fields.filter((f) => f.info.more)
  const can = ghost.step !== null && ghost.state !== 'failed' && !applying
  return (
    <section className="card-tool" aria-label={step.title} data-testid="tool-card">
      <h2>
        <ToolIcon kind={tool.kind} size={19} strokeWidth={1.8} />
        {step.title}
      </h2>
      <p className="summary">{step.summary}</p>
      <Form
        onSubmit={(e) => {
          e.preventDefault()
          if (can) onApply()
        }}
      >
        {tool.kind === 'build/edit-hole' && <HoleSlot tool={tool} ghost={ghost} onEnter={onApply} />}
        {fields.filter((f) => !f.info.more).map(input)}
        {(tool.kind === 'mend/reskin' || tool.kind === 'mend/refine') && <Estimate tool={tool} bodies={bodies} />}
        {(tool.kind === 'mend/close-holes' || tool.kind === 'mend/widen-hole' || tool.kind === 'mend/smooth-rim') && (
          <HoleList job={job} tool={tool} bodies={bodies} field="picked" />
        )}
        {tool.kind === 'bring-in/file' && <UnitTable tool={tool} facts={ghost.report?.facts} />}
        {hidden.length > 0 && (
          <>
            <button
              type="button"
              className="btn btn-link btn-sm p-0 mb-1"
              aria-expanded={more}
              onClick={() => setMore(!more)}
            >
              {more ? 'Less' : 'More'}
            </button>
            {more && hidden.map(input)}
          </>
        )}
        {ghost.state === 'ready' && ghost.report && (
          <>
            {tool.kind === 'mend/check-up' || tool.kind === 'mend/all' ? (
              <p className="told good">{ghost.report.said}</p>
            ) : null}
            <GhostFigures facts={ghost.report.facts} />
            <DeviationOf tool={tool} bodies={bodies} report={ghost.report} hashes={ghost.bodies} />
            {ghost.report.warnings.map((w) => (
              <p className="told warn" key={w}>
                {w}
              </p>
            ))}
          </>
        )}
        {ghost.state === 'failed' && (
          <p className="told bad" role="alert">
            {ghost.report?.error ? `${ghost.report.error.message} ${ghost.report.error.tryThis ?? ''}` : ghost.problem}
          </p>
        )}
        {(ghost.state === 'running' || ghost.state === 'asked') && (
          <div className="mb-2" aria-live="polite">
            <div className="d-flex justify-content-between small soft">
              <span>{progress?.phase ?? 'ghost under way'}</span>
              <button type="button" className="btn btn-link btn-sm p-0" onClick={ghost.stop}>
                stop
              </button>
            </div>
            <ProgressBar now={(progress?.share ?? 0) * 100} style={{ height: 5 }} aria-label="Ghost progress" />
          </div>
        )}
        {later > 0 && (
          <p className="told warn">
            {many(later)} later {later === 1 ? 'step' : 'steps'} will run again.
          </p>
        )}
        <div className="d-flex gap-2 mt-2">
          <Button variant="quiet" onClick={onCancel}>
            Cancel
          </Button>
          {slowKinds.has(tool.kind) && ghost.state === 'none' && ghost.step && tool.kind !== 'send-out/file' && (
            <Button variant="quiet" onClick={ghost.ask}>
              Ghost
            </Button>
          )}
          <Button type="submit" className="flex-fill" disabled={!can} data-testid="apply">
            {applying ? 'Applying' : 'Apply'}
          </Button>
        </div>
      </Form>
    </section>
  )
}

/** The hole that was clicked, its new diameter or a standard one. */
function HoleSlot({ tool, ghost, onEnter }: { tool: ToolInHand; ghost: GhostState; onEnter(): void }) {
  const { setValues } = useBench.getState()
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
