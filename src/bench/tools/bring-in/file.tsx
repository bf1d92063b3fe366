import { FileInput } from 'lucide-react'
import { num } from '@/core/base/say'
import { unitNames, type Unit } from '@/core/formats/units'
import { useTool } from '@/bench/state/tool'
import { defineTool, type CardProps } from '../tool'

/** Parts people hold and print are between 8 mm and 600 mm long (common practice, no source). */
const likely = (size: readonly number[]) => Math.max(...size) >= 8 && Math.max(...size) <= 600

/** The size the file would have in each unit, side by side, so that the plausible one can be seen. */
function UnitTable({ tool, ghost }: CardProps) {
  const { setValues } = useTool.getState()
  const facts = ghost.report?.facts
  const sizes = facts?.sizeInUnits as Record<Unit, number[]> | undefined
  const chosen = (tool.values.unit as string | undefined) ?? 'auto'
  const stated = facts?.stated as string | null | undefined
  const effective = chosen === 'auto' ? ((stated as Unit | null) ?? 'mm') : chosen
  return (
    <fieldset className="field">
      <legend className="form-label">Unit of the file{stated ? ` (it says ${stated})` : ' (it states none)'}</legend>
      <table className="units">
        <tbody>
          {unitNames
            .filter((u) => u !== 'foot' && u !== 'micron')
            .map((u) => (
              <tr key={u} className={sizes && likely(sizes[u]) ? 'likely' : ''}>
                <td>
                  <label>
                    <input type="radio" name="unit" checked={effective === u} onChange={() => setValues({ unit: u })} />{' '}
                    {u}
                  </label>
                </td>
                <td className="figure">
                  {sizes ? `${sizes[u].map((v) => num(v, v >= 1000 ? 0 : 1)).join(' × ')} mm` : ''}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
    </fieldset>
  )
}

export const fileTool = defineTool({
  kind: 'bring-in/file',
  icon: FileInput,
  // Files are chosen first; what they hold is asked then.
  start({ openFiles }) {
    openFiles()
    return true
  },
  Card: { fields: ['file', 'unit'], Head: () => null },
  Extra: UnitTable,
})
