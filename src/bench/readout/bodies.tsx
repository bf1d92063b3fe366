'use client'
/** The bodies on the bench: shown or hidden, colour, kind, closed or not. */
import { Blend, Columns2, Eye, EyeOff, Focus, Palette } from 'lucide-react'
import type { BenchBody } from '@/bench/state/job'
import { colourOf, palette, useBench } from '@/bench/state/store'

export function badgeOf({ facts }: Pick<BenchBody, 'facts'>): { text: string; ok: boolean } {
  return facts ? { text: `${facts.kind} · ${facts.badge}`, ok: facts.sound } : { text: '…', ok: true }
}

export function Bodies({ bodies }: { bodies: BenchBody[] }) {
  const looks = useBench((s) => s.looks)
  const selected = useBench((s) => s.selected)
  const { look, set } = useBench.getState()
  const shown = bodies.filter((b) => !looks[b.name]?.hidden).length
  const alone = (name: string) =>
    set({ looks: Object.fromEntries(bodies.map((b) => [b.name, { ...looks[b.name], hidden: b.name !== name }])) })
  const only = selected && shown === 1 && !looks[selected]?.hidden
  return (
    <section aria-label="Bodies" className="mb-3">
      <div className="panel-head">
        <h2>Bodies</h2>
        <span className="small soft">{bodies.length ? `${shown} shown` : ''}</span>
      </div>
      {bodies.length === 0 && <p className="soft small">Nothing on the bench yet.</p>}
      {bodies.map((b, i) => {
        const l = looks[b.name] ?? {}
        const badge = badgeOf(b)
        const colour = colourOf(looks, b, i)
        return (
          <div
            key={b.name}
            className={`body-row ${selected === b.name ? 'selected' : ''}`}
            data-testid={`body-${b.name}`}
          >
            <button
              type="button"
              className="icon-button"
              aria-label={`${l.hidden ? 'Show' : 'Hide'} ${b.name}`}
              aria-pressed={!l.hidden}
              onClick={() => look(b.name, { hidden: !l.hidden })}
            >
              {l.hidden ? <EyeOff size={16} /> : <Eye size={16} />}
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
              aria-pressed={selected === b.name}
            >
              {b.name}
            </button>
            <span className={`badge-kind ${badge.ok ? 'ok' : 'open'}`}>{badge.text}</span>
          </div>
        )
      })}
      {selected && bodies.some((b) => b.name === selected) && (
        <div className="looks-row mt-1" role="group" aria-label={`Looks of ${selected}`}>
          <button
            type="button"
            className="btn btn-quiet btn-sm d-flex gap-1 align-items-center"
            aria-pressed={!!looks[selected]?.ghost}
            onClick={() => look(selected, { ghost: !looks[selected]?.ghost })}
          >
            <Blend size={14} />
            Faint
          </button>
          <button
            type="button"
            className="btn btn-quiet btn-sm d-flex gap-1 align-items-center"
            onClick={() =>
              only
                ? set({ looks: Object.fromEntries(bodies.map((b) => [b.name, { ...looks[b.name], hidden: false }])) })
                : alone(selected)
            }
          >
            <Focus size={14} />
            {only ? 'Show all' : 'Alone'}
          </button>
          <button
            type="button"
            className="btn btn-quiet btn-sm d-flex gap-1 align-items-center"
            aria-pressed={!!looks[selected]?.pieces}
            title="Every piece in its own colour"
            onClick={() => look(selected, { pieces: !looks[selected]?.pieces })}
          >
            <Palette size={14} />
            Pieces
          </button>
          {bodies.length > 1 && (
            <button
              type="button"
              className="btn btn-quiet btn-sm d-flex gap-1 align-items-center"
              onClick={() =>
                set({
                  comparison: {
                    a: selected,
                    b: bodies.find((b) => b.name !== selected)!.name,
                    how: 'overlaid',
                    at: 0.5,
                  },
                })
              }
            >
              <Columns2 size={14} />
              Compare
            </button>
          )}
        </div>
      )}
    </section>
  )
}
