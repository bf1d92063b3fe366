'use client'
/** The control for one setting, from what its schema says of it. */
import { useId } from 'react'
import { Form } from 'react-bootstrap'
import type { FieldInfo } from '@/core/step/fields'
import { many, num } from '@/core/base/say'
import type { Touch } from '@/core/find/touch'
import type { Region } from '@/core/find/region'
import { touchKind } from '@/bench/stage3d/slots'
import type { BenchBody } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'
import { NumberField } from './number-field'

interface Props {
  name: string
  info: FieldInfo
  value: unknown
  fallback: unknown
  bodies: BenchBody[]
  active: boolean
  onChange(value: unknown): void
  onPickHere(): void
  onEnter(): void
}

const words: Record<Touch['as'], string> = { plane: 'a face', axis: 'an axis', line: 'a line', point: 'a point' }

/** What a touch may be in this tool, and what it is now. */
function touchChoices(name: string): Touch['as'][] {
  const tool = useBench.getState().tool
  if (!tool || tool.kind === 'set-down/line-up') return []
  if (tool.kind === 'set-down/three-touch')
    return name === 'face' ? ['plane', 'axis'] : name === 'direction' ? ['line', 'plane', 'axis'] : ['point', 'axis']
  const what = (tool.values.what as string | undefined) ?? 'distance'
  return what === 'distance' ? ['point', 'axis'] : what === 'angle' ? ['plane', 'axis', 'line'] : []
}
const asKind = (name: string): Touch['as'] => {
  const tool = useBench.getState().tool
  return tool ? touchKind(tool, name) : 'point'
}
function setKind(name: string, as: Touch['as'], have: Touch | undefined): void {
  const { setValues, set } = useBench.getState()
  setValues({ [`as-${name}`]: as, ...(have ? { [name]: undefined } : {}) })
  set({ tool: { ...useBench.getState().tool!, slot: name } })
}

const fits = (info: FieldInfo, b: BenchBody) =>
  !info.kinds || (b.summary !== undefined && info.kinds.includes(b.summary.kind))

