import { z } from 'zod'
import { mm, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { cageBody, isOutline } from '@/core/bodies/body'
import type { Section } from '@/core/cage/divide-section'
import { loftCage } from '@/core/cage/loft-cage'
import { limitSkin } from '@/core/kinds/cage'
import { longestRow, runsOf } from '@/core/kinds/outline'
import { NearestInGrid } from '@/core/mesh/nearest'
import { cageTopology, type Cage } from '@/core/subdivision/subdivide'
import { bodyRefs, count, newBody, percent, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'

/** More faces are no cage to work on by hand. */
const mostFaces = 20_000

/** A cage further off its sections than this share of their size does not show them. */
const strays = 0.02

function flawsOf(sections: readonly (Section & { runs: number })[], off: number): string[] {
  const flaws = sections
    .filter((s) => s.runs > 1)
    .map((s) => `"${s.name}" has ${s.runs} separate runs; only its longest is lofted through.`)
  const size = Math.max(...sections.map((s) => sizeOf(s.places)))
  if (off > strays * size)
    flaws.push(
      `The surface lies up to ${mm(off, 2)} off the sections: take more faces along them, or less “Denser where they bend”.`,
    )
  return flaws
}

/** Longest side of the box around places, mm. */
function sizeOf(places: Section['places']): number {
  return Math.max(
    ...[0, 1, 2].map((k) => {
      const all = places.map((p) => p[k])
      return all.reduce((m, x) => Math.max(m, x), -Infinity) - all.reduce((m, x) => Math.min(m, x), Infinity)
    }),
  )
}

/** The greatest distance of the sections' places from the smooth surface, mm. */
function offSections(sections: readonly Section[], cage: Cage): number {
  const skin = new NearestInGrid(limitSkin(cage).mesh)
  return Math.sqrt(
    Math.max(...sections.map((s) => s.places.reduce((m, [x, y, z]) => Math.max(m, skin.square(x, y, z)), 0))),
  )
}

export const cageFromSections = defineStep({
  kind: 'convert/cage-from-sections',
  version: 2,
  title: 'Cage from sections',
  order: 61.2,
  past: 'Lofted a cage through',
  group: 'Cages',
  live: true,
  facts: shown(
    'faces',
    { key: 'open', label: 'Rim edges', as: 'count', some: true },
    { key: 'off', label: 'Off the sections by at most', as: 'length' },
  ),
  summary:
    'Lofts a cage of rows and columns through two or more sections, open or closed; its smooth surface runs through them.',
  subject: (s) => (Array.isArray(s.sections) ? s.sections.join(', ') : ''),
  settings: z.object({
    sections: bodyRefs('outline', 'Sections in their order', { changes: false, least: 1 }),
    columns: count('Faces along each section', { min: 2, max: 400 }).default(12),
    rows: count('Rows between two sections', { min: 1, max: 100 }).default(3),
    byBend: percent('Denser where they bend', {
      help: '0 % evenly along each section, 100 % by bend alone, as far as a smooth surface stands it',
    }).default(0),
    caps: toggle('Flat ends').default(true),
    round: toggle('Runs round to the first', { more: true }).default(false),
    square: toggle('Leaves the ends square to them', { more: true }).default(false),
    weight: percent('How firmly', { min: 1, max: 500, more: true, when: { field: 'square', is: [true] } }).default(100),
    name: newBody('Name', { base: 'cage' }),
  }),
  run({ settings: s, body, names }) {
    freeName(names, s.name)
    const sections = s.sections.map((name): Section & { runs: number } => {
      const o = body(name)
      const row = isOutline(o) ? longestRow(o) : null
      if (!row)
        throw new StepError('empty', `"${name}" holds no curve to loft through.`, {
          where: { body: name },
          tryThis: 'Choose another outline.',
        })
      return { name, places: row.places, closed: row.closed, runs: isOutline(o) ? runsOf(o).length : 1 }
    })
    const many = s.columns * s.rows * sections.length
    if (many > mostFaces)
      throw new StepError('too-many', `That would be ${plural(many, 'face')}; ${plural(mostFaces, 'face')} at most.`, {
        tryThis: 'Take fewer columns or rows.',
      })
    if (s.caps && !s.round && sections[0].closed && s.columns % 2)
      throw new StepError(
        'odd-rim',
        `Flat ends need an even number of faces along each section; ${s.columns} is odd.`,
        {
          tryThis: `Take ${s.columns + 1}, or leave the ends open.`,
          offer: { set: 'columns', to: s.columns + 1 },
        },
      )
    const cage = loftCage(sections, {
      columns: s.columns,
      rows: s.rows,
      byBend: s.byBend / 100,
      round: s.round,
      caps: s.caps,
      square: s.square ? s.weight / 100 : null,
    })
    const faces = cage.quads.length / 4
    const open = cageTopology(cage).twin.filter((t) => t < 0).length
    const off = offSections(sections, cage)
    return Promise.resolve({
      bodies: { [s.name]: cageBody(cage) },
      warnings: flawsOf(sections, off),
      facts: { faces, open, closed: open === 0, sections: sections.length, off },
      said: `${plural(faces, 'face')} through ${plural(sections.length, 'section')}${open ? ` · ${plural(open, 'edge')} at rims` : ' · closed'} · off the sections by at most ${mm(off, 3)}`,
    })
  },
})
