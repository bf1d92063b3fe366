import { z } from 'zod'
import { many, num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { Body } from '@/core/bodies/body'
import { touched } from '@/core/find/touched'
import { makeExtrusion } from '@/core/kernels/exact/extrude'
import { makeWrapped, type RoundWall } from '@/core/kernels/exact/wrapped'
import { shownSkin } from '@/core/kinds/registry'
import { cross, dot, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { crossOf } from '@/core/mesh/triangle'
import { drawingPlane } from '@/core/outline/drawing'
import { lettersOf, loadGlyphs } from '@/core/outline/lettering'
import { profileOf } from '@/core/outline/profile'
import { bodyRef, choice, direction, lengthMm, point, text, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { laid, requireResult, resultFields } from './results'

/** The round wall of a body at a place, with its letters upright along the axis or along `x`. Throws StepError `no-pick`, `no-axis`. */
function roundWallAt(at: Vec3, x: Vec3 | undefined, name: string | undefined, body: (n: string) => Body): RoundWall {
  if (name === undefined)
    throw new StepError('no-pick', 'No body is chosen whose round wall the letters go round.', {
      tryThis: 'Choose the body of the wall.',
    })
  const on = body(name)
  const found = touched(name, on, { as: 'axis', at: [...at] })
  const way = found.direction!
  // Upright is toward the top of the mat, or of what lies on it.
  const lead = [2, 1, 0].find((k) => Math.abs(way[k]) > 1e-6)!
  const axis = way[lead] < 0 ? scale(way, -1) : way
  const off = sub(at, found.point)
  const out = normalize(sub(off, scale(axis, dot(off, axis))))
  const skin = shownSkin(on)
  const near = new MeshSearch(skin).nearest(at)
  const inside = !!near && dot(crossOf(skin, near.triangle), out) < 0
  const right = scale(cross(axis, out), inside ? -1 : 1)
  const turn = x ? (Math.atan2(dot(x, axis), dot(x, right)) * 180) / Math.PI : 0
  return { centre: found.point, axis, radius: found.diameter! / 2, at, turn, inside }
}

/** More curves take the exact kernel longer than anyone waits. */
const mostCurves = 4000

export const lettering = defineStep({
  kind: 'build/lettering',
  version: 2,
  title: 'Lettering',
  order: 6,
  past: 'Lettered',
  group: 'Outlines',
  facts: shown('volume', 'faces', 'triangles', 'chordToleranceMm', { key: 'width', label: 'Width', as: 'length' }),
  summary: 'Words as solid letters: raised on a body, engraved into it, or cut right through it.',
  subject: (s) => `"${String(s.text ?? '')}"`,
  settings: z.object({
    text: text('Words').default('Words'),
    font: choice('Font', ['text', 'heading', 'figures'], {
      text: 'text',
      heading: 'heading',
      figures: 'figures',
    }).default('text'),
    size: lengthMm('Size', { min: 0.1, help: 'height of a capital letter' }).default(8),
    spacing: lengthMm('Letters apart by', { min: -1000, more: true, help: "added to the font's own" }).default(0),
    align: choice('Lies', ['left', 'centre', 'right'], {
      left: 'from the place',
      centre: 'about it',
      right: 'up to it',
    }).default('centre'),
    at: point('At', { pick: 'face' }).default([0, 0, 0]),
    normal: direction('Square to').default([0, 0, 1]),
    x: direction('Runs along', { more: true }).optional(),
    wrapped: toggle('Round a wall', { more: true, help: 'laid round the round wall at the place' }).default(false),
    wall: bodyRef({ can: 'surface' }, 'Wall of', {
      changes: false,
      listed: true,
      more: true,
      when: { field: 'wrapped', is: [true] },
      help: 'left empty: of the body it is joined to or cut from',
    }).optional(),
    height: lengthMm('Height', { min: 1e-3, help: 'how far the letters stand out; cut: how deep they go' }).default(1),
    sink: lengthMm('Sink by', { more: true, help: 'starts so far below the place, so that both overlap' }).default(
      0.05,
    ),
    ...resultFields('lettering'),
  }),
  async run({ settings: s, names, body, work }) {
    requireResult(s, names)
    const glyphs = await loadGlyphs()
    const letters = lettersOf(
      {
        points: [[0, 0]],
        curves: [],
        lettering: [{ text: s.text, at: 0, size: s.size, font: s.font, align: s.align, spacing: s.spacing, turn: 0 }],
      },
      glyphs,
    )
    if (!letters.drawing.curves.length)
      throw new StepError('empty', `There is no letter to make of "${s.text}".`, {
        tryThis: 'Write words that the font has.',
      })
    if (letters.drawing.curves.length > mostCurves)
      throw new StepError(
        'too-many',
        `These letters have ${many(letters.drawing.curves.length)} curves, each a face of the solid; ${many(mostCurves)} is the most.`,
        { tryThis: 'Write them in several steps, or in a plainer font.' },
      )
    const plane = drawingPlane(s.at, s.normal, s.x)
    const outline = { plane, drawing: letters.drawing, reference: [] }
    const p = profileOf('lettering', outline, [])
    work.progress(0.1, 'letters')
    const cut = s.result === 'cut'
    const [from, to] = cut ? [-s.height, Math.max(0.05, s.sink)] : [-(s.result === 'join' ? s.sink : 0), s.height]
    const name = s.result === 'new' ? s.name : 'letters'
    const wall = s.wrapped ? roundWallAt(s.at, s.x, s.wall ?? s.with, body) : null
    const made = wall ? await makeWrapped(p, wall, from, to, name) : await makeExtrusion(p, { from, to, name })
    const across = letters.drawing.points.map((q) => q[0])
    const width = Math.max(...across) - Math.min(...across)
    const done = await laid(
      made,
      s,
      body,
      {
        volume: made.facts.volume,
        faces: made.facts.faces,
        width,
        at: [...plane.at],
        normal: [...plane.normal],
        ...(wall ? { radius: wall.radius } : {}),
      },
      `${plural([...s.text.replace(/\s/g, '')].length, 'letter')}, ${num(s.size)} mm${wall ? `, round a wall of Ø ${num(2 * wall.radius, 3)} mm` : ''}`,
      work,
    )
    return letters.missing.length
      ? {
          ...done,
          warnings: [
            ...(done.warnings ?? []),
            `The font has no ${letters.missing.map((c) => `"${c}"`).join(', ')}: left out of the lettering.`,
          ],
        }
      : done
  },
})
