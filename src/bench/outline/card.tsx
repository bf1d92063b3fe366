/** The card of a drawing: what can still move, what is picked, the numbers of the way in hand, and all dimensions. */
import { Trash2 } from 'lucide-react'
import { useEffect, useId, useState } from 'react'
import { Form } from 'react-bootstrap'
import { num, plural } from '@/core/base/say'
import { isValueName } from '@/core/base/quantity'
import { constraintWord, curveWord, dimensionWord, pointWord } from '@/core/outline/words'
import { constraintWords, type Dimension } from '@/core/outline/constraint'
import { concentric } from '@/core/outline/concentric'
import { copied, moved } from '@/core/outline/copies'
import { type Drawing, type Place } from '@/core/outline/drawing'
import type { Proposal } from '@/core/outline/propose'
import { faultWords } from '@/core/outline/faults'
import { letteringFonts, type Lettering } from '@/core/outline/lettering-schema'
import { composeFlat, turnFlat, type Flat } from '@/core/outline/transform'
import { vectorOf } from '@/bench/hands/handle-kits'
import { Button } from '@/bench/forms/button'
import { NumberField } from '@/bench/forms/number-field'
import { useTool } from '@/bench/state/tool'
import { figureOf } from './figures'
import { removePicked } from './hand'
import { isFit, type WayOptions } from './ways'
import { hold, holdBy, lay, outline, useDrawing, useOutline } from './state'

export function OutlineHead() {
  const d = useDrawing()
  return (
    <div data-testid="outline-card">
      <Freedom d={d} />
      <TakeOver d={d} />
      <Refused />
      <Options d={d} />
      <Fitted />
      <Picks d={d} />
      <Proposed d={d} />
      <Letterings d={d} />
      <Dimensions d={d} />
    </div>
  )
}

function Freedom({ d }: { d: Drawing }) {
  const analysis = useOutline((s) => s.analysis)
  if (!d.curves.length && !d.points.length) return <Planes />
  if (!analysis) return null
  const { free, curves } = analysis.found.freedom
  const loose = curves.filter((n) => n > 0).length
  const counts = analysis.found.faults.reduce<Record<string, number>>(
    (m, f) => ({ ...m, [f.kind]: (m[f.kind] ?? 0) + 1 }),
    {},
  )
  const area = analysis.found.fills.filter((f) => f.depth % 2 === 0).reduce((s, f) => s + f.area, 0)
  return (
    <>
      <p className="mb-1" data-testid="freedom">
        {free ? (
          <>
            <b className="figure">{free}</b> {free === 1 ? 'way' : 'ways'} to move
            {loose ? <span className="soft">, in {plural(loose, 'curve')}</span> : null}
          </>
        ) : (
          'Nothing can move: the drawing is whole.'
        )}
      </p>
      <p className="soft small mb-1">
        {plural(analysis.found.fills.length, 'area')}
        {area ? ` · ${num(area, 2)} mm²` : ''}
        {Object.entries(counts).map(([k, n]) => ` · ${plural(n, faultWords[k as keyof typeof faultWords])}`)}
      </p>
    </>
  )
}

/** The job's own planes, while nothing is drawn yet. */
const origins: readonly (readonly [string, [number, number, number]])[] = [
  ['Floor', [0, 0, 1]],
  ['Front', [0, -1, 0]],
  ['Side', [1, 0, 0]],
]

function Planes() {
  const on = useTool((s) => s.tool?.values.on)
  const normal = useTool((s) => s.tool?.values.normal) ?? [0, 0, 1]
  const at = useTool((s) => s.tool?.values.at) ?? [0, 0, 0]
  return (
    <div className="mb-2">
      <p className="soft small mb-1">Nothing is drawn yet. Draw on</p>
      <div className="d-flex gap-1" role="group" aria-label="Plane to draw on">
        {origins.map(([word, n]) => {
          const here = !on && vectorOf(at)?.every((v) => !v) && vectorOf(normal)?.every((v, k) => v === n[k])
          return (
            <Button
              key={word}
              size="sm"
              variant="quiet"
              active={here}
              aria-pressed={here}
              onClick={() => useTool.getState().setValues({ at: [0, 0, 0], normal: n, x: undefined, on: undefined })}
            >
              {word}
            </Button>
          )
        })}
      </div>
    </div>
  )
}

