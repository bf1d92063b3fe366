import { z } from 'zod'
import { plural } from '@/core/base/say'
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

export const cageShape = defineStep({
  kind: 'convert/cage-shape',
  version: 1,
  title: 'Cage shape',
  order: 61.3,
  past: 'Cage shape',
  group: 'Cages',
  live: true,
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
    height: lengthMm('Height', { min: 1e-3, when: { field: 'shape', is: ['cylinder'] } }).default(40),
    width: lengthMm('Width', { min: 1e-3, when: flat }).default(40),
    depth: lengthMm('Depth', { min: 1e-3, when: flat }).default(30),
    faces: count('Faces along x, or a side of a sphere, or half round a cylinder', { min: 1, max: 100 }).default(4),
    across: count('Faces along y, or up', {
      min: 1,
      max: 100,
      when: { field: 'shape', is: ['block', 'sheet', 'cylinder'] },
    }).default(3),
    tall: count('Faces along z', { min: 1, max: 100, when: blocky }).default(2),
    sharp: toggle('Sharp edges', { when: blocky }).default(true),
    at: point('At', { pick: 'face' }).default([0, 0, 0]),
    axis: direction('Up', { more: true }).default([0, 0, 1]),
    turn: angleDeg('Turned', { more: true }).default(0),
    name: newBody('Name', { base: 'cage' }),
  }),
  async run({ settings: s, names }) {
    freeName(names, s.name)
    const cage =
      s.shape === 'block'
        ? cageBlock(s.size, [s.faces, s.across, s.tall], s.sharp)
        : s.shape === 'sphere'
          ? cageSphere(s.radius, s.faces)
          : s.shape === 'cylinder'
            ? cageCylinder(s.radius, s.height, 2 * Math.max(2, s.faces), s.across)
            : cageSheet(s.width, s.depth, s.faces, s.across)
    const body = await moveBody(cageBody(cage), placeOn(s.at, s.axis, s.turn))
    const faces = cage.quads.length / 4
    return { bodies: { [s.name]: body }, facts: { faces }, said: plural(faces, 'face') }
  },
})
