/** The facts of the picked body, and of the face or edge that was picked on it. */
import { useQuery } from '@tanstack/react-query'
import { Form } from 'react-bootstrap'
import { materials } from '@/core/base/materials'
import { many, num, sizeText, volumeText } from '@/core/base/say'
import { unitsInMm } from '@/core/formats/units'
import type { FactRow } from '@/core/kinds/kind'
import { picking } from '@/bench/picking/client'
import type { BenchBody } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'

/** A row as it is shown. */
export function rowText({ value, as }: FactRow): string {
  if (as === 'place' && Array.isArray(value)) return value.map((v) => num(Number(v), 2)).join(', ')
  if (typeof value !== 'number') return Array.isArray(value) ? sizeText(value as number[]) : String(value)
  if (as === 'count') return many(value)
  if (as === 'volume') return volumeText(value)
  if (as === 'area') return `${num(value / 100, 1)} cm²`
  return as === 'length' ? `${num(value, 3)} mm` : String(value)
}

const List = ({ rows }: { rows: readonly (readonly [string, string])[] }) => (
  <dl className="figures readout">{rows.map(([k, v]) => [<dt key={k}>{k}</dt>, <dd key={`${k}-v`}>{v}</dd>])}</dl>
)

export function Readout({ body }: { body: BenchBody | undefined }) {
  const f = body?.facts
  if (!body || !f) return null
  const rows: [string, string][] = [
    ['Size', sizeText(f.size)],
    ...f.rows.map((r): [string, string] => [r.label, rowText(r)]),
  ]
  const volume = f.rows.find((r) => r.key === 'volume')
  return (
    <section aria-label="Readout" data-testid="readout" className="mb-3">
      <div className="panel-head">
        <h2>Readout</h2>
        <span className="small soft name-end" title={body.name}>
          {body.name}
        </span>
      </div>
      <List rows={rows} />
      {volume && <Mass volume={Number(volume.value)} />}
      <PartFacts body={body} />
      <details className="small mt-1">
        <summary className="soft">Size in other units</summary>
        <div className="mt-1">
          <List
            rows={(['cm', 'inch', 'm'] as const).map(
              (u) => [u, f.size.map((v) => num(v / unitsInMm[u], u === 'm' ? 4 : 3)).join(' × ')] as const,
            )}
          />
        </div>
      </details>
    </section>
  )
}

/** Mass in a chosen material. */
function Mass({ volume }: { volume: number }) {
  const material = useBench((s) => s.material)
  const { name, density } = materials.find((m) => m.name === material) ?? materials[0]
  return (
    <div className="d-flex gap-2 align-items-center small mt-2" data-testid="mass">
      <Form.Select
        size="sm"
        className="flex-fill"
        aria-label="Material"
        value={name}
        onChange={(e) => useBench.getState().set({ material: e.target.value })}
      >
        {materials.map((m) => (
          <option key={m.name} value={m.name}>
            {m.name}, {m.density} g/cm³
          </option>
        ))}
      </Form.Select>
      <span className="figure text-nowrap">{massText((volume / 1000) * density)}</span>
    </div>
  )
}

const massText = (g: number) => (g >= 1000 ? `${num(g / 1000, 3)} kg` : `${num(g, 1)} g`)

/** The picked face or edge: what it is, its lasting name, its size. */
function PartFacts({ body }: { body: BenchBody }) {
  const part = useBench((s) => (s.selected === body.name ? s.part : null))
  const { data } = useQuery({
    queryKey: ['part', body.hash, part?.sort, part?.index],
    queryFn: () => picking().partFacts(body.hash, part!.sort, part!.index),
    enabled: !!part && !!body.facts?.can.includes('parts'),
    staleTime: Infinity,
  })
  if (!part || !data) return null
  const rows: [string, string][] = [['Name', data.name]]
  if (data.radius !== undefined) rows.push(['Diameter', `${num(2 * data.radius, 4)} mm`])
  if (data.length !== undefined) rows.push(['Length', `${num(data.length, 4)} mm`])
  if (data.area !== undefined) rows.push(['Area', `${num(data.area, 2)} mm²`])
  return (
    <div data-testid="part-facts">
      <h3 className="part-head">
        {part.sort === 'face' ? 'Face' : 'Edge'}: {data.shape === 'bspline' ? 'free form' : data.shape}
      </h3>
      <List rows={rows} />
    </div>
  )
}
