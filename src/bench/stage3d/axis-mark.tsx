'use client'
/** Which way x, y and z point: three plain strokes in the corner of the bench. */
import { useFrame } from '@react-three/fiber'
import { Vector3 } from 'three'

const axes = [
  ['x', new Vector3(1, 0, 0)],
  ['y', new Vector3(0, 1, 0)],
  ['z', new Vector3(0, 0, 1)],
] as const

/** Turns the strokes with the camera. */
export function AxisFollower() {
  useFrame(({ camera }) => {
    for (const [name, axis] of axes) {
      const v = axis.clone().applyQuaternion(camera.quaternion.clone().invert())
      const line = document.getElementById(`axis-${name}`),
        label = document.getElementById(`axis-label-${name}`)
      line?.setAttribute('x2', String(30 + 20 * v.x))
      line?.setAttribute('y2', String(30 - 20 * v.y))
      label?.setAttribute('x', String(30 + 26 * v.x))
      label?.setAttribute('y', String(30 - 26 * v.y))
    }
  })
  return null
}

export function AxisMark() {
  return (
    <svg className="axis-mark" width="60" height="60" aria-hidden="true">
      {axes.map(([name]) => (
        <g key={name}>
          <line
            id={`axis-${name}`}
            x1="30"
            y1="30"
            x2="30"
            y2="30"
            stroke="var(--ink)"
            strokeWidth={name === 'z' ? 2.4 : 1.4}
            strokeLinecap="round"
          />
          <text
            id={`axis-label-${name}`}
            x="30"
            y="30"
            fontSize="11"
            textAnchor="middle"
            dominantBaseline="central"
            fill="var(--ink)"
            className="mono"
          >
            {name}
          </text>
        </g>
      ))}
    </svg>
  )
}
