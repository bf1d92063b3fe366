import { z } from 'zod'
import { num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span } from '@/core/base/work'
import type { Body, DatumBody } from '@/core/bodies/body'
import { resolveRegion } from '@/core/find/region'
import { extentOf } from '@/core/fit/extent'
import type { Fitted } from '@/core/fit/fit-shape'
import { holds } from '@/core/fit/held'
import { fitRegion, type PatchFit } from '@/core/fit/region-fit'
import { joinBodies } from '@/core/join/boolean'
import { shapeSheet, shapeSolid, type Reach } from '@/core/kernels/exact/fitted'
import { addScaled, scale } from '@/core/math/vec'
import { bodyRef, choice, direction, lengthMm, newBody, point, regionRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName, namer, type Facts } from '@/core/step/step'

/** Walls that bend so much less than they are long are nearly flat. */
const flatTimes = 20

const held: string[] = ['along', 'square', 'about']

const settings = z.object({
  body: bodyRef('mesh', 'Mesh', { changes: false }),
  region: regionRef('Region', { fitted: true }),
  shape: choice('Shape', ['best', 'plane', 'cylinder', 'cone', 'sphere', 'ring'], {
    best: 'what serves best',
    plane: 'plane',
    cylinder: 'cylinder',
    cone: 'cone',
    sphere: 'sphere',
    ring: 'ring',
  }).default('best'),
  patches: choice('Patches', ['together', 'each'], {
    together: 'one shape through all',
    each: 'a shape each',
  }).default('together'),
  equal: toggle('Equal ones share size and direction', { when: { field: 'patches', is: ['each'] } }).default(true),
  as: choice('Becomes', ['datum', 'sheet', 'solid', 'join', 'cut'], {
    datum: 'a datum',
    sheet: 'a face (sheet)',
    solid: 'a solid',
    join: 'joined to a body',
    cut: 'cut from a body',
  }).default('datum'),
  with: bodyRef({ can: 'surface' }, 'Body', { when: { field: 'as', is: ['join', 'cut'] }, listed: true }).optional(),
  hold: choice('Direction', holds, {
    free: 'as it comes',
    along: 'along',
    square: 'square to',
    about: 'about an axis',
  }).default('free'),
  way: direction('Direction held to', { when: { field: 'hold', is: held } }).optional(),
  through: point('Axis through', { when: { field: 'hold', is: ['about'] } }).optional(),
  radius: lengthMm('Radius held', {
    min: 1e-3,
    more: true,
    help: 'of a ring: of its tube; left empty: free',
  }).optional(),
  snap: choice(
    'Diameter to steps of',
    ['none', 'tenth', 'twentieth', 'sixtyfourth'],
    {
      none: 'none',
      tenth: '0.1 mm',
      twentieth: '0.05 mm',
      sixtyfourth: '1/64 in',
    },
    { more: true },
  ).default('none'),
  extend: lengthMm('Longer at both ends by', { min: -1e4, more: true }).default(0),
  name: newBody('Name', { base: 'shape', when: { field: 'as', is: ['datum', 'sheet', 'solid'] } }).default('shape'),
})

