/** The standard sizes of holes, to choose from beside typing one. */
import { Form } from 'react-bootstrap'
import { standardHoles } from '@/core/holes/standards'
import { num } from '@/core/base/say'
import { useTool } from '@/bench/state/tool'
import type { CardProps } from '@/bench/tools/tool'

export function StandardHoles({ tool }: CardProps) {
  const { setValues } = useTool.getState()
  const now = String(tool.values.standard ?? '')
  return (
    <Form.Group className="field" controlId="standard-hole">
      <Form.Label>Standard size</Form.Label>
      <Form.Select
        size="sm"
        value={standardHoles.some((h) => h.name === now) ? now : ''}
        onChange={(e) => setValues({ standard: e.target.value || undefined, diameter: undefined })}
      >
        <option value="">by diameter</option>
        {standardHoles.map((h) => (
          <option key={h.name} value={h.name}>
            {h.name} · Ø {num(h.diameter)}
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  )
}
