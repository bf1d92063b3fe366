/** Measures that stay with the job, and the one in hand. */
import { num } from '@/core/base/say'
import type { Vec3 } from '@/core/math/vec'
import type { Mark } from '@/bench/state/marks'
import { Label } from './labels'
import { OverlayLine } from './overlays'

const ends = ({ facts }: Mark) => [facts.markFrom as unknown as Vec3, facts.markTo as unknown as Vec3] as const

/** In the canvas: their lines. */
export const MarkLines = ({ marks }: { marks: readonly Mark[] }) =>
  marks.map((m) => {
    const [from, to] = ends(m)
    return (
      <OverlayLine
        key={m.id}
        points={Float32Array.from([...from, ...to])}
        colour={m.ghost ? '#8a2f63' : m.past ? '#8b8f92' : '#0e5f55'}
      />
    )
  })

/** On the canvas: their figures. */
export const MarkLabels = ({ marks }: { marks: readonly Mark[] }) =>
  marks.map((m) => {
    const [a, b] = ends(m)
    return (
      <Label
        key={m.id}
        at={[(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2]}
        className={`chip ${m.ghost ? 'picked' : m.past ? 'past' : ''}`}
        testId="mark"
        title={m.past ? 'Measured before the body was changed' : undefined}
      >
        <b className="figure">
          {num(Number(m.facts.value), 3)}
          {m.facts.unit === '°' ? '°' : ' mm'}
        </b>
      </Label>
    )
  })
