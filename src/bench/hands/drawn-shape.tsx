/** The shape that is being drawn, over the picture. */
import { useStore } from 'zustand'
import { useCanvasBox } from '@/bench/stage3d/view'
import type { Drawing } from './drawing'

export function DrawnShapeView({ drawing }: { drawing: Drawing }) {
  const shape = useStore(drawing.shape, (s) => s.now)
  const box = useCanvasBox()
  if (!shape || !box) return null
  const points = shape.points.map(([x, y]) => `${x - box.left},${y - box.top}`).join(' ')
  const [first] = shape.points
  return (
    <svg className="lasso">
      {shape.closed ? (
        <polygon points={points} className="area" />
      ) : (
        <>
          <polyline points={points} className="open" />
          <circle cx={first[0] - box.left} cy={first[1] - box.top} r="5" className="start" />
        </>
      )}
    </svg>
  )
}
