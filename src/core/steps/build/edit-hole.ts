import { z } from 'zod'
import { meshBody } from '@/core/bodies/body'
import { bodyRef, choice, lengthMm, point, text, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { many, num, volumeText } from '@/core/base/say'
import { boreAt, boreField, equalBores } from '@/core/find/bore'
import { editHoles, type HoleAction } from '@/core/holes/edit-hole'
import { standardDiameter } from '@/core/holes/standards'
import { requireClosed } from '@/core/join/boolean'
import { MeshSearch } from '@/core/mesh/closest'
import { triangleCount } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'

export const editHole = defineStep({
  kind: 'build/edit-hole',
  version: 2,
  title: 'Edit hole',
  order: 60,
  past: 'Edited hole in',
  group: 'Edges and holes',
  facts: shown(
    { key: 'found.rms', label: 'Axis found, rms', as: 'length' },
    'triangles',
    'volume',
    'volumeChange',
    'untouched',
    'chordToleranceMm',
    'equal',
  ),
  summary: 'Finds the round hole at a click on a mesh, and resizes, moves or closes it and all equal ones.',
  settings: z.object({
    body: bodyRef('mesh', 'Body', { byClick: true }),
    at: point('Hole', { pick: 'bore' }),
    action: choice('Change', ['resize', 'move', 'close'], { resize: 'Resize', move: 'Move', close: 'Close' }).default(
      'resize',
    ),
    diameter: lengthMm('Diameter', { min: 0.01, max: 1e4, when: { field: 'action', is: ['resize'] } }).optional(),
    standard: text('Standard', {
      help: 'ISO 273 clearance or tap drill, such as "M3 medium"',
      when: { field: 'action', is: ['resize'] },
    }).optional(),
    by: point('Move by', { when: { field: 'action', is: ['move'] } }).default([0, 0, 0]),
    equal: toggle('All equal holes').default(false),
    chord: lengthMm('Chord tolerance', { min: 1e-4, max: 1, more: true }).default(0.005),
  }),
  async run({ settings: s, mesh, work }) {
    const m = mesh(s.body).mesh
    requireClosed(s.body, m)
    work.progress(0.05, 'finding the hole')
    const field = boreField(m)
    const near = new MeshSearch(m).nearest(s.at)
    const bore = near
      ? boreAt(field, s.at, near.distance < 1e-2 * field.scale ? near.triangle : -1, 0.05 * field.scale)
      : null
    if (!bore)
      throw new StepError(
        'no-hole',
        `There is no round hole at ${s.at.map((v) => num(v, 1)).join(', ')} on "${s.body}".`,
        { where: { point: s.at, body: s.body }, tryThis: "Click on the hole's wall." },
      )
    const bores = s.equal ? equalBores(field, bore) : [bore]
    let action: HoleAction
    if (s.action === 'resize') {
      const standard = s.standard ? standardDiameter(s.standard) : undefined
      if (s.standard && !standard)
        throw new StepError('bad-standard', `"${s.standard}" is not in the table of standard holes.`, {
          tryThis: 'Write for instance "M3 medium" or "M4 tap", or a diameter.',
        })
      const diameter = s.diameter ?? standard
      if (!diameter)
        throw new StepError('no-diameter', 'No new diameter is given.', {
          tryThis: 'Type a diameter or choose a standard hole.',
        })
      action = { do: 'resize', diameter }
    } else action = s.action === 'move' ? { do: 'move', by: s.by } : { do: 'close' }
    const e = await editHoles(s.body, m, bores, action, s.chord, work)
    const how = bore.through ? 'through' : `${num(bore.depth)} mm deep`
    const holes = bores.length === 1 ? '' : ` in ${bores.length} holes`
    const said =
      action.do === 'resize'
        ? `Ø ${num(bore.diameter)} → ${num(action.diameter)} mm, ${how}${holes}`
        : action.do === 'move'
          ? `Ø ${num(bore.diameter)} moved by ${s.by.map((v) => num(v)).join(', ')} mm${holes}`
          : `Ø ${num(bore.diameter)} closed${holes}`
    const tidy = (v: readonly number[]) => v.map((x) => Number(x.toFixed(5)))
    return {
      bodies: { [s.body]: meshBody(e.mesh, e.tags) },
      facts: {
        found: {
          diameter: Number(bore.diameter.toFixed(5)),
          depth: Number(bore.depth.toFixed(4)),
          through: bore.through,
          centre: tidy(bore.centre),
          axis: tidy(bore.axis),
          rms: Number(bore.rms.toFixed(6)),
          max: Number(bore.max.toFixed(6)),
        },
        equal: bores.length,
        diameter: action.do === 'resize' ? action.diameter : bore.diameter,
        chordToleranceMm: s.chord,
        sides: e.sides,
        volumeBefore: e.volumeBefore,
        volume: e.volume,
        volumeChange: e.volume - e.volumeBefore,
        untouched: e.untouched,
        triangles: triangleCount(e.mesh),
      },
      said: `${said} · ${e.volume >= e.volumeBefore ? '+' : '−'} ${volumeText(Math.abs(e.volume - e.volumeBefore))} · ${many(e.untouched)} triangles untouched`,
    }
  },
})