/** The curves of the outline that is drawn on, to go on from. */
function TakeOver({ d }: { d: Drawing }) {
  const there = useOutline((s) => s.ground?.drawing)
  if (!there || d.curves.length) return null
  return (
    <Button size="sm" variant="quiet" className="mb-2" onClick={() => lay(there)}>
      Take its {plural(there.curves.length, 'curve')} over
    </Button>
  )
}

/** What was not taken, with the ways out. */
function Refused() {
  const refusal = useOutline((s) => s.refusal)
  if (!refusal) return null
  return (
    <div className="told bad" role="alert" data-testid="refused">
      <p className="mb-1">{refusal.words[0].toUpperCase() + refusal.words.slice(1)}</p>
      <div className="d-flex gap-2">
        {refusal.measure && (
          <Button size="sm" variant="quiet" onClick={() => void holdBy(refusal.measure!)}>
            Only measure it
          </Button>
        )}
        <Button size="sm" variant="quiet" onClick={() => outline.setState({ refusal: null })}>
          Leave it out
        </Button>
      </div>
    </div>
  )
}

type NumberOption = { [K in keyof WayOptions]: WayOptions[K] extends number ? K : never }[keyof WayOptions]

/** One number of the ways in hand. */
function OptionField(p: { name: NumberOption; label: string; unit?: string; kind?: 'length' | 'angle' | 'plain' }) {
  const options = useOutline((s) => s.options)
  return (
    <div className="field">
      <NumberField
        label={p.label}
        value={options[p.name]}
        kind={p.kind ?? 'length'}
        unit={p.unit}
        onChange={(v) => v !== undefined && outline.setState({ options: { ...options, [p.name]: v } })}
      />
    </div>
  )
}

/** Numbers that the way in hand works with. */
function Options({ d }: { d: Drawing }) {
  const way = useOutline((s) => s.way)
  const options = useOutline((s) => s.options)
  if (isFit(way)) return <OptionField name="tolerance" label="Tolerance" unit="mm" />
  switch (way) {
    case 'lettering':
      return <WordsForm words={options} onChange={(v) => outline.setState({ options: { ...options, ...v } })} />
    case 'polygon':
      return <OptionField name="sides" label="Sides" kind="plain" />
    case 'fillet':
      return <OptionField name="radius" label="Radius" unit="mm" />
    case 'chamfer':
    case 'offset':
      return <OptionField name="distance" label="Distance" unit="mm" />
    case 'circle-copies':
      return <OptionField name="count" label="How many in all" kind="plain" />
    case 'rows':
      return <Rows d={d} options={options} />
    case 'concentric':
      return <Concentric d={d} by={options.distance} />
    case 'shift':
      return <Shift d={d} options={options} />
    default:
      return null
  }
}

/** What is picked in the drawing. */
function usePicked() {
  const curves = useOutline((s) => s.curves)
  const points = useOutline((s) => s.points)
  return { picked: { points, curves }, some: curves.length + points.length > 0 }
}

/** The first of rows of copies, by how many, how far apart and which way. */
function rowMaps({ count, gap, angle }: WayOptions): Flat[] {
  const a = (angle * Math.PI) / 180
  return Array.from({ length: Math.max(1, Math.min(500, Math.round(count))) - 1 }, (_, i): Flat => {
    const l = gap * (i + 1)
    return [1, 0, 0, 1, l * Math.cos(a), l * Math.sin(a)]
  })
}

function Rows({ d, options }: { d: Drawing; options: WayOptions }) {
  const { picked, some } = usePicked()
  return (
    <>
      <OptionField name="count" label="How many in all" kind="plain" />
      <OptionField name="gap" label="From one to the next" unit="mm" />
      <OptionField name="angle" label="Along" unit="°" kind="angle" />
      <Button
        size="sm"
        variant="quiet"
        className="mb-2"
        disabled={!some}
        onClick={() => lay(copied(d, picked, rowMaps(options)))}
      >
        Copy in rows
      </Button>
    </>
  )
}

