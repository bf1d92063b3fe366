import { z } from 'zod'
import { mm, num, percentText, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span } from '@/core/base/work'
import type { Facts } from '@/core/base/facts'
import { isDatum, isOutline, netBody, type Body } from '@/core/bodies/body'
import { applyPoint, mirror } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { quadFigures, trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'
import { splitLong } from '@/core/mesh/split-long'
import { buildTopology } from '@/core/mesh/topology'
import { meshArea } from '@/core/mesh/measures'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { quadNet as netOf } from '@/core/net/quad-net'
import { roughSkin } from '@/core/net/rough-skin'
import { halfAt, halfOf, mirrored, mirroredAt, type MirrorPlane } from '@/core/net/symmetry'
import { runsOf } from '@/core/kinds/outline'
import { sizeOf } from '@/core/kinds/registry'
import { deviation } from '@/core/gauge/deviation'
import {
  angleDeg,
  bodyRef,
  bodyRefs,
  choice,
  choices,
  count,
  lengthMm,
  newBody,
  percent,
  toggle,
} from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { fineSkin } from './fine-skin'
import { manifoldSkin } from './manifold-skin'

/** A hundred per cent is as much as serves; more makes quads so uneven that they get worse. */
const mostAdaptive = 0.8
const mostQuads = 100_000
/** A rough look has so many quads at most, over a working mesh of so many vertices. */
const coarseQuads = 700
const coarseWorking = 1500
/** Made by less than this share too many or too few, the count is as asked. */
const asAsked = 0.1
/** Edges of more than this share of the size are divided first. */
const longestShare = 1 / 60

const axes = ['x', 'y', 'z'] as const

const quoted = (names: readonly string[]) => names.map((n) => `"${n}"`).join(', ')

function planeOf(name: string, datum: Body): MirrorPlane {
  if (isDatum(datum) && datum.datum === 'plane') return { at: datum.at, normal: datum.direction }
  throw new StepError('not-a-plane', `"${name}" is no plane.`, {
    where: { body: name },
    tryThis: 'Choose a datum plane.',
  })
}

const settings = z.object({
  body: bodyRef({ can: 'surface' }, 'Body', { changes: false }),
  name: newBody('Name', { base: 'net' }),
  size: choice('By', ['count', 'edge'], { count: 'number of quads', edge: 'edge length' }).default('count'),
  count: count('Quads', { min: 6, max: mostQuads, when: { field: 'size', is: ['count'] } }).default(2000),
  edge: lengthMm('Edge', { min: 1e-3, when: { field: 'size', is: ['edge'] } }).default(2),
  adaptive: percent('Smaller where it bends').default(50),
  detail: toggle('Extra quads where detail needs them', { more: true }).default(true),
  hardEdges: toggle('Follow hard edges').default(true),
  hardAngle: angleDeg('Hard is above', {
    min: 5,
    max: 175,
    more: true,
    when: { field: 'hardEdges', is: [true] },
  }).default(40),
  symmetry: choices('Mirrored at', axes, { x: 'x = 0', y: 'y = 0', z: 'z = 0' }, { more: true, least: 0 }).default([]),
  mirrorAt: bodyRef('datum', 'Mirrored at the plane', { changes: false, listed: true, more: true }).optional(),
  guides: bodyRefs('outline', 'Guide curves', {
    changes: false,
    listed: true,
    least: 0,
    more: true,
    help: 'outlines that lie on the body',
  }).default([]),
  guidesAs: choice(
    'They',
    ['loops', 'flow'],
    { loops: 'become edges of quads', flow: 'steer the rows' },
    {
      more: true,
    },
  ).default('loops'),
})
type Settings = z.output<typeof settings>

/** The part of a skin that a net is laid over where it is mirrored: what lies on one side of each plane. */
function partToLay(mesh: TriMesh, s: Settings, plane: MirrorPlane | null, size: number): TriMesh {
  let part = mesh
  for (const a of s.symmetry) {
    const half = halfOf(part, axes.indexOf(a), size)
    if (!half)
      throw new StepError('misses', `The plane ${a} = 0 does not cut "${s.body}".`, {
        where: { body: s.body },
        tryThis: 'Centre the body there first, or mirror it at another plane.',
      })
    part = half
  }
  const half = plane ? halfAt(part, plane, size) : part
  if (!half)
    throw new StepError('misses', `The plane "${s.mirrorAt}" does not cut "${s.body}".`, {
      where: { body: s.body },
      tryThis: 'Choose a plane through its middle.',
    })
  return half
}

/** Runs of the guide curves, also as they lie mirrored; and which outlines hold none. */
function guidesOf(
  s: Settings,
  plane: MirrorPlane | null,
  body: (name: string) => Body,
): { guides: (ReturnType<typeof runsOf>[number] & { name: string })[]; empty: string[] } {
  const empty: string[] = []
  const guides = s.guides.flatMap((name) => {
    const o = body(name)
    const runs = isOutline(o) ? runsOf(o) : []
    if (!runs.length) empty.push(name)
    return runs.map((run) => ({ ...run, name }))
  })
  // What lies on the half that goes guides the half that stays.
  const planes = [
    ...s.symmetry.map((a) => [[0, 0, 0], axes.map((b) => (a === b ? 1 : 0))] as unknown as [Vec3, Vec3]),
    ...(plane ? [[plane.at, plane.normal] as [Vec3, Vec3]] : []),
  ]
  for (const [at, normal] of planes)
    for (const g of [...guides]) guides.push({ ...g, places: g.places.map((p) => applyPoint(mirror(at, normal), p)) })
  return { guides, empty }
}

/** What is said of guide curves that do not lie on the body. @throws StepError `guides-miss` where none does */
function missedGuides(s: Settings, missed: readonly string[]): string[] {
  if (!missed.length) return []
  const one = missed.length === 1
  if (missed.length === s.guides.length)
    throw new StepError(
      'guides-miss',
      `${quoted(missed)} ${one ? 'does' : 'do'} not lie on "${s.body}", so nothing is guided.`,
      {
        where: { body: s.body },
        tryThis: 'Take section lines of it, or lay the outlines on its faces.',
      },
    )
  return [`${quoted(missed)} ${one ? 'does' : 'do'} not lie on "${s.body}" and guide${one ? 's' : ''} nothing.`]
}

/** How many quads are asked for. @throws StepError "too-many" */
function wantedQuads(s: Settings, mesh: TriMesh): number {
  const wanted = s.size === 'count' ? s.count : meshArea(mesh) / s.edge ** 2
  if (wanted > mostQuads)
    throw new StepError(
      'too-many',
      `An edge of ${mm(s.edge)} makes ${plural(Math.round(wanted), 'quad')}; ${plural(mostQuads, 'quad')} is the most.`,
      { tryThis: 'Give a longer edge.' },
    )
  return wanted
}

export const quadNet = defineStep({
  kind: 'convert/quad-net',
  version: 3,
  title: 'Quad net',
  order: 60,
  past: 'Made a net of quads of',
  group: 'Freeform',
  standsFor: 'body',
  slow: true,
  coarseUpTo: 150_000,
  facts: shown(
    { key: 'quads', label: 'Quads', as: 'count' },
    { key: 'edge', label: 'Mean edge', as: 'length' },
    { key: 'irregular', label: 'Irregular points', as: 'share' },
    { key: 'minAngle', label: 'Smallest angle', as: 'angle' },
    { key: 'deviation.max', label: 'Off by at most', as: 'length' },
    { key: 'deviation.p95', label: '95 % within', as: 'length' },
  ),
  summary:
    'Lays a net of quads over a mesh, solid or sheet: all quads, closed where the body is, along hard edges and rims, and says how far off it is.',
  subject: (s) => String(s.body),
  settings,
  async run({ settings: s, body, surface, names, work, coarse }) {
    freeName(names, s.name)
    const size = Math.hypot(...sizeOf(body(s.body))) || 1
    const fine = await fineSkin({ body, surface }, s.body)
    const whole = coarse ? await roughSkin(fine) : splitLong(fine, size * longestShare)
    const { mesh, warnings } = manifoldSkin(s.body, whole)
    const plane = s.mirrorAt === undefined ? null : planeOf(s.mirrorAt, body(s.mirrorAt))
    const part = partToLay(mesh, s, plane, size)
    const halves = 2 ** (s.symmetry.length + (plane ? 1 : 0))
    const { guides, empty } = guidesOf(s, plane, body)
    warnings.push(...empty.map((name) => `"${name}" holds no curve, so it guides nothing.`))
    const wanted = wantedQuads(s, mesh)
    const all = coarse ? Math.min(wanted, coarseQuads) : wanted
    const made = await netOf(
      part,
      {
        count: Math.max(6, Math.round(all / halves)),
        adaptive: (mostAdaptive * s.adaptive) / 100,
        hardAngle: s.hardEdges ? s.hardAngle : null,
        detail: s.detail && !coarse,
        ...(coarse ? { working: coarseWorking, rough: true } : {}),
        guides,
        guidesAs: s.guidesAs,
      },
      span(work, 0, 0.9),
    )
    let net: QuadMesh = made.net
    if (made.leftOut)
      warnings.push(
        `${plural(made.leftOut, 'piece')} too small for a quad got none: ask for more quads, or clear specks.`,
      )
    // Those of which no run lies on the body.
    const met = new Set(guides.filter((_, i) => !made.missed.includes(i)).map((g) => g.name))
    warnings.push(
      ...missedGuides(
        s,
        [...new Set(guides.map((g) => g.name))].filter((name) => !met.has(name)),
      ),
    )
    if (plane) net = mirroredAt(net, plane)
    for (const a of [...s.symmetry].reverse()) net = mirrored(net, axes.indexOf(a))
    const f = quadFigures(net)
    if (coarse)
      return {
        bodies: { [s.name]: netBody(net) },
        facts: { quads: f.quads, edge: f.edge, coarse: true },
        said: `a rough look with ${plural(f.quads, 'quad')}${all < wanted ? ` of ${plural(Math.round(wanted), 'quad')}` : ''}`,
      }
    if (buildTopology(mesh).openEdges === 0 && !f.closed) warnings.push('The net is open although the body is closed.')
    const off = deviation(trianglesOfQuads(net), whole, undefined, span(work, 0.9, 1))
    const { both } = off
    if (Math.abs(f.quads - wanted) > asAsked * wanted)
      warnings.push(
        f.quads > wanted
          ? `${plural(f.quads, 'quad')} instead of ${plural(Math.round(wanted), 'quad')}: the shape, its hard edges and rims need as many.`
          : `Only ${plural(f.quads, 'quad')} of ${plural(Math.round(wanted), 'quad')}.`,
      )
    return {
      bodies: { [s.name]: netBody(net) },
      facts: {
        quads: f.quads,
        edge: f.edge,
        irregular: f.irregular,
        irregularPoints: f.irregularPoints,
        minAngle: f.minAngle,
        minAngle99: f.minAngle99,
        closed: f.closed,
        pieces: f.pieces,
        deviation: both as unknown as Facts,
        histogram: off.histogram as unknown as Facts,
      },
      warnings,
      said: `${plural(f.quads, 'quad')} of ${mm(f.edge)} · ${plural(f.irregularPoints, 'irregular point')} (${percentText(f.irregular)}) · smallest angle ${num(f.minAngle, 0)}° · off by at most ${mm(both.max, 3)}, 95 % within ${mm(both.p95, 3)}`,
    }
  },
})
