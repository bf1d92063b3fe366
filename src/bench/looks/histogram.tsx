/** Shares of an area by distance. */
import { Bar, BarChart, ReferenceArea, ResponsiveContainer, XAxis } from 'recharts'
import { num } from '@/core/base/say'

/** Shares of the area by distance, with the tolerance band. */
export function Histogram({
  histogram,
  tolerance,
}: {
  histogram: { from: number; to: number; bins: number[] }
  tolerance?: number
}) {
  const width = (histogram.to - histogram.from) / histogram.bins.length
  const data = histogram.bins.map((share, i) => ({
    at: Number((histogram.from + (i + 0.5) * width).toFixed(4)),
    share: 100 * share,
  }))
  return (
    <div
      style={{ height: 74 }}
      data-testid="histogram"
      role="img"
      aria-label={`Shares of the area from ${num(histogram.from, 3)} to ${num(histogram.to, 3)} mm`}
    >
      <ResponsiveContainer width="100%" height="100%">
        <BarChart data={data} margin={{ left: 2, right: 2, top: 4, bottom: 0 }} barCategoryGap={0}>
          {tolerance ? (
            <ReferenceArea
              x1={Math.max(data[0].at, -tolerance)}
              x2={Math.min(data[data.length - 1].at, tolerance)}
              fill="#d8d2c6"
              fillOpacity={0.6}
            />
          ) : null}
          <XAxis
            dataKey="at"
            type="number"
            domain={[histogram.from, histogram.to]}
            tick={{ fontSize: 10 }}
            tickCount={5}
            height={16}
            tickFormatter={(v: number) => num(v, 3)}
          />
          <Bar dataKey="share" fill="#5c6166" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
    </div>
  )
}