export function FieldInput({ name, info, value, fallback, bodies, active, onChange, onPickHere, onEnter }: Props) {
  const id = useId()
  const pickedCount = useBench((s) => s.pickedCount)
  const now = value === undefined ? fallback : value
  switch (info.field) {
    case 'body': {
      const some = bodies.filter((b) => fits(info, b))
      return (
        <Form.Group controlId={id}>
          <Form.Label>{info.label}</Form.Label>
          <Form.Select
            size="sm"
            value={String(now ?? '')}
            onChange={(e) => onChange(e.target.value || undefined)}
            style={
              now
                ? { background: 'var(--plum-wash)', borderColor: 'var(--plum-line)', color: 'var(--plum)' }
                : undefined
            }
          >
            <option value="">{some.length ? 'click a body, or choose' : 'no fitting body on the bench'}</option>
            {some.map((b) => (
              <option key={b.name} value={b.name}>
                {b.name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      )
    }
    case 'bodies': {
      const list = (now as string[] | undefined) ?? []
      return (
        <fieldset>
          <legend className="form-label">{info.label}</legend>
          {bodies
            .filter((b) => fits(info, b))
            .map((b) => (
              <Form.Check
                key={b.name}
                type="checkbox"
                id={`${id}-${b.name}`}
                label={b.name}
                checked={list.includes(b.name)}
                onChange={(e) => onChange(e.target.checked ? [...list, b.name] : list.filter((n) => n !== b.name))}
              />
            ))}
          {!bodies.some((b) => fits(info, b)) && <div className="soft small">no fitting body on the bench</div>}
        </fieldset>
      )
    }
    case 'choice': {
      const labels = Object.entries(info.labels ?? {})
      if (labels.length <= 3 && labels.reduce((s, [, l]) => s + l.length, 0) < 30) {
        return (
          <div>
            <div className="form-label" id={id}>
              {info.label}
            </div>
            <div className="seg" role="radiogroup" aria-labelledby={id}>
              {labels.map(([v, l]) => (
                <button key={v} type="button" role="radio" aria-checked={now === v} onClick={() => onChange(v)}>
                  {l}
                </button>
              ))}
            </div>
          </div>
        )
      }
      return (
        <Form.Group controlId={id}>
          <Form.Label>{info.label}</Form.Label>
          <Form.Select size="sm" value={String(now ?? '')} onChange={(e) => onChange(e.target.value)}>
            {labels.map(([v, l]) => (
              <option key={v} value={v}>
                {l}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      )
    }
    case 'toggle':
      return (
        <Form.Check
          type="checkbox"
          id={id}
          label={info.label}
          checked={!!now}
          onChange={(e) => onChange(e.target.checked)}
        />
      )
    case 'length':
    case 'angle':
    case 'number':
    case 'count':
    case 'percent':
      return (
        <NumberField
          label={info.label}
          value={now as number | undefined}
          kind={info.field === 'length' ? 'length' : info.field === 'angle' ? 'angle' : 'plain'}
          unit={info.unit}
          help={info.help}
          onChange={onChange}
          onEnter={onEnter}
        />
      )
    case 'point':
    case 'direction':
    case 'size': {
      const v = (now as number[] | undefined) ?? [0, 0, 0]
      const kind = info.field === 'direction' ? 'plain' : 'length'
      return (
        <div>
          <div className="form-label d-flex justify-content-between">
            {info.label}
            {info.pick === 'face' && (
              <button type="button" className="btn btn-link btn-sm p-0" aria-pressed={active} onClick={onPickHere}>
                {active ? 'click on a face' : 'pick a face'}
              </button>
            )}
            {info.pick === 'point' && (
              <button type="button" className="btn btn-link btn-sm p-0" aria-pressed={active} onClick={onPickHere}>
                {active ? 'click on the rim' : now ? 'pick again' : 'pick'}
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
                  onEnter={onEnter}
                />
              </div>
            ))}
          </div>
        </div>
      )
    }
    case 'touch': {
      const t = now as Touch | undefined
      const as = asKind(name)
      const kinds = touchChoices(name)
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
          <button
            type="button"
            className={`slot ${t ? 'full' : ''} ${active ? 'active' : ''}`}
            onClick={onPickHere}
            aria-pressed={active}
          >
            <span>{t ? (t.as === 'line' && !t.to ? 'click its other end' : words[t.as]) : `click: ${words[as]}`}</span>
            <span className="figure">{t ? pointText(t.at) : ''}</span>
          </button>
          {kinds.length > 1 && (
            <div className="d-flex gap-2 small mt-1" role="group" aria-label={`${info.label} is`}>
              {kinds.map((k) => (
                <button
                  key={k}
                  type="button"
                  className={`btn btn-link btn-sm p-0 ${as === k ? 'fw-bold' : ''}`}
                  aria-pressed={as === k}
                  onClick={() => setKind(name, k, t)}
                >
                  {words[k]}
                </button>
              ))}
            </div>
          )}
        </div>
      )
    }
    case 'view-line': {
      const line = now as { line: unknown[] } | undefined
      return (
        <div>
          <div className="form-label">{info.label}</div>
          <button
            type="button"
            className={`slot ${line ? 'full' : ''} ${active ? 'active' : ''}`}
            onClick={onPickHere}
            aria-pressed={active}
          >
            <span>{line ? 'drawn' : 'draw it in the view'}</span>
            <span className="figure">{line ? `${line.line.length} corners` : ''}</span>
          </button>
          {line && (
            <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange(undefined)}>
              draw again
            </button>
          )}
        </div>
      )
    }
    case 'points': {
      const list = (now as number[][] | undefined) ?? []
      return (
        <div>
          <div className="form-label">{info.label}</div>
          <button
            type="button"
            className={`slot ${list.length ? 'full' : ''} ${active ? 'active' : ''}`}
            onClick={onPickHere}
          >
            <span>
              {list.length
                ? `${list.length} picked`
                : info.pick === 'rims'
                  ? 'click near the rims'
                  : 'click on the body'}
            </span>
          </button>
          {list.length > 0 && (
            <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange([])}>
              clear
            </button>
          )}
          {info.help && !list.length && (
            <div className="soft" style={{ fontSize: '0.74rem' }}>
              {info.help}
            </div>
          )}
        </div>
      )
    }
    case 'region': {
      const list = (now as Region | undefined) ?? []
      return (
        <div>
          <div className="form-label">{info.label}</div>
          <button
            type="button"
            className={`slot ${list.length ? 'full' : ''} ${active ? 'active' : ''}`}
            onClick={onPickHere}
            aria-pressed={active}
          >
            <span>{list.length ? 'picked area' : 'pick on the bench'}</span>
            <span className="figure">{list.length ? `${many(pickedCount)} triangles` : ''}</span>
          </button>
          {list.length > 0 && (
            <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onChange(undefined)}>
              clear
            </button>
          )}
        </div>
      )
    }
    default:
      return (
        <Form.Group controlId={id}>
          <Form.Label>{info.label}</Form.Label>
          <Form.Control
            size="sm"
            autoComplete="off"
            value={String(now ?? '')}
            name={name}
            onChange={(e) => onChange(e.target.value || undefined)}
            onKeyDown={(e) => {
              if (e.key === 'Enter') {
                e.preventDefault()
                onEnter()
              }
            }}
          />
          {info.help && (
            <div className="soft" style={{ fontSize: '0.74rem' }}>
              {info.help}
            </div>
          )}
        </Form.Group>
      )
  }
}

export const pointText = (v: readonly number[] | undefined): string => (v ? v.map((x) => num(x, 1)).join(', ') : '')