export const fitShape = defineStep({
  kind: 'convert/fit-shape',
  version: 2,
  title: 'Fit shape',
  order: 40,
  past: 'Fitted a shape to',
  group: 'Solid',
  // Shapes of several patches are numbered past names that are taken.
  namesItself: true,
  facts: shown(
    { key: 'shapes', label: 'Shapes', as: 'count', some: true },
    { key: 'diameter', label: 'Diameter', as: 'length' },
    { key: 'halfAngle', label: 'Half angle', as: 'angle' },
    { key: 'rms', label: 'Off by, rms', as: 'length' },
    { key: 'max', label: 'At most', as: 'length' },
    { key: 'inliers', label: 'Of the region', as: 'share' },
  ),
  summary:
    'Planes, cylinders, cones, spheres and rings through a picked region of a mesh: as datums, faces or solids, joined or cut at once.',
  subject: (s) => String(s.body ?? ''),
  settings,
  async run({ settings: s, mesh, body, names, work }) {
    const acts = s.as === 'join' || s.as === 'cut'
    const many = s.patches === 'each'
    if (!acts && !many) freeName(names, s.name)
    if (acts && s.with === undefined)
      throw new StepError(
        'no-pick',
        `No body is chosen that the shape is to be ${s.as === 'cut' ? 'cut from' : 'joined to'}.`,
        {
          tryThis: 'Choose a body, or let it be a solid of its own.',
        },
      )
    if (s.hold === 'about' && s.way && !s.through)
      throw new StepError('no-pick', 'It is not told what place the axis runs through.', {
        tryThis: 'Take the place from a body, or hold the shape along the direction only.',
      })
    const m = mesh(s.body).mesh
    work.progress(0.1, 'fitting')
    const { patches, groups, left } = fitRegion(m, resolveRegion(m, s.region, mesh(s.body).tags), { ...s, each: many })
    const reaches = patches.map((p) => reachOf(p, s.extend))
    const facts = figuresOf(patches, groups, many)
    const words = many
      ? [
          plural(patches.length, 'shape'),
          ...(groups.length ? groups.map((g) => g.words + roundWords(g.kind, g.radius)) : []),
        ].join(': ')
      : wordsOf(patches[0].fit)
    const said = `${words} through ${plural(Number(facts.triangles), 'triangle')} · off by ${num(Number(facts.rms), 4)} mm rms, ${num(Number(facts.max), 3)} at most`
    const warnings = [
      ...patches.flatMap((p, i) => warningsOf(p.fit, reaches[i])),
      ...(left ? [`${plural(left, 'patch', 'patches')} of the region tell no shape and are left out.`] : []),
    ]
    const free = many ? namer(names) : (name: string) => name
    const nameOf = (i: number) => (many ? `${s.name} ${i + 1}` : s.name)
    if (acts) {
      const solids = []
      for (const [i, r] of reaches.entries()) solids.push({ name: nameOf(i), body: await shapeSolid(r, nameOf(i)) })
      const done = await joinBodies(
        s.as === 'cut' ? 'difference' : 'union',
        [{ name: s.with!, body: body(s.with!) }, ...solids],
        {},
        span(work, 0.3, 0.7),
      )
      return {
        bodies: { [s.with!]: done.body },
        facts: { ...done.facts, ...facts },
        warnings: [...warnings, ...done.warnings],
        said: `${said}, ${s.as === 'cut' ? 'cut from' : 'joined to'} ${s.with}`,
      }
    }
    const bodies: Record<string, Body> = {}
    for (const [i, r] of reaches.entries()) {
      work.progress(0.3 + (0.6 * i) / reaches.length, 'making the bodies')
      const name = free(nameOf(i))
      bodies[name] =
        s.as === 'sheet'
          ? await shapeSheet(r, name)
          : s.as === 'solid'
            ? await shapeSolid(r, name)
            : datumOf(patches[i].fit, r)
    }
    return { bodies, facts, warnings, said }
  },
})

/** Facts of the first shape; of several the worst figures, and what each is and which are equal. */
function figuresOf(patches: readonly PatchFit[], groups: ReturnType<typeof fitRegion>['groups'], many: boolean): Facts {
  const figures = {
    ...factsOf(patches[0].fit),
    triangles: patches.reduce((n, p) => n + p.triangles.length, 0),
    rms: Math.max(...patches.map((p) => p.fit.rms)),
    max: Math.max(...patches.map((p) => p.fit.max)),
    inliers: Math.min(...patches.map((p) => p.fit.inliers)),
  }
  if (!many) return figures
  return {
    ...figures,
    shapes: patches.length,
    each: patches.slice(0, 200).map((p) => ({ ...factsOf(p.fit), triangles: p.triangles.length })),
    equal: groups.map(({ of, kind, radius, parallel, pattern, words }) => ({
      of: [...of],
      kind,
      ...(radius ? { radius } : {}),
      parallel,
      ...(pattern?.steps ? { steps: [...pattern.steps] } : {}),
      ...(pattern?.diameter ? { circle: pattern.diameter } : {}),
      words,
    })),
  }
}

