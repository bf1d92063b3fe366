/** The drawing itself: areas, references, curves coloured by what can move, points, and what the next click will make. */
import { type Drawing, type Place } from '@/core/outline/drawing'
import { sampleCurve } from '@/core/outline/sample'
import { pathOf, type Part } from './path-of'
import { previewOf } from './preview'
import { drawingNow, useOutline } from './state'
import { wayOf } from './ways'

/** What is found of a drawing as it stands; null while it is looked at anew. */
function useFound(d: Drawing) {
  const found = useOutline((s) => s.analysis)?.found
  return found?.freedom.curves.length === d.curves.length ? found : null
}

/** The constraint or dimension whose sign is picked. */
function useNamed(d: Drawing) {
  const sign = useOutline((s) => s.sign)
  return sign ? (sign.of === 'constraint' ? d.constraints : d.dimensions)?.[sign.index] : undefined
}

export function Picture({ d, at, px }: Part) {
  return (
    <svg className="drawing" data-testid="drawing">
      <Ground at={at} px={px} />
      <Curves d={d} at={at} px={px} />
      <Coming at={at} px={px} />
      <Points d={d} at={at} px={px} />
      <Placing at={at} />
    </svg>
  )
}

/** Areas, axes and what is drawn over. */
function Ground({ at, px }: Omit<Part, 'd'>) {
  const analysis = useOutline((s) => s.analysis)
  const ground = useOutline((s) => s.ground)
  const behind = useOutline((s) => s.behind)
  const axis = (x: number, y: number) => {
    const ends: Place[] = [
      [-x * px, -y * px],
      [x * px, y * px],
    ]
    return pathOf(ends, at)
  }
  const fills = analysis?.of === drawingNow() ? analysis.found.fills : []
  return (
    <>
      {fills.map((f, i) => (
        <path
          key={i}
          className={f.depth % 2 ? 'fill hollow' : 'fill'}
          fillRule="evenodd"
          d={[f.outer, ...f.holes].map((row) => pathOf(row, at, true)).join('')}
        />
      ))}
      <path className="axis" d={axis(14, 0) + axis(0, 14)} />
      {[...(ground?.references ?? []), ...behind].map((r, i) => (
        <path key={i} className="reference" d={pathOf(r, at)} />
      ))}
    </>
  )
}

function Curves({ d, at, px }: Part) {
  const curves = useOutline((s) => s.curves)
  const hot = useOutline((s) => s.hot)
  const analysis = useOutline((s) => s.analysis)
  const found = useFound(d)
  const named = useNamed(d)
  const faulty = new Set(found?.faults.flatMap((f) => (f.kind === 'open' ? [] : f.curves)) ?? [])
  const letters = analysis?.of === drawingNow() ? analysis.found.letters : []
  return (
    <>
      {d.curves.map((c, i) => (
        <path
          key={i}
          data-curve={i}
          className={[
            'curve',
            c.construction ? 'construction' : '',
            found?.freedom.curves[i] === 0 ? 'held' : 'free',
            faulty.has(i) ? 'faulty' : '',
            curves.includes(i) || named?.curves.includes(i) ? 'picked' : hot.curve === i ? 'hot' : '',
          ].join(' ')}
          d={pathOf(sampleCurve(d, c, px * 0.25), at)}
        />
      ))}
      {letters.length > 0 && <path className="curve held letters" d={letters.map((r) => pathOf(r, at)).join('')} />}
    </>
  )
}

/** What the next click will make. */
function Coming({ at, px }: Omit<Part, 'd'>) {
  const placed = useOutline((s) => s.placed)
  const snap = useOutline((s) => s.at)
  const way = useOutline((s) => s.way)
  const stretch = useOutline((s) => s.stretch)
  useOutline((s) => s.options)
  const preview = previewOf()
  const old = drawingNow().curves.length
  return (
    <>
      {stretch && <path className="stretch" d={pathOf(stretch.places, at)} />}
      {preview?.curves.slice(old).map((c, i) => (
        <path key={i} className="coming" d={pathOf(sampleCurve(preview, c, px * 0.25), at)} />
      ))}
      {!preview && placed.length > 0 && snap && wayOf(way).make ? (
        <path className="coming" d={pathOf([...placed.map((a) => a.at), snap.at], at)} />
      ) : null}
    </>
  )
}

function Points({ d, at }: Part) {
  const points = useOutline((s) => s.points)
  const hot = useOutline((s) => s.hot)
  const found = useFound(d)
  const named = useNamed(d)
  const centres = new Set(d.curves.flatMap((c) => ('centre' in c ? [c.centre] : [])))
  return (
    <>
      {d.points.map((p, i) => {
        const [x, y] = at(p)
        const isHot = hot.point === i
        const picked = points.includes(i)
        return (
          <circle
            key={i}
            data-point={i}
            cx={x}
            cy={y}
            r={picked || isHot ? 5 : centres.has(i) ? 2.5 : 3.5}
            className={[
              'corner',
              !found || found.freedom.points[i] > 0 ? 'free' : 'held',
              picked || named?.points.includes(i) ? 'picked' : isHot ? 'hot' : '',
            ].join(' ')}
          />
        )
      })}
      {found?.faults
        .filter((f) => f.kind !== 'open')
        .map((f, i) => {
          const [x, y] = at(f.at)
          return <circle key={`f${i}`} cx={x} cy={y} r={9} className="fault-ring" />
        })}
    </>
  )
}

/** The places of the curve that is being drawn, and what the next one snaps to. */
function Placing({ at }: Pick<Part, 'at'>) {
  const placed = useOutline((s) => s.placed)
  const snap = useOutline((s) => s.at)
  const way = useOutline((s) => s.way)
  return (
    <>
      {placed.map((a, i) => {
        const [x, y] = at(a.at)
        return <circle key={i} cx={x} cy={y} r={4} className="corner picked" />
      })}
      {snap && wayOf(way).make ? <SnapMark at={at(snap.at)} kind={snap.kind} /> : null}
    </>
  )
}

function SnapMark({ at: [x, y], kind }: { at: Place; kind: string | null }) {
  if (!kind) return <circle cx={x} cy={y} r={2.5} className="snap" />
  if (kind === 'middle') return <path className="snap" d={`M${x - 6} ${y + 4}L${x} ${y - 6}L${x + 6} ${y + 4}Z`} />
  if (kind === 'curve' || kind === 'reference')
    return <path className="snap" d={`M${x - 5} ${y - 5}L${x + 5} ${y + 5}M${x - 5} ${y + 5}L${x + 5} ${y - 5}`} />
  return <circle cx={x} cy={y} r={7} className="snap" />
}
