import { z } from 'zod'
import { num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { makeExtrusion } from '@/core/kernels/exact/extrude'
import { drawingPlane } from '@/core/outline/drawing'
import { lettersOf, loadGlyphs } from '@/core/outline/lettering'
import { profileOf } from '@/core/outline/profile'
import { choice, direction, lengthMm, point, text } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { laid, requireResult, resultFields } from './results'

export const lettering = defineStep({
  kind: 'build/lettering',
  version: 1,
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
    const plane = drawingPlane(s.at, s.normal, s.x)
    const outline = { plane, drawing: letters.drawing, reference: [] }
    const p = profileOf('lettering', outline, [])
    work.progress(0.1, 'letters')
    const cut = s.result === 'cut'
    const made = await makeExtrusion(p, {
      from: cut ? -s.height : -(s.result === 'join' ? s.sink : 0),
      to: cut ? Math.max(0.05, s.sink) : s.height,
      name: s.result === 'new' ? s.name : 'letters',
    })
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
      },
      `${plural([...s.text.replace(/\s/g, '')].length, 'letter')}, ${num(s.size)} mm`,
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
