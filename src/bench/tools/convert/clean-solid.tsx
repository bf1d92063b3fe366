import { DraftingCompass } from 'lucide-react'
import { num } from '@/core/base/say'
import type { CleanFace } from '@/core/clean/clean-face'
import { useBench } from '@/bench/state/store'
import { defineTool, type CardProps } from '../tool'

const sizeText = (f: CleanFace) =>
  f.size === undefined ? '' : f.shape === 'cone' ? `${num(f.size, 2)}°` : `r ${num(f.size, 3)}`

/** Faces with how far the mesh lies off each, the worst first; a row looks at its place. */
function Faces({ ghost }: CardProps) {
  const { lookAt } = useBench.getState()
  const faces = (ghost.state === 'ready' ? (ghost.report?.facts.table ?? []) : []) as unknown as CleanFace[]
  if (!faces.length) return null
  return (
    <details className="found">
      <summary>Faces: {faces.length}, the worst first</summary>
      <table className="faces">
        <thead>
          <tr>
            <th>Face</th>
            <th>Size</th>
            <th>Rms</th>
            <th>Most</th>
          </tr>
        </thead>
        <tbody>
          {faces.map((f, i) => (
            <tr key={i}>
              <td>
                <button type="button" className="btn btn-link btn-sm p-0" onClick={() => lookAt('Fit', f.at, 10)}>
                  {f.fillet ? 'fillet' : f.shape}
                </button>
              </td>
              <td>{sizeText(f)}</td>
              <td>{num(f.rms, 4)}</td>
              <td>{num(f.max, 4)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  )
}

export const cleanSolidTool = defineTool({ kind: 'convert/clean-solid', icon: DraftingCompass, Extra: Faces })
