import { z } from 'zod'
import { isOutline, type Body } from '@/core/bodies/body'
import { num, plural, volumeText } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { checkStop, span } from '@/core/base/work'
import { headOf } from '@/core/holes/heads'
import { standardDiameter } from '@/core/holes/standards'
import { joinBodies } from '@/core/join/boolean'
import { makeHoleCutter, type HoleForm } from '@/core/kernels/exact/hole-cutter'
import { boundsOf } from '@/core/kinds/registry'
import { dot, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { toSpace } from '@/core/outline/drawing'
import { angleDeg, bodyRef, choice, direction, lengthMm, points, text, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'

/** Centres of the circles and lone points of an outline. */
function placesOf(name: string, body: Body): Vec3[] {
  if (!isOutline(body)) throw new StepError('wrong-kind', `"${name}" is no outline.`, { where: { body: name } })
  const { drawing, plane } = body
  const used = new Set<number>()
  const centres: number[] = []
  for (const c of drawing.curves) {
    if (c.kind === 'circle' && !c.construction) centres.push(c.centre)
    for (const k of 'from' in c ? [c.from, c.to] : 'through' in c || 'control' in c ? (c.through ?? c.control)! : [])
      used.add(k)
    if ('centre' in c) used.add(c.centre)
  }
  const lone = drawing.points.flatMap((_, i) => (used.has(i) ? [] : [i]))
  return [...centres, ...lone].map((i) => toSpace(plane, drawing.points[i]))
}

/** How far a hole has to run to leave the body behind, from a place along a way. */
function throughDepth(body: Body, at: Vec3, axis: Vec3): number {
  const { min, max } = boundsOf(body)
  let most = 0
  for (let i = 0; i < 8; i++) {
    const corner: Vec3 = [i & 1 ? max[0] : min[0], i & 2 ? max[1] : min[1], i & 4 ? max[2] : min[2]]
    most = Math.max(most, dot(sub(corner, at), axis))
  }
  return most + 1
}

const settings = z.object({
  body: bodyRef({ can: 'surface' }, 'Body'),
  at: points('Places', { pick: 'point', on: 'body' }).optional(),
  outline: bodyRef('outline', 'At the points of', {
    changes: false,
    listed: true,
    help: 'centres of its circles, and its lone points',
  }).optional(),
  axis: direction('Into the body along').default([0, 0, -1]),
  standard: text('Standard', {
    more: true,
    help: 'ISO 273 clearance or tap drill, such as "M3 medium" or "M4 tap"',
  }).optional(),
  diameter: lengthMm('Diameter', { min: 0.01, help: 'left empty: by the standard' }).optional(),
  through: toggle('Right through', { help: 'left alone: unless a depth is given' }).optional(),
  depth: lengthMm('Depth', { min: 0.01, help: 'left empty: right through' }).optional(),
  tip: angleDeg('Point of the drill', {
    min: 60,
    max: 179,
    more: true,
    help: 'left empty: a flat floor',
  }).optional(),
  head: choice('Head', ['none', 'counterbore', 'countersink'], {
    none: 'none',
    counterbore: 'counterbore',
    countersink: 'countersink',
  }).default('none'),
  headDiameter: lengthMm('Diameter of the head', {
    min: 0.01,
    help: 'left empty: for the screw of the standard',
    when: { field: 'head', is: ['counterbore', 'countersink'] },
  }).optional(),
  headDepth: lengthMm('Depth of the head', {
    min: 0.01,
    help: 'left empty: as high as the head of the screw',
    when: { field: 'head', is: ['counterbore'] },
  }).optional(),
  headAngle: angleDeg('Angle of the head', {
    min: 30,
    max: 150,
    when: { field: 'head', is: ['countersink'] },
  }).default(90),
  chord: lengthMm('Chord tolerance', {
    min: 1e-4,
    max: 1,
    more: true,
    help: 'On a mesh; left empty: from the size',
  }).optional(),
})
type Settings = z.output<typeof settings>

/** The diameter of a hole and the form of its head, by numbers or by the standard. */
function sizesOf(s: Settings): Pick<HoleForm, 'diameter' | 'head'> {
  const standard = s.standard ? standardDiameter(s.standard.trim()) : undefined
  if (s.standard && standard === undefined)
    throw new StepError('bad-standard', `"${s.standard}" is not in the table of standard holes.`, {
      tryThis: 'Write for instance "M3 medium" or "M4 tap", or a diameter.',
    })
  const diameter = s.diameter ?? standard
  if (!diameter)
    throw new StepError('no-diameter', 'No diameter is given.', {
      tryThis: 'Type a diameter or choose a standard hole.',
    })
  if (s.head === 'none') return { diameter, head: { sort: 'none' } }
  const screw = headOf(s.standard?.trim())
  const ofScrew =
    s.head === 'countersink' ? screw?.countersunk : screw && screw.cap.diameter + (diameter - nominal(s.standard))
  const wide = s.headDiameter ?? ofScrew
  if (!wide)
    throw new StepError('no-diameter', 'No diameter is given for the head.', {
      tryThis: 'Type one, or name a standard screw.',
    })
  return {
    diameter,
    head:
      s.head === 'counterbore'
        ? { sort: 'counterbore', diameter: wide, depth: s.headDepth ?? screw?.cap.height ?? diameter }
        : { sort: 'countersink', diameter: wide, angle: s.headAngle },
  }
}

export const hole = defineStep({
  kind: 'build/hole',
  version: 1,
  title: 'Hole',
  order: 58,
  past: 'Holes in',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', { key: 'diameter', label: 'Diameter', as: 'length' }, 'chordToleranceMm'),
  summary:
    'Drills holes into a body of any kind: plain, counterbored or countersunk, by a diameter or a standard size.',
  subject: (s) => String(s.body ?? ''),
  settings,
  async run({ settings: s, body, work }) {
    const on = body(s.body)
    const given = (s.at ?? []) as Vec3[]
    const places = [...given, ...(s.outline ? placesOf(s.outline, body(s.outline)) : [])]
    if (!places.length)
      throw new StepError('no-pick', 'No place is picked for a hole.', {
        tryThis: 'Click where it is to be, or choose an outline with circles.',
      })
    const { diameter, head } = sizesOf(s)
    const told = normalize(s.axis)
    // Where nothing of the body lies ahead of any place, the axis was told the other way round.
    const ahead = places.some((p) => throughDepth(on, p, told) > 1 + 1e-6)
    const axis = ahead ? told : scale(told, -1)
    // A depth alone means a blind hole.
    const through = s.through ?? s.depth === undefined
    if (!through && s.depth === undefined)
      throw new StepError('no-depth', 'No depth is given for a hole that does not go right through.', {
        tryThis: 'Type a depth, or let it go right through.',
      })
    const cutters: Body[] = []
    for (const [i, at] of places.entries()) {
      checkStop(work)
      work.progress((0.4 * i) / places.length, 'holes')
      const depth = through ? throughDepth(on, at, axis) : s.depth!
      const spare = spareOver(diameter)
      // An outline of a section lies within the body: a plain hole right through runs both ways from it.
      const within = i >= given.length && through && s.head === 'none'
      cutters.push(
        await makeHoleCutter(
          {
            diameter,
            depth,
            above: within ? Math.max(spare, throughDepth(on, at, scale(axis, -1))) : spare,
            head,
            ...(through || !s.tip ? {} : { tip: s.tip }),
          },
          at,
          axis,
          places.length > 1 ? `hole ${i + 1}` : 'hole',
        ),
      )
    }
    const done = await joinBodies(
      'difference',
      [{ name: s.body, body: on }, ...cutters.map((c, i) => ({ name: `hole ${i + 1}`, body: c }))],
      { chord: s.chord, knowing: true },
      span(work, 0.4, 0.6),
    )
    const change = Number(done.facts.volume) - Number(done.facts.volumeBefore)
    // What the cutters reach out of the face is no hole.
    const wide = head.sort === 'none' ? diameter : head.diameter
    const scratch = places.length * Math.PI * (wide / 2) ** 2 * spareOver(diameter)
    if (Math.abs(change) <= 1.01 * scratch)
      throw new StepError('no-cut', `The ${plural(places.length, 'hole')} would not meet "${s.body}".`, {
        where: { body: s.body, point: places[0] },
        tryThis: 'Turn the direction round, or pick a place on the body.',
      })
    const thread = s.standard?.trim().endsWith(' tap') ? `, to be tapped ${s.standard.trim().split(' ')[0]}` : ''
    return {
      bodies: { [s.body]: done.body },
      facts: {
        ...done.facts,
        volumeChange: change,
        diameter,
        holes: places.length,
        ...(thread ? { thread: thread.slice(17) } : {}),
      },
      warnings: done.warnings.filter((w) => !w.includes('does not pass right through')),
      said: `${plural(places.length, 'hole')} Ø ${num(diameter)} mm${through ? ' through' : `, ${num(s.depth!)} mm deep`}${thread} · − ${volumeText(Math.abs(change))}`,
    }
  },
})

/** How far a cutter reaches out of the face, so that no skin is left there, mm. */
const spareOver = (diameter: number): number => 0.05 + 0.001 * diameter

/** The nominal diameter of a standard's screw: "M3 medium" is 3. */
function nominal(standard: string | undefined): number {
  return Number(/^M([0-9.]+)/.exec(standard ?? '')?.[1] ?? 0)
}
