/** How wide the brush is. */
import { useBench } from '@/bench/state/store'

export function BrushRadius({ label, className }: { label: string; className?: string }) {
  const pick = useBench((s) => s.pick)
  const set = useBench((s) => s.set)
  return (
    <label className={className}>
      {label} <span className="figure">{pick.radius} mm</span>
      <input
        type="range"
        className="form-range"
        min={0.5}
        max={30}
        step={0.5}
        value={pick.radius}
        aria-label="Brush radius"
        onChange={(e) => set({ pick: { ...pick, radius: Number(e.target.value) } })}
      />
    </label>
  )
}
