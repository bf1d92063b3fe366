/** Regions that a step found: a list with kind, size and noise, and what is told of them by hand. */
import { useEffect, useId } from 'react'
import { X } from 'lucide-react'
import { num, plural } from '@/core/base/say'
import { toldKinds, type Told } from '@/core/fit/told'
import { useBench } from '@/bench/state/store'
import type { FieldKit } from '../field'
import { BrushRadius } from '../region/brush-radius'
import { toldHand } from './hand'
import { kindCss, useTold, type FoundRegion } from './state'
import { tell } from './tell'

const kindWords: Record<Told['shape'], string> = {
  same: 'as it was',
  best: 'what serves best',
  plane: 'plane',
  cylinder: 'cylinder',
  cone: 'cone',
  sphere: 'sphere',
  ring: 'ring',
  free: 'free surface',
}

const sizeText = (r: FoundRegion) =>
  r.shape === 'cone'
    ? `${num(2 * (r.halfAngle ?? 0), 2)}°`
    : r.shape === 'ring'
      ? `Ø ${num(2 * (r.radius ?? 0), 2)} / ${num(2 * (r.thickness ?? 0), 2)}`
      : r.radius
        ? `Ø ${num(2 * r.radius, 3)}`
        : ''

/** What one entry says. */
function wordsOf(t: Partial<Told>): string {
  const places = t.at?.length ?? 0
  const as = t.shape && t.shape !== 'same' ? ` as ${kindWords[t.shape]}` : ''
  if (t.paint?.length) return places ? `painted over to a region${as}` : `painted: a region of its own${as}`
  return places > 1 ? `${plural(places, 'region')} made one${as}` : `a region told${as}`
}

/** More rows than this are not shown; the largest come first. */
const mostRows = 200

/** The regions that were found: a row each, picked by a click, looked at by two. */
function FoundTable({ list }: { list: readonly FoundRegion[] }) {
  const { picked, pick } = useTold()
  const { lookAt } = useBench.getState()
  return (
    <div className="rows">
      <table className="faces">
        <thead>
          <tr>
            <th>Kind</th>
            <th>Size</th>
            <th>Rms</th>
          </tr>
        </thead>
        <tbody>
          {list.slice(0, mostRows).map((r, i) => (
            <tr key={i} aria-selected={picked.includes(i)}>
              <td>
                <span className="swatch" style={{ background: kindCss(r.shape) }} />
                <button
                  type="button"
                  aria-pressed={picked.includes(i)}
                  onClick={() => pick(i)}
                  onDoubleClick={() => lookAt('Fit', r.on, 10)}
                >
                  {r.shape}
                </button>
              </td>
              <td>{sizeText(r)}</td>
              <td>{r.rms === undefined ? '' : num(r.rms, 4)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** What can be told of the regions that are picked. */
function Tell({ list }: { list: readonly FoundRegion[] }) {
  const id = useId()
  const { picked, paints } = useTold()
  const places = () => picked.map((i) => list[i].on)
  return (
    <>
      <div className="does">
        <button type="button" disabled={picked.length < 2} onClick={() => tell({ at: places() })}>
          Make one
        </button>
        <button
          type="button"
          aria-pressed={paints}
          title="Drag on the bench: triangles go to the picked region, or become one of their own"
          onClick={() => useTold.setState({ paints: !paints })}
        >
          Paint
        </button>
        <label htmlFor={id}>
          Kind
          <select
            id={id}
            className="form-select form-select-sm"
            value=""
            disabled={!picked.length}
            onChange={(e) => tell({ at: places(), shape: e.target.value as Told['shape'] })}
          >
            <option value="" disabled>
              …
            </option>
            {toldKinds
              .filter((k) => k !== 'same')
              .map((k) => (
                <option key={k} value={k}>
                  {kindWords[k]}
                </option>
              ))}
          </select>
        </label>
      </div>
      {paints && <BrushRadius label="Brush" className="radius" />}
    </>
  )
}

/** What was told, each to be taken back. */
function ToldList({ told, onChange }: { told: Partial<Told>[]; onChange(told: Partial<Told>[] | undefined): void }) {
  return (
    <ol className="told-list" aria-label="Told by hand">
      {told.map((t, i) => (
        <li key={i}>
          <span>{wordsOf(t)}</span>
          <button
            type="button"
            className="icon-button"
            aria-label={`Take back: ${wordsOf(t)}`}
            onClick={() => {
              const rest = told.filter((_, k) => k !== i)
              onChange(rest.length ? rest : undefined)
            }}
          >
            <X size={13} />
          </button>
        </li>
      ))}
    </ol>
  )
}

export const toldField: FieldKit = {
  picks: 'first',
  waits: () => true,
  hand: toldHand,
  Input: function ToldInput({ field: { info }, value, found, onChange }) {
    const told = (value as Partial<Told>[] | undefined) ?? []
    const { found: list } = useTold()
    const fresh = found?.[info.of ?? '']
    useEffect(() => {
      if (Array.isArray(fresh)) useTold.setState({ found: fresh as unknown as FoundRegion[], picked: [] })
    }, [fresh])
    if (!list.length && !told.length) return null
    return (
      <div className="told-regions">
        <div className="form-label">
          {info.label}: {list.length}
        </div>
        {list.length > 0 && (
          <>
            <FoundTable list={list} />
            <Tell list={list} />
          </>
        )}
        {told.length > 0 && <ToldList told={told} onChange={onChange} />}
      </div>
    )
  },
}
