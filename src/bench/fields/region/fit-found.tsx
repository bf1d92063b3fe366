/** What fits the picked triangles, as figures, with the scale of the colours that lie on them. */
import { num, plural } from '@/core/base/say'
import { colourAt } from '@/bench/draw/ramp'
import { useTool } from '@/bench/state/tool'
import type { LiveFit } from '@/bench/picking/worker'
import { boundsOf } from './live-fit'

/** What is less does not show in three digits. */
const leastTold = 5e-4

const sizeOf = ({ kind, round, halfAngle, sigma }: LiveFit['shapes'][number]) => {
  const free = (v: number) =>
    sigma !== undefined && Number.isFinite(sigma) && v * sigma >= leastTold ? ` ± ${num(v * sigma, 3)}` : ''
  if (round) return `${kind} Ø ${num(2 * round, 3)}${free(2)} mm`
  return halfAngle ? `${kind} of ${num(2 * halfAngle, 2)}${free(2)}°` : kind
}

export function FitFound() {
  const fit = useTool((s) => s.fit)
  if (!fit) return null
  if (fit.trouble || !fit.shapes.length) return <p className="told warn mb-1">{fit.trouble}</p>
  const { full } = boundsOf(fit)
  const { shapes } = fit
  const stops = Array.from({ length: 13 }, (_, i) => {
    const c = colourAt(full * (i / 6 - 1), full, full / 6)
    return `rgb(${c.map((v) => Math.round(255 * v)).join(' ')})`
  })
  return (
    <div className="fit-found" data-testid="fit-found" aria-live="polite">
      <p className="what">
        {shapes.length === 1 && !fit.groups.length ? sizeOf(shapes[0]) : plural(shapes.length, 'shape')}
      </p>
      {fit.groups.map((words) => (
        <p key={words}>{words}</p>
      ))}
      {shapes.length > 1 && (
        <ul>
          {shapes.slice(0, 12).map((s, i) => (
            <li key={i}>
              <span>{sizeOf(s)}</span>
              <span className="figure">{num(s.rms, 4)}</span>
            </li>
          ))}
          {shapes.length > 12 && <li>and {shapes.length - 12} more</li>}
        </ul>
      )}
      <dl className="figures mb-1">
        <dt>Off by, rms</dt>
        <dd>{num(Math.max(...shapes.map((s) => s.rms)), 4)} mm</dd>
        <dt>At most</dt>
        <dd>{num(Math.max(...shapes.map((s) => s.max)), 3)} mm</dd>
        <dt>Of the region</dt>
        <dd>{num(100 * Math.min(...shapes.map((s) => s.inliers)), 0)} %</dd>
      </dl>
      <div className="bar" style={{ background: `linear-gradient(90deg, ${stops.join(', ')})` }} />
      <div className="ticks figure">
        <span>−{num(full, 3)} inside</span>
        <span>+{num(full, 3)} mm outside</span>
      </div>
      {fit.left > 0 && <p className="soft small mb-0">{plural(fit.left, 'patch', 'patches')} tell no shape.</p>}
    </div>
  )
}
