import { z } from 'zod'
import { mm, num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span, type Work } from '@/core/base/work'
import { inColour, isMesh, type Body, type ExactBody, type MeshBody } from '@/core/bodies/body'
import { cleanSolidOf, ways, type Cleaned } from '@/core/clean/clean-solid'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { figuresOf, histogramOf, referenceOf, vertexDeviation } from '@/core/gauge/deviation'
import { doubts, secondLook } from '@/core/clean/second-look'
import { profileKinds } from '@/core/clean/traced-solid'
import { bodiesOf } from '@/core/clean/bodies'
import { meshArea } from '@/core/mesh/measures'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { recognisedOf, tagsOnPart } from '@/core/fit/recognised-tags'
import { bodyRef, bodyRefs, choice, choices, findings, lengthMm, newBody, percent, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import type { Facts } from '@/core/base/facts'
import { defineStep, freeName, namer } from '@/core/step/step'

const wayWords = {
  extrusion: 'extruded',
  turning: 'turned',
  faces: 'face by face',
} as const

/** Regularities told in a step's facts at most; faces likewise. */
const mostTold = 500

/** Nothing is to be seen of distances below this, mm. */
const leastMapped = 1e-4

/** Distances to a profile's curves have no side: corners of the mesh against facets much finer than those tell it, mm. */
async function besideBody(mesh: TriMesh, body: ExactBody, max: number, work: Work): Promise<Float32Array> {
  const fine = await facetSolid(body, Math.max(leastMapped, max / facetsFiner))
  return vertexDeviation(mesh, referenceOf(fine.mesh), work)
}
const facetsFiner = 10

const sum = (all: readonly Cleaned[], of: (c: Cleaned) => number) => all.reduce((s, c) => s + of(c), 0)

const settings = z.object({
  body: bodyRef('mesh', 'Mesh', { changes: false }),
  also: bodyRefs('mesh', 'More meshes', {
    changes: false,
    listed: true,
    least: 0,
    more: true,
    help: 'each becomes a solid of its own',
  }).default([]),
  way: choice('Made', ways, {
    best: 'as fits best',
    extrusion: 'as an extrusion',
    turning: 'as a turning',
    faces: 'face by face',
  }).default('best'),
  draw: choices(
    'Profile of',
    profileKinds,
    { line: 'lines', arc: 'arcs', spline: 'splines' },
    {
      when: { field: 'way', is: ['best', 'extrusion', 'turning'] },
    },
  ).default(['line', 'arc']),
  tolerance: lengthMm('Within', {
    min: 1e-6,
    max: 100,
    more: true,
    help: 'left empty: from the noise and size of the mesh',
  }).optional(),
  least: percent('Leave out pieces below', { help: 'of the area of the largest', more: true }).default(0.5),
  regular: toggle('Snap to what is regular').default(true),
  fillets: choice(
    'Fillets',
    ['keep', 'out'],
    { keep: 'kept', out: 'left out' },
    { when: { field: 'way', is: ['best', 'faces'] } },
  ).default('keep'),
  upTo: lengthMm('Left out up to a radius of', {
    min: 1e-3,
    help: 'left empty: all',
    when: { field: 'fillets', is: ['out'] },
  }).optional(),
  leftovers: choice(
    'What lies on no shape',
    ['fitted', 'facets'],
    { fitted: 'fitted faces', facets: 'stays facets' },
    { when: { field: 'way', is: ['best', 'faces'] } },
  ).default('fitted'),
  loose: findings('Regularities', {
    of: 'regular',
    when: { field: 'regular', is: [true] },
  }).default([]),
  name: newBody('Name', { base: 'solid' }).default('solid'),
})
type Settings = z.output<typeof settings>

interface Piece {
  /** Of which body. */
  readonly from: string
  readonly name: string
  readonly mesh: TriMesh
  readonly whole: MeshBody
}

/** The pieces that become solids, and how many scraps are left out. */
function piecesOf(s: Settings, mesh: (name: string) => MeshBody): { parts: Piece[]; scraps: number } {
  const inputs = [...new Set([s.body, ...s.also])]
  const single = inputs.length === 1
  let scraps = 0
  const parts = inputs.flatMap((name): Piece[] => {
    const body = mesh(name)
    if (!isMesh(body)) throw new StepError('wrong-kind', `"${name}" is no mesh.`)
    const own = single ? s.name : `${name} ${s.name}`
    const whole = bodiesOf(body.mesh)
    const areas = whole.map(meshArea)
    const largest = areas.reduce((a, b) => Math.max(a, b), 0)
    const pieces = whole.filter((_, i) => areas[i] >= (s.least / 100) * largest)
    scraps += whole.length - pieces.length
    return pieces.length > 1
      ? pieces.map((m, i) => ({ from: name, name: `${own} ${i + 1}`, mesh: m, whole: body }))
      : [{ from: name, name: own, mesh: whole.length > 1 ? pieces[0] : body.mesh, whole: body }]
  })
  if (parts.length > 200)
    throw new StepError('many-pieces', `These are ${parts.length} pieces, more than can lie on the bench apart.`, {
      where: { body: s.body },
      tryThis: 'Clear specks first, or take fewer bodies.',
    })
  return { parts, scraps }
}

/** A solid or sheet of each piece; what does not serve stays a mesh and is told. @throws StepError `nothing-made` */
async function cleaned(
  parts: readonly Piece[],
  s: Settings,
  names: ReadonlySet<string>,
  work: Work,
): Promise<{ bodies: Record<string, Body>; made: Cleaned[]; of: Piece[]; warnings: string[] }> {
  const fillets = s.fillets === 'out' ? (s.upTo ?? Infinity) : undefined
  const free = namer(names)
  const bodies: Record<string, Body> = {}
  const warnings: string[] = []
  const made: Cleaned[] = []
  const of: Piece[] = []
  for (const [i, part] of parts.entries()) {
    const name = parts.length === 1 ? freeName(names, part.name) : free(part.name)
    const own = span(work, (0.97 * i) / parts.length, (0.97 * (i + 1)) / parts.length)
    try {
      const found = recognisedOf(part.mesh, tagsOnPart(part.whole, part.mesh))
      const c = await cleanSolidOf(part.mesh, part.from, name, { ...s, found, fillets }, own)
      bodies[name] = inColour(c.body, part.whole.colour)
      made.push(c)
      of.push(part)
    } catch (error) {
      // One piece that does not serve does not take the others with it.
      if (parts.length === 1 || !(error instanceof StepError)) throw error
      warnings.push(`Piece ${i + 1} stays a mesh: ${error.message}`)
    }
  }
  if (!made.length)
    throw new StepError('nothing-made', `None of ${plural(parts.length, 'piece')} became a solid. ${warnings[0]}`, {
      tryThis: 'Face by face, or a facet solid, may serve.',
    })
  return { bodies, made, of, warnings }
}

/** What is to be known of solids that are not all that was hoped for. */
function warningsOf(
  s: Settings,
  made: readonly Cleaned[],
  told: { pieces: number; scraps: number; faceted: number; fitted: readonly { max: number }[] },
): string[] {
  const { pieces, scraps, faceted, fitted } = told
  const warnings: string[] = []
  const open = made.filter((c) => c.body.kind === 'sheet')
  if (open.length)
    warnings.push(
      pieces === 1
        ? `"${s.body}" is open at ${plural(open[0].openings.length, 'rim')}, so this is a sheet. Mend closes it.`
        : `${plural(open.length, 'piece is', 'pieces are')} open and became sheets.`,
    )
  if (scraps)
    warnings.push(`${plural(scraps, 'stray piece')} of next to no size ${scraps === 1 ? 'is' : 'are'} left out.`)
  const brought = made.filter((c) => c.broughtTo !== undefined)
  if (brought.length)
    warnings.push(
      `${pieces === 1 ? 'Its surfaces' : `The surfaces of ${plural(brought.length, 'piece')}`} did not close as scanned, so the skin was brought down to ${plural(
        sum(brought, (c) => c.broughtTo ?? 0),
        'triangle',
      )} first: clearing what closes its bores, or trimming, keeps more true faces.`,
    )
  if (faceted)
    warnings.push(
      `${plural(faceted, 'leftover')}: no plane, cylinder, cone, sphere or ring holds there, so ${faceted === 1 ? 'it stays a flat facet' : 'they stay flat facets'}.`,
    )
  if (fitted.length)
    warnings.push(
      `${plural(fitted.length, 'face')} of no plane, cylinder, cone, sphere or ring ${fitted.length === 1 ? 'is' : 'are'} fitted, off the mesh by at most ${mm(Math.max(...fitted.map((f) => f.max)), 4)}.`,
    )
  const stay = sum(made, (c) => c.filletsLeft)
  if (s.fillets === 'out' && !sum(made, (c) => c.leftOut) && !stay)
    warnings.push('No fillets were found that could be left out.')
  if (stay) warnings.push(`${plural(stay, 'fillet')} could not be left out: the faces beside do not meet without.`)
  return warnings
}

/** What was made, in a line. `max`: furthest off the mesh, mm. */
function saidOf(
  made: readonly Cleaned[],
  max: number,
  { faceted, fitted, leftOut }: { faceted: number; fitted: number; leftOut: number },
): string {
  const open = made.filter((c) => c.body.kind === 'sheet').length
  const bodies = [plural(made.length - open, 'solid'), ...(open ? [plural(open, 'sheet')] : [])]
  const by = Object.entries(wayWords).flatMap(([way, word]) => {
    const n = made.filter((c) => c.way === way).length
    return n ? [made.length > 1 ? `${n} ${word}` : word] : []
  })
  const faces = plural(
    sum(made, (c) => c.body.facts.faces),
    'face',
  )
  return [
    made.length > 1 ? `${bodies.join(', ')}, ` : '',
    `${by.join(', ')} · ${faces}`,
    faceted ? `, ${num(faceted)} of them leftovers` : '',
    fitted ? `, ${num(fitted)} fitted` : '',
    leftOut ? `, ${plural(leftOut, 'fillet')} left out` : '',
    ` · off the mesh by ${max < leastMapped ? `less than ${mm(leastMapped, 4)}` : `at most ${mm(max, 4)}`}`,
  ].join('')
}

export const cleanSolid = defineStep({
  kind: 'convert/clean-solid',
  version: 8,
  title: 'Clean solid',
  order: 39,
  past: 'Made a clean solid of',
  group: 'Solid',
  standsFor: 'body',
  // Solids of several pieces are numbered past names that are taken.
  namesItself: true,
  slow: true,
  facts: shown(
    'faces',
    { key: 'faceted', label: 'Leftovers', as: 'count', some: true },
    { key: 'fitted', label: 'Fitted faces', as: 'count', some: true },
    'volume',
    { key: 'deviation.max', label: 'Off the mesh by at most', as: 'length' },
    { key: 'deviation.rms', label: 'Rms', as: 'length' },
    { key: 'back.max', label: 'The solid off the mesh at most', as: 'length', some: true },
    { key: 'recognised', label: 'Regions recognised', as: 'count', some: true },
    { key: 'regularities', label: 'Regularities', as: 'count', some: true },
  ),
  summary:
    'Turns a mechanical mesh into the exact solid that was meant: extruded, turned, or face by face, with true planes, cylinders and arcs.',
  subject: (s) => [s.body, ...(Array.isArray(s.also) ? s.also : [])].map(String).join(', '),
  settings,
  async run({ settings: s, mesh, names, work }) {
    const { parts, scraps } = piecesOf(s, mesh)
    const { bodies, made, of, warnings } = await cleaned(parts, s, names, work)
    const faceted = sum(made, (c) => c.faceted)
    const fitted = made.flatMap((c) => (c.way === 'faces' ? c.table.filter((f) => f.shape === 'spline') : []))
    const open = made.filter((c) => c.body.kind === 'sheet')
    warnings.push(...warningsOf(s, made, { pieces: parts.length, scraps, faceted, fitted }))
    const meshes = of.map((p) => p.mesh)
    const looks = meshes.map((m, i) => secondLook(m, made[i], span(work, 0.97, 1)))
    warnings.push(...doubts(made, looks, s.leftovers === 'facets'))
    const leftOut = sum(made, (c) => c.leftOut)
    const kinds: Record<string, number> = {}
    for (const c of made)
      for (const [k, n] of Object.entries(c.body.facts.faceKinds)) if (n) kinds[k] = (kinds[k] ?? 0) + n
    const regular = made.flatMap((c) => c.regular)
    const even = (distance: Float32Array) => ({ distance, weight: new Float32Array(distance.length).fill(1) })
    const corners = figuresOf(even(Float32Array.from(made.flatMap((c) => [...c.offs]))))
    const { p95, rms } = corners
    const max = looks.reduce((m, l) => Math.max(m, l?.beyond ?? 0), corners.max)
    const deviation = { max, p95, rms }
    // What lies on its faces needs no map.
    const mapped = made.length === 1 && corners.max > leastMapped
    const sided = !mapped
      ? null
      : made[0].way === 'faces'
        ? Float32Array.from(made[0].offs)
        : await besideBody(parts[0].mesh, made[0].body, corners.max, work)
    return {
      bodies,
      facts: {
        faces: sum(made, (c) => c.body.facts.faces),
        faceKinds: kinds,
        solids: made.length,
        way: made.length === 1 ? made[0].way : 'several',
        closed: !open.length,
        valid: made.every((c) => c.body.facts.valid),
        faceted,
        fitted: fitted.length,
        filletsLeftOut: leftOut,
        open: open
          .flatMap((c) => c.openings)
          .slice(0, mostTold)
          .map((p) => [...p]),
        volume: sum(made, (c) => c.body.facts.volume),
        deviation,
        ...(looks.every((l) => l !== null)
          ? { back: { max: Math.max(...looks.map((l) => l.back.max)), p95: Math.max(...looks.map((l) => l.back.p95)) } }
          : {}),
        ...(made.every((c) => c.recognised !== undefined) ? { recognised: sum(made, (c) => c.recognised ?? 0) } : {}),
        tolerance: made[0].tolerance,
        ...(sided
          ? { histogram: histogramOf(even(sided), corners.max) as unknown as Facts, against: Object.keys(bodies)[0] }
          : {}),
        regularities: regular.length,
        regular: regular.slice(0, mostTold).map((r) => ({ ...r, of: [...r.of] })),
        table: made
          .flatMap((c) => c.table)
          .sort((a, b) => b.max - a.max)
          .slice(0, mostTold)
          .map((f) => ({ ...f, at: [...f.at] })),
      },
      warnings,
      said: saidOf(made, max, { faceted, fitted: fitted.length, leftOut }),
    }
  },
})