/** How far a patch's shape reaches, longer at both ends. */
function reachOf({ fit, samples }: PatchFit, extend: number): Reach & { span: number } {
  const reach = extentOf(fit, samples.points, Math.max(3 * fit.rms, fit.max))
  const grown = { ...fit, ...reach, from: reach.from - extend, to: reach.to + extend, span: reach.to - reach.from }
  if (fit.kind === 'plane') {
    grown.start -= extend
    grown.turn += 2 * extend
  }
  if (fit.kind === 'cone') grown.from = Math.max(grown.from, 0)
  return grown
}

const roundOf = (fit: Fitted) => (fit.kind === 'ring' ? fit.thickness : fit.radius)

const factsOf = (fit: Fitted): Record<string, number | string | boolean | number[]> => {
  const round = roundOf(fit)
  return {
    shape: fit.kind,
    rms: fit.rms,
    max: fit.max,
    inliers: fit.inliers,
    at: [...fit.at],
    ...(fit.axis ? { axis: [...fit.axis] } : {}),
    ...(fit.radius ? { radius: fit.radius } : {}),
    ...(fit.thickness ? { thickness: fit.thickness } : {}),
    ...(fit.halfAngle ? { halfAngle: fit.halfAngle } : {}),
    ...(round ? { diameter: 2 * round } : {}),
    ...(fit.sigma === undefined ? {} : { sigma: fit.sigma }),
    inside: fit.inside,
  }
}

const roundWords = (kind: Fitted['kind'], radius: number | undefined) =>
  radius ? ` · ${kind === 'ring' ? 'tube ' : ''}Ø ${num(2 * radius, 3)} mm` : ''

const wordsOf = (fit: Fitted) => {
  const round = roundOf(fit)
  return `${fit.kind}${round ? ` Ø ${num(2 * round, 3)} mm` : fit.halfAngle ? ` of ${num(2 * fit.halfAngle, 2)}°` : ''}`
}

function warningsOf(fit: Fitted, { span }: { span: number }): string[] {
  const round = roundOf(fit)
  const free = fit.sigma !== undefined && round && fit.sigma > 0.05 * round
  return [
    ...(free
      ? [
          `So little of the ${fit.kind} is picked that its radius is hardly told: ${num(round, 2)} ± ${num(fit.sigma!, 2)} mm.`,
        ]
      : []),
    ...(round && round > flatTimes * span
      ? [`With a radius of ${num(round, 0)} mm the region is nearly flat: a plane may be what is meant.`]
      : []),
    ...(fit.inliers < 0.7
      ? [
          `Only ${num(100 * fit.inliers, 0)} % of the region lie on the ${fit.kind}: the rest belongs to something else.`,
        ]
      : []),
  ]
}

/** The plane, axis or point of a shape. */
function datumOf(fit: Fitted, { from, to, turn }: { from: number; to: number; turn: number }): DatumBody {
  if (fit.kind === 'plane')
    return { kind: 'datum', datum: 'plane', at: fit.at, direction: fit.axis!, drawn: Math.max(to - from, turn) }
  if (fit.kind === 'sphere')
    return { kind: 'datum', datum: 'point', at: fit.at, direction: [0, 0, 1], drawn: fit.radius! }
  const middle = fit.kind === 'ring' ? fit.at : addScaled(fit.at, fit.axis!, (from + to) / 2)
  const axis = fit.axis![2] < -1e-9 ? scale(fit.axis!, -1) : fit.axis!
  return {
    kind: 'datum',
    datum: 'axis',
    at: middle,
    direction: axis,
    drawn: Math.max(to - from, fit.radius ?? 1) * 1.2,
  }
}
