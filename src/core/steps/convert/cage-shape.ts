import { z } from 'zod'
import { plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { cageBody } from '@/core/bodies/body'
import { cageBlock, cageCylinder, cageSheet, cageSphere } from '@/core/cage/shapes'
import { moveBody } from '@/core/kinds/registry'
import { placeOn } from '@/core/math/affine'
import { angleDeg, choice, count, direction, lengthMm, newBody, point, size3, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'

const blocky = { field: 'shape', is: ['block'] }
const round = { field: 'shape', is: ['cylinder', 'sphere'] }
const flat = { field: 'shape', is: ['sheet'] }
const grid = { field: 'shape', is: ['block', 'sheet'] }
const ball = { field: 'shape', is: ['sphere'] }
const tube = { field: 'shape', is: ['cylinder'] }

export const cageShape = defineStep({
  kind: 'convert/cage-shape',
  version: 1,
  title: 'Cage shape',
  order: 61.3,
  past: 'Cage shape',
  group: 'Cages',
  live: true,
  // At first one number was the faces along x, along a side of a sphere and round half a cylinder.
  shape: 2,
  upgrade: (s) => ({
    ...s,
    ...(s.shape === 'sphere' && s.side === undefined && { side: s.faces ?? 4 }),
    ...(s.shape === 'cylinder' &&
      s.around === undefined && { around: 2 * Math.max(2, Number(s.faces ?? 4)), up: s.up ?? s.across ?? 3 }),
  }),
  facts: shown('faces'),
  summary: 'A block, cylinder, sphere or flat sheet as a cage, to begin a shape with.',
  settings: z.object({
    shape: choice('Shape', ['block', 'cylinder', 'sphere', 'sheet'], {
      block: 'Block',
      cylinder: 'Cylinder',
      sphere: 'Sphere',
      sheet: 'Flat sheet',
    }).default('block'),
    size: size3('Size', { when: blocky }).default([40, 30, 20]),
    radius: lengthMm('Radius', { min: 1e-3, when: round }).default(15),
    height: lengthMm('Height', { min: 1e-3, when: tube }).default(40),
    width: lengthMm('Width', { min: 1e-3, when: flat }).default(40),
    depth: lengthMm('Depth', { min: 1e-3, when: flat }).default(30),
    faces: count('Faces along x', { min: 1, max: 100, when: grid }).default(4),
    across: count('Faces along y', { min: 1, max: 100, when: grid }).default(3),
    tall: count('Faces along z', { min: 1, max: 100, when: blocky }).default(2),
    side: count('Faces along each of its six sides', { min: 1, max: 100, when: ball }).default(4),
    around: count('Faces round it', { min: 4, max: 400, when: tube, help: 'an even number' }).default(8),
    up: count('Faces up', { min: 1, max: 100, when: tube }).default(3),
    sharp: toggle('Sharp edges', { when: blocky }).default(true),
    at: point('At', { pick: 'face' }).default([0, 0, 0]),
    axis: direction('Up', { more: true }).default([0, 0, 1]),
    turn: angleDeg('Turned', { more: true }).default(0),
    name: newBody('Name', { base: 'cage' }),
  }),
  async run({ settings: s, names }) {
    freeName(names, s.name)
    if (s.shape === 'cylinder' && s.around % 2)
      throw new StepError('odd-rim', `The flat ends need an even number of faces round them; ${s.around} is odd.`, {
        tryThis: `Take ${s.around + 1}.`,
        offer: { set: 'around', to: s.around + 1 },
      })
    const cage =
      s.shape === 'block'
        ? cageBlock(s.size, [s.faces, s.across, s.tall], s.sharp)
        : s.shape === 'sphere'
          ? cageSphere(s.radius, s.side)
          : s.shape === 'cylinder'
            ? cageCylinder(s.radius, s.height, s.around, s.up)
            : cageSheet(s.width, s.depth, s.faces, s.across)
    const body = await moveBody(cageBody(cage), placeOn(s.at, s.axis, s.turn))
    const faces = cage.quads.length / 4
    return { bodies: { [s.name]: body }, facts: { faces }, said: plural(faces, 'face') }
  },
})