function Concentric({ d, by }: { d: Drawing; by: number }) {
  const { curves } = usePicked().picked
  const made = (sign: number) => concentric(d, curves, sign * Math.abs(by))
  return (
    <>
      <OptionField name="distance" label="Farther by" unit="mm" />
      <div className="d-flex gap-2 mb-2">
        {(
          [
            ['Copy outside', made(1)],
            ['Copy inside', made(-1)],
          ] as const
        ).map(([word, drawing]) => (
          <Button key={word} size="sm" variant="quiet" disabled={!drawing} onClick={() => drawing && lay(drawing)}>
            {word}
          </Button>
        ))}
      </div>
    </>
  )
}

/** The middle of what is picked: of the points that its curves are told by. */
function middleOf(d: Drawing, { points, curves }: { points: readonly number[]; curves: readonly number[] }): Place {
  const list = curves.length
    ? curves.flatMap((k) => {
        const c = d.curves[k]
        return 'from' in c ? [c.from, c.to] : 'centre' in c ? [c.centre] : (c.through ?? c.control ?? [])
      })
    : points
  const n = list.length || 1
  return [list.reduce((s, p) => s + d.points[p][0], 0) / n, list.reduce((s, p) => s + d.points[p][1], 0) / n]
}

function Shift({ d, options }: { d: Drawing; options: WayOptions }) {
  const { picked, some } = usePicked()
  const about = (m: Flat): Flat => {
    const [x, y] = middleOf(d, picked)
    return composeFlat([1, 0, 0, 1, x, y], composeFlat(m, [1, 0, 0, 1, -x, -y]))
  }
  const along = (): Flat => {
    const a = (options.angle * Math.PI) / 180
    return [1, 0, 0, 1, options.gap * Math.cos(a), options.gap * Math.sin(a)]
  }
  const does: [string, boolean, () => Flat][] = [
    ['Move', some, along],
    ['Turn', some, () => about(turnFlat(options.angle))],
    ['Scale', some && options.factor > 0, () => about([options.factor, 0, 0, options.factor, 0, 0])],
  ]
  return (
    <>
      <OptionField name="gap" label="Move by" unit="mm" />
      <OptionField name="angle" label="Along, or turned by" unit="°" kind="angle" />
      <OptionField name="factor" label="Scale by" kind="plain" />
      <div className="d-flex gap-2 mb-2">
        {does.map(([word, can, map]) => (
          <Button key={word} size="sm" variant="quiet" disabled={!can} onClick={() => lay(moved(d, picked, map()))}>
            {word}
          </Button>
        ))}
      </div>
    </>
  )
}

/** What the last fit was. */
function Fitted() {
  const fitted = useOutline((s) => s.fitted)
  return fitted ? (
    <p className="told good" data-testid="fitted">
      {fitted[0].toUpperCase() + fitted.slice(1)}.
    </p>
  ) : null
}

const proposalWord = (d: Drawing, p: Proposal) =>
  p.constraint
    ? constraintWord(d, p.constraint)
    : `${dimensionWord(d, p.dimension!)} ${num(Number(p.dimension!.value), 3)}`

/** Constraints and round sizes that the drawing nearly has, to be taken one by one or all. */
function Proposed({ d }: { d: Drawing }) {
  const analysis = useOutline((s) => s.analysis)
  // What is said of an older drawing names other curves.
  const list = analysis?.of === d ? analysis.found.proposed : []
  if (!list.length) return null
  const take = (p: Proposal) =>
    hold({
      ...(p.constraint ? { constraints: [p.constraint] } : {}),
      ...(p.dimension ? { dimensions: [p.dimension] } : {}),
    })
  return (
    <details className="mb-2" data-testid="proposed">
      <summary className="small">{plural(list.length, 'thing')} it nearly holds</summary>
      <ul className="dimension-list">
        {list.slice(0, 30).map((p, i) => (
          <li key={i}>
            <button
              type="button"
              className="btn btn-link btn-sm p-0 text-start"
              title={`${proposalWord(d, p)}: take it`}
              onClick={() => void take(p)}
            >
              {proposalWord(d, p)}
            </button>
            <span className="figure soft">{num(p.off, 3)}</span>
          </li>
        ))}
      </ul>
      <Button
        size="sm"
        variant="quiet"
        onClick={() => {
          // Each by itself: one that contradicts is left out, the others stay.
          void (async () => {
            for (const p of list) await take(p)
            outline.setState({ refusal: null })
          })()
        }}
      >
        Hold to all of them
      </Button>
    </details>
  )
}

