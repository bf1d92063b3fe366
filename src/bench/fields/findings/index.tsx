/** What a step found, each with a tick: what has none is left as it is. */
import { useEffect, useState } from 'react'
import type { FieldKit } from '../field'

/** A list of no more is open from the start. */
const fewFindings = 8

export const findingsField: FieldKit = {
  Input: function FindingsInput({ field: { info }, value, found, onChange }) {
    const loose = Array.isArray(value) ? value.map(String) : []
    const told = found?.[info.of ?? '']
    // A change makes the ghost go; what it found stays in hand, so that the next tick can be turned too.
    const [kept, keep] = useState<string[]>([])
    useEffect(() => {
      if (Array.isArray(told))
        keep(told.flatMap((t) => (t && typeof t === 'object' && 'text' in t ? [String(t.text)] : [])))
    }, [told])
    const texts = [...new Set([...kept, ...loose])]
    if (!texts.length) return null
    const turn = (text: string) => {
      const next = loose.includes(text) ? loose.filter((t) => t !== text) : [...loose, text]
      onChange(next.length ? next : undefined)
    }
    return (
      <details className="found" open={texts.length <= fewFindings || undefined}>
        <summary>
          {info.label}: {texts.length}
          {loose.length > 0 && `, ${loose.length} left alone`}
        </summary>
        <ul className="ticks">
          {texts.map((text) => (
            <li key={text}>
              <label>
                <input type="checkbox" checked={!loose.includes(text)} onChange={() => turn(text)} /> {text}
              </label>
            </li>
          ))}
        </ul>
      </details>
    )
  },
}
