/** The card of the tool in hand: what it needs, few settings, the ghost with its figures, Apply and Cancel. */
import { useState } from 'react'
import { Form, ProgressBar } from 'react-bootstrap'
import { many, num } from '@/core/base/say'
import type { Offer } from '@/core/base/step-error'
import { factRows } from '@/core/step/facts'
import { stepOf } from '@/core/steps/registry'
import { kitOf } from '@/bench/fields/registry'
import { activeField } from '@/bench/fields/slot'
import { HoleList } from '@/bench/fields/points/hole-list'
import { QuietTime } from '@/bench/forms/quiet-time'
import { Button } from '@/bench/forms/button'
import type { GhostState } from '@/bench/ghost/ghost-state'
import { isLoss } from '@/core/gauge/loyalty'
import { KeptButton } from '@/bench/looks/kept-map'
import { DeviationOf } from '@/bench/looks/deviation-of'
import type { BenchBody, Progress } from '@/bench/state/job'
import { fieldsOfTool, shownFields, useTool, type Field, type ToolInHand } from '@/bench/state/tool'
import { ToolIcon, toolOf } from './registry'

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
  const step = stepOf(tool.kind)
  if (!step) return null
  const { Card, Extra, draws } = toolOf(tool.kind) ?? {}
  const active = activeField(tool)
  const fields = shownFields(tool).filter((f) => !Card?.fields.includes(f.key))
  const input = (f: Field) => (
    <FieldInput
      key={f.key}
      field={f}
      tool={tool}
      bodies={bodies}
      ghost={ghost}
      active={active?.key === f.key}
      onEnter={onApply}
    />
  )
  const hidden = fields.filter((f) => f.info.more)
  const can = ghost.step !== null && ghost.state !== 'failed' && !applying
  const card = { job, tool, bodies, ghost, onEnter: onApply }
  const rims = fieldsOfTool(tool).find((f) => f.info.pick === 'rims' && !Card?.fields.includes(f.key))
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
        {Card && <Card.Head {...card} />}
        {fields.filter((f) => !f.info.more).map(input)}
        {Extra && <Extra {...card} />}
        {rims && <HoleList job={job} tool={tool} bodies={bodies} field={rims.key} />}
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
        <GhostFound tool={tool} bodies={bodies} ghost={ghost} />
        {(ghost.state === 'running' || (ghost.state === 'asked' && !step.live)) && (
          <UnderWay progress={progress} stop={ghost.stop} />
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
          {step.slow && !draws && <AskGhost ghost={ghost} />}
          <Button type="submit" className="flex-fill" disabled={!can} data-testid="apply">
            {applying ? 'Applying' : 'Apply'}
          </Button>
        </div>
      </Form>
    </section>
  )
}

/** One field of the tool in hand. */
function FieldInput({
  field,
  tool,
  bodies,
  ghost,
  active,
  onEnter,
}: Pick<Props, 'tool' | 'bodies' | 'ghost'> & { field: Field; active: boolean; onEnter(): void }) {
  const { setValues, change } = useTool.getState()
  const { Input } = kitOf(field.info)
  return (
    <div className="field">
      <Input
        field={field}
        value={tool.values[field.key]}
        tool={tool}
        bodies={bodies}
        found={ghost.report?.facts}
        active={active}
        onChange={(v) => setValues({ [field.key]: v })}
        onPickHere={() => change({ slot: field.key })}
        onEnter={onEnter}
      />
    </div>
  )
}

/** How far the ghost is, and its end at a click. */
function UnderWay({ progress, stop }: { progress: Progress | null; stop(): void }) {
  return (
    <div className="mb-2" aria-live="polite">
      <div className="d-flex justify-content-between small soft">
        <span>{progress?.phase ?? 'ghost under way'}</span>
        <QuietTime heard={`${progress?.phase} ${progress?.share}`} />
        <button type="button" className="btn btn-link btn-sm p-0" onClick={stop}>
          stop
        </button>
      </div>
      <ProgressBar now={(progress?.share ?? 0) * 100} style={{ height: 5 }} aria-label="Ghost progress" />
    </div>
  )
}

/** A ghost that takes long is made when it is asked for. */
function AskGhost({ ghost }: { ghost: GhostState }) {
  const wanting = ghost.state === 'none' || ghost.coarse
  return wanting && ghost.step ? (
    <Button variant="quiet" onClick={ghost.ask}>
      Ghost
    </Button>
  ) : null
}

/** The value that works, at one click. */
function Take({ offer }: { offer: Offer }) {
  return (
    <Button size="sm" variant="quiet" onClick={() => useTool.getState().pick({ [offer.set]: offer.to })}>
      Take {num(offer.to, 3)}
    </Button>
  )
}

/** What the ghost found, as figures, or why it failed. */
function GhostFound({ tool, bodies, ghost }: Pick<Props, 'tool' | 'bodies' | 'ghost'>) {
  const { report } = ghost
  const lines = stepOf(tool.kind)?.facts ?? []
  if (ghost.state === 'failed')
    return (
      <div className="told bad" role="alert">
        <p className="mb-1">
          {report?.error ? `${report.error.message} ${report.error.tryThis ?? ''}` : ghost.problem}
        </p>
        {report?.error?.offer && <Take offer={report.error.offer} />}
      </div>
    )
  if (ghost.state !== 'ready' || !report) return null
  const rows = factRows(lines, report.facts)
  return (
    <>
      {rows.length > 0 ? (
        <dl className="figures" data-testid="ghost-figures">
          {rows.map(([k, v]) => [<dt key={k}>{k}</dt>, <dd key={`${k}v`}>{v}</dd>])}
        </dl>
      ) : null}
      {(!rows.length || stepOf(tool.kind)?.slow) && <p className="told good">{report.said}</p>}
      <DeviationOf tool={tool} bodies={bodies} report={report} hashes={ghost.bodies} />
      <KeptButton
        name={String(tool.values.body)}
        before={bodies.find((b) => b.name === tool.values.body)?.hash}
        after={ghost.bodies?.[String(tool.values.body)]}
        facts={report.facts}
        className="btn btn-quiet btn-sm mb-2"
      />
      {report.warnings.map((w) => (
        <p className={`told ${isLoss(report.facts) ? 'bad' : 'warn'}`} key={w}>
          {w}
        </p>
      ))}
    </>
  )
}
