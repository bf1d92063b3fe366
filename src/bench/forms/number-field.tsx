'use client'
/** A number that takes units and arithmetic; what was typed is read when the field is left or Enter is pressed. */
import { useEffect, useId, useState } from 'react'
import { Form, InputGroup } from 'react-bootstrap'
import { parseQuantity, type QuantityKind } from '@/core/base/quantity'

interface Props {
  label: string
  value: number | undefined
  kind: QuantityKind
  unit?: string
  help?: string
  hideLabel?: boolean
  onChange(value: number | undefined): void
  onEnter?(): void
}

const show = (v: number | undefined) => (v === undefined ? '' : String(Number(v.toFixed(5))))

export function NumberField({ label, value, kind, unit, help, hideLabel, onChange, onEnter }: Props) {
  const id = useId()
  const [text, setText] = useState(show(value))
  const [bad, setBad] = useState(false)
  useEffect(() => {
    // What is being typed stays as typed while it means the same number.
    setText((t) => (parseQuantity(t, kind) === value || (!t && value === undefined) ? t : show(value)))
    setBad(false)
  }, [value, kind])
  const read = (t: string): boolean => {
    if (!t.trim()) {
      setBad(false)
      if (value !== undefined) onChange(undefined)
      return true
    }
    const v = parseQuantity(t, kind)
    setBad(v === null)
    if (v !== null && v !== value) onChange(v)
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
            const v = parseQuantity(e.target.value, kind)
            if (
              v !== null &&
              v !== value &&
              !/[a-z+*/(-]\s*$/i.test(e.target.value) &&
              !e.target.value.trim().endsWith('.')
            )
              onChange(v)
          }}
          onBlur={(e) => {
            if (read(e.target.value)) setText(show(parseQuantity(e.target.value, kind) ?? value))
          }}
          onKeyDown={(e) => {
            if (e.key !== 'Enter') return
            e.preventDefault()
            if (read(text)) onEnter?.()
          }}
        />
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
