'use client'
/** The bodies on the bench: shown or hidden, colour, kind, closed or not. */
import { Blend, Columns2, Eye, EyeDashed, EyeOff, Focus, Palette, type LucideIcon } from 'lucide-react'
import type { BenchBody } from '@/bench/state/job'
import { colourOf, isFaint, palette, useBench } from '@/bench/state/store'

export function badgeOf({ facts }: Pick<BenchBody, 'facts'>): { text: string; ok: boolean } {
  return facts ? { text: `${facts.kind} · ${facts.badge}`, ok: facts.sound } : { text: '…', ok: true }
}

export function Bodies({ bodies }: { bodies: BenchBody[] }) {
  const looks = useBench((s) => s.looks)
  const selected = useBench((s) => s.selected)
  const shown = bodies.filter((b) => !looks[b.name]?.hidden).length
  return (
    <section aria-label="Bodies" className="mb-3">
      <div className="panel-head">
        <h2>Bodies</h2>
        <span className="small soft">{bodies.length ? `${shown} shown` : ''}</span>
      </div>
      {bodies.length === 0 && <p className="soft small">Nothing on the bench yet.</p>}
      {bodies.map((b, i) => (
        <BodyRow key={b.name} body={b} index={i} />
      ))}
      {selected && bodies.some((b) => b.name === selected) && (
        <LooksRow bodies={bodies} name={selected} shown={shown} />
      )}
    </section>
  )
}

function BodyRow({ body: b, index }: { body: BenchBody; index: number }) {
  const looks = useBench((s) => s.looks)
  const selected = useBench((s) => s.selected === b.name)
  const { look, set } = useBench.getState()
  const hidden = !!looks[b.name]?.hidden
  const faint = !hidden && isFaint(looks, b)
  const badge = badgeOf(b)
  const colour = colourOf(looks, b, index)
  return (
    <div className={`body-row ${selected ? 'selected' : ''}`} data-testid={`body-${b.name}`}>
      <button
        type="button"
        className="icon-button"
        aria-label={`${hidden || faint ? 'Show' : 'Hide'} ${b.name}`}
        aria-pressed={!hidden && !faint}
        title={faint ? 'Faint: click to show it' : undefined}
        onClick={() => look(b.name, faint ? { ghost: false } : { hidden: !hidden })}
      >
        {hidden ? <EyeOff size={16} /> : faint ? <EyeDashed size={16} /> : <Eye size={16} />}
      </button>
      <button
        type="button"
        className="swatch"
        style={{ background: colour }}
        aria-label={`Next colour for ${b.name}`}
        title="Next colour"
        onClick={() => look(b.name, { colour: palette[(palette.indexOf(colour) + 1) % palette.length] })}
      />
      <button
        type="button"
        className="name"
        title={b.name}
        onClick={() => set({ selected: b.name, part: null })}
        aria-pressed={selected}
      >
        {b.name}
      </button>
      <span className={`badge-kind ${badge.ok ? 'ok' : 'open'}`}>{badge.text}</span>
    </div>
  )
}

/** Ways to look at the body that is picked. */
function LooksRow({ bodies, name, shown }: { bodies: BenchBody[]; name: string; shown: number }) {
  const looks = useBench((s) => s.looks)
  const { look, set } = useBench.getState()
  const own = looks[name] ?? {}
  const only = shown === 1 && !own.hidden
  const hide = (some: (b: BenchBody) => boolean) =>
    set({ looks: Object.fromEntries(bodies.map((b) => [b.name, { ...looks[b.name], hidden: some(b) }])) })
  const faint = isFaint(looks, bodies.find((b) => b.name === name) ?? { name })
  const other = bodies.find((b) => b.name !== name)
  return (
    <div className="looks-row mt-1" role="group" aria-label={`Looks of ${name}`}>
      <LookButton icon={Blend} label="Faint" pressed={faint} act={() => look(name, { ghost: !faint })} />
      <LookButton icon={Focus} label={only ? 'Show all' : 'Alone'} act={() => hide((b) => !only && b.name !== name)} />
      <LookButton
        icon={Palette}
        label="Pieces"
        title="Every piece in its own colour"
        pressed={!!own.pieces}
        act={() => look(name, { pieces: !own.pieces })}
      />
      {other && (
        <LookButton
          icon={Columns2}
          label="Compare"
          act={() => set({ comparison: { a: name, b: other.name, how: 'overlaid', at: 0.5 } })}
        />
      )}
    </div>
  )
}

function LookButton(p: { icon: LucideIcon; label: string; title?: string; pressed?: boolean; act(): void }) {
  return (
    <button
      type="button"
      className="btn btn-quiet btn-sm d-flex gap-1 align-items-center"
      title={p.title}
      aria-pressed={p.pressed}
      onClick={p.act}
    >
      <p.icon size={14} />
      {p.label}
    </button>
  )
}