/** What is picked, by name, and the constraints on it. */
function Picks({ d }: { d: Drawing }) {
  const points = useOutline((s) => s.points)
  const curves = useOutline((s) => s.curves)
  const sign = useOutline((s) => s.sign)
  const constraint = sign?.of === 'constraint' ? d.constraints?.[sign.index] : undefined
  const list = [
    ...points.filter((i) => i < d.points.length).map(pointWord),
    ...curves.filter((i) => i < d.curves.length).map((i) => curveWord(d, i)),
  ]
  const on = (d.constraints ?? []).flatMap((c, i) =>
    c.points.some((p) => points.includes(p)) || c.curves.some((k) => curves.includes(k)) ? [{ c, i }] : [],
  )
  if (!list.length && !constraint) return null
  return (
    <div className="mb-2">
      <div className="d-flex justify-content-between align-items-center">
        <span className="picked-words">{constraint ? constraintWord(d, constraint) : list.join(', ')}</span>
        <button
          type="button"
          className="icon-button"
          title="Take away (Delete)"
          aria-label="Take away"
          onClick={() => removePicked()}
        >
          <Trash2 size={15} aria-hidden />
        </button>
      </div>
      {!constraint && on.length > 0 && (
        <ul className="held-list">
          {on.slice(0, 8).map(({ c, i }) => (
            <li key={i}>
              <button
                type="button"
                className="btn btn-link btn-sm p-0"
                onClick={() => outline.setState({ sign: { of: 'constraint', index: i }, points: [], curves: [] })}
              >
                {constraintWords[c.kind]}
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

function Dimensions({ d }: { d: Drawing }) {
  const measures = useOutline((s) => s.analysis?.found.measures)
  const sign = useOutline((s) => s.sign)
  const list = d.dimensions ?? []
  if (!list.length) return null
  const change = (i: number, by: Partial<Dimension>) =>
    void holdBy((now) => ({ ...now, dimensions: now.dimensions?.map((c, k) => (k === i ? { ...c, ...by } : c)) }))
  return (
    <details className="mb-2" open={list.length <= 6 || sign?.of === 'dimension'}>
      <summary className="small">{plural(list.length, 'dimension')}</summary>
      <ul className="dimension-list">
        {list.map((c, i) => (
          <li key={i} className={sign?.of === 'dimension' && sign.index === i ? 'picked' : ''}>
            <button
              type="button"
              className="btn btn-link btn-sm p-0 text-start"
              title={dimensionWord(d, c)}
              onClick={() => outline.setState({ sign: { of: 'dimension', index: i }, points: [], curves: [] })}
            >
              {dimensionWord(d, c)}
            </button>
            <span className="figure">{figureOf({ ...c, name: undefined }, measures?.[i])}</span>
            {sign?.of === 'dimension' && sign.index === i && (
              <div className="d-flex gap-2 align-items-center w-100">
                <NameInput key={i} name={c.name} onChange={(name) => change(i, { name })} />
                <Form.Check
                  id={`driven-${i}`}
                  label="only measured"
                  className="small"
                  checked={!!c.driven}
                  onChange={(e) =>
                    change(
                      i,
                      e.target.checked
                        ? { driven: true, value: undefined }
                        : { driven: undefined, value: Number((measures?.[i] ?? 0).toFixed(6)) },
                    )
                  }
                />
                <button
                  type="button"
                  className="icon-button"
                  aria-label="Take the dimension away"
                  onClick={() => removePicked()}
                >
                  <Trash2 size={15} aria-hidden />
                </button>
              </div>
            )}
          </li>
        ))}
      </ul>
    </details>
  )
}

function NameInput({ name, onChange }: { name: string | undefined; onChange(name: string | undefined): void }) {
  const [text, setText] = useState(name ?? '')
  const bad = text !== '' && !isValueName(text)
  const put = () => {
    if (!bad && text !== (name ?? '')) onChange(text || undefined)
  }
  return (
    <Form.Control
      size="sm"
      placeholder="name"
      aria-label="Name of the dimension"
      value={text}
      isInvalid={bad}
      onChange={(e) => setText(e.target.value)}
      onBlur={put}
      onKeyDown={(e) => {
        if (e.key !== 'Enter') return
        e.preventDefault()
        put()
      }}
    />
  )
}

type Words = Pick<Lettering, 'text' | 'size' | 'font' | 'align'>

/** What words say, how large, in which font, and how they stand to their place. */
function WordsForm({ words, onChange }: { words: Words; onChange(v: Partial<Words>): void }) {
  const id = useId()
  const [text, setText] = useState(words.text)
  useEffect(() => setText(words.text), [words.text])
  return (
    <div className="mb-2">
      <Form.Group controlId={`${id}t`} className="field">
        <Form.Label>Words</Form.Label>
        <Form.Control
          size="sm"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => text !== words.text && text.trim() && onChange({ text })}
          onKeyDown={(e) => {
            if (e.key !== 'Enter') return
            e.preventDefault()
            if (text.trim()) onChange({ text })
          }}
        />
      </Form.Group>
      <div className="field">
        <NumberField
          label="Height of capitals"
          value={words.size}
          kind="length"
          unit="mm"
          onChange={(v) => v !== undefined && v > 0 && onChange({ size: v })}
        />
      </div>
      <div className="d-flex gap-2">
        <Form.Select
          size="sm"
          aria-label="Font"
          value={words.font}
          onChange={(e) => onChange({ font: e.target.value as Words['font'] })}
        >
          {Object.entries(letteringFonts).map(([k, v]) => (
            <option key={k} value={k}>
              {v}
            </option>
          ))}
        </Form.Select>
        <Form.Select
          size="sm"
          aria-label="Words begin"
          value={words.align}
          onChange={(e) => onChange({ align: e.target.value as Words['align'] })}
        >
          <option value="left">from the place</option>
          <option value="centre">centred on it</option>
          <option value="right">up to it</option>
        </Form.Select>
      </div>
    </div>
  )
}

/** All words of the drawing, to change or take away. */
function Letterings({ d }: { d: Drawing }) {
  const [open, setOpen] = useState<number | null>(null)
  const list = d.lettering ?? []
  if (!list.length) return null
  const put = (lettering: Lettering[]) => lay({ ...d, lettering })
  return (
    <div className="mb-2">
      <span className="small soft">{plural(list.length, 'piece')} of lettering</span>
      {list.map((l, i) => (
        <div key={i}>
          <div className="d-flex justify-content-between align-items-center">
            <button
              type="button"
              className="btn btn-link btn-sm p-0 text-start"
              onClick={() => setOpen(open === i ? null : i)}
            >
              {l.text}
            </button>
            <button
              type="button"
              className="icon-button"
              aria-label={`Take away "${l.text}"`}
              onClick={() => put(list.filter((_, k) => k !== i))}
            >
              <Trash2 size={15} aria-hidden />
            </button>
          </div>
          {open === i && (
            <>
              <WordsForm words={l} onChange={(v) => put(list.map((x, k) => (k === i ? { ...x, ...v } : x)))} />
              <div className="d-flex gap-2 mb-2">
                <NumberField
                  label="Wider by"
                  value={l.spacing}
                  kind="length"
                  unit="mm"
                  onChange={(v) => put(list.map((x, k) => (k === i ? { ...x, spacing: v ?? 0 } : x)))}
                />
                <NumberField
                  label="Turned by"
                  value={l.turn}
                  kind="angle"
                  unit="°"
                  onChange={(v) => put(list.map((x, k) => (k === i ? { ...x, turn: v ?? 0 } : x)))}
                />
              </div>
            </>
          )}
        </div>
      ))}
    </div>
  )
}
