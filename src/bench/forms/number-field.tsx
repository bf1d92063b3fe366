'use client'
/**
 * A number that takes units, arithmetic and the job's named values; what was typed is read when the field is left or Enter is pressed. What
 * speaks of values by name is kept as it was written, so that it follows them.
 */
import { useEffect, useId, useState } from 'react'
import { Form, InputGroup } from 'react-bootstrap'
import { namesIn, parseQuantity, type QuantityKind } from '@/core/base/quantity'
import { useStore } from 'zustand'
import { num } from '@/core/base/say'
import { jobValues } from '@/bench/state/values'

interface Props {
  label: string
  value: number | string | undefined
  kind: QuantityKind
  unit?: string
  help?: string
  hideLabel?: boolean
  onChange(value: number | undefined): void
  /** Takes texts that speak of named values; left out: only numbers are taken. */
  onText?(text: string): void
  onEnter?(): void
}

const show = (v: number | string | undefined) =>
  v === undefined ? '' : typeof v === 'string' ? v : String(Number(v.toFixed(5)))

export function NumberField({ label, value, kind, unit, help, hideLabel, onChange, onText, onEnter }: Props) {
  const id = useId()
  const [text, setText] = useState(show(value))
  const [bad, setBad] = useState(false)
  const numbers = useStore(jobValues, (s) => s.numbers)
  const parse = (t: string) => parseQuantity(t, kind, onText ? (n) => numbers.get(n) : undefined)
  const put = (t: string, v: number) => {
    if (onText && namesIn(t).length) {
      if (t !== value) onText(t)
    } else if (v !== value) onChange(v)
  }
  useEffect(() => {
    // What is being typed stays as typed while it means the same number.
    setText((t) => (t === value || parseQuantity(t, kind) === value || (!t && value === undefined) ? t : show(value)))
    setBad(false)
  }, [value, kind])
  const read = (t: string): boolean => {
    if (!t.trim()) {
      setBad(false)
      if (value !== undefined) onChange(undefined)
      return true
    }
    const v = parse(t)
    setBad(v === null)
    if (v !== null) put(t, v)
    return v !== null
  }
  return (
    <Form.Group controlId={id}>
      <Form.Label className={hideLabel ? 'visually-hidden' : undefined}>{label}</Form.Label>
      <InputGroup size="sm">
        <Form.Control
          className="figure"
          autoComplete="off"
          inputMode="text"
          value={text}
          isInvalid={bad}
          aria-describedby={help ? `${id}-help` : undefined}
          onChange={(e) => {
            setText(e.target.value)
            const v = parse(e.target.value)
            if (
              v !== null &&
              v !== value &&
              !/[a-z+*/(-]\s*$/i.test(e.target.value) &&
              !e.target.value.trim().endsWith('.')
            )
              put(e.target.value, v)
          }}
          onBlur={(e) => {
            if (read(e.target.value) && !namesIn(e.target.value).length) setText(show(parse(e.target.value) ?? value))
          }}
          onKeyDown={(e) => {
            if (e.key !== 'Enter') return
            e.preventDefault()
            if (read(text)) onEnter?.()
          }}
        />
        {typeof value === 'string' && parse(value) !== null && (
          <InputGroup.Text className="figure small">{num(parse(value)!, 4)}</InputGroup.Text>
        )}
        {unit && <InputGroup.Text className="figure small">{unit}</InputGroup.Text>}
      </InputGroup>
      {bad && (
        <div className="small" style={{ color: 'var(--brick)' }}>
          Not a number. Try 3.4, 1/4 in or 25.4/2.
        </div>
      )}
      {help && (
        <div className="soft" style={{ fontSize: '0.74rem' }} id={`${id}-help`}>
          {help}
        </div>
      )}
    </Form.Group>
  )
}
