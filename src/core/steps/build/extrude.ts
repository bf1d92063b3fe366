import { z } from 'zod'
import { isMesh, isOutline, type Body } from '@/core/bodies/body'
import { num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { boundsOf, kindOf, requireCapability } from '@/core/kinds/registry'
import { makeExtrusion, type EndPlane } from '@/core/kernels/exact/extrude'
import { upToBody } from '@/core/kernels/exact/up-to'
import { upToMesh } from '@/core/join/up-to-mesh'
import { meshVolume } from '@/core/mesh/measures'
import { addScaled, dot, normalize, scale, type Vec3 } from '@/core/math/vec'
import type { DrawingPlane } from '@/core/outline/drawing'
import { heightOver, profileOf } from '@/core/outline/profile'
import { angleDeg, bodyRef, choice, direction, lengthMm, point, points, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { laid, requireResult, resultFields } from './results'

/** Where an extrusion ends: a height, and where the end lies aslant the plane that cuts it. */
interface End {
  readonly height: number
  readonly plane?: EndPlane
}

/** The height of a place over the outline; aslant, the plane through it and how far the outline must reach for it. */
function endAt(plane: DrawingPlane, at: Vec3, way: Vec3 | undefined, reach: number, up: 1 | -1): End {
  const height = heightOver(plane, at)
  const n = way && normalize(way)
  const along = n ? dot(n, plane.normal) : 1
  if (!n || Math.abs(Math.abs(along) - 1) < 1e-9) return { height }
  if (Math.abs(along) < 1e-6)
    throw new StepError('along', 'The plane to end at runs along the way of the extrusion and never ends it.', {
      where: { point: at },
      tryThis: 'Pick a plane or face that lies across.',
    })
  return { height: height + up * reach, plane: { at, normal: scale(n, Math.sign(along) * up) } }
}

const settings = z.object({
  outline: bodyRef('outline', 'Outline', { changes: false }),
  areas: points('Areas', { pick: 'area', on: 'outline', help: 'none picked: all that are no holes' }).optional(),
  from: choice('Starts', ['outline', 'place'], {
    outline: 'on the outline',
    place: 'at a face or place',
  }).default('outline'),
  startAt: point('Starts at', { pick: 'face', when: { field: 'from', is: ['place'] } }).optional(),
  startSquare: direction('Starts square to', {
    when: { field: 'from', is: ['place'] },
    help: 'left empty: parallel to the outline',
  }).optional(),
  start: lengthMm('Starts off the outline by', {
    min: -1e5,
    more: true,
    when: { field: 'from', is: ['outline'] },
  }).default(0),
  to: choice('Reaches', ['distance', 'place', 'body'], {
    distance: 'a distance',
    place: 'up to a place or face',
    body: 'up to a body',
  }).default('distance'),
  distance: lengthMm('Distance', { min: -1e5, when: { field: 'to', is: ['distance'] } }).default(10),
  symmetric: toggle('Half to each side', { when: { field: 'to', is: ['distance'] } }).default(false),
  upTo: point('Up to', { pick: 'face', when: { field: 'to', is: ['place'] } }).optional(),
  square: direction('Ends square to', {
    when: { field: 'to', is: ['place'] },
    help: 'left empty: parallel to the outline',
  }).optional(),
  target: bodyRef({ can: 'surface' }, 'Up to body', {
    changes: false,
    listed: true,
    when: { field: 'to', is: ['body'] },
  }).optional(),
  back: lengthMm('Back by', { min: 0, help: 'to the other side of the outline' }).default(0),
  draft: angleDeg('Draft', { min: -60, max: 60, more: true, help: 'above zero the walls lean inward' }).default(0),
  draftBack: angleDeg('Draft back', { min: -60, max: 60, more: true }).default(0),
  wall: lengthMm('Thin wall', {
    min: 1e-3,
    more: true,
    help: 'left empty: solid; with it open curves give walls too',
  }).optional(),
  wallSide: choice(
    'Wall lies',
    ['middle', 'out', 'in'],
    {
      middle: 'on the outline',
      out: 'outside',
      in: 'inside',
    },
    { more: true },
  ).default('middle'),
  sink: lengthMm('Sink by', {
    more: true,
    help: 'goes deeper into the body it is joined to, so that both overlap',
    when: { field: 'result', is: ['join'] },
  }).default(0),
  ...resultFields('extrusion'),
})
type Settings = z.output<typeof settings>

/** The place that an extrusion starts at, where it does not start on its outline. */
function placeToStart({ from, startAt }: Settings): Vec3 | null {
  if (from === 'outline') return null
  if (!startAt)
    throw new StepError('no-pick', 'No place is picked to start at.', { tryThis: 'Pick a face, corner or datum.' })
  return startAt
}

/** Where an extrusion is to reach, and the body that it reaches up to. */
function farEnd(
  s: Settings,
  profile: ReturnType<typeof profileOf>,
  body: (name: string) => Body,
  seat: number,
  reach: number,
): { last: End; target: Body | null } {
  const { plane } = profile
  if (s.to === 'distance') return { last: { height: seat + (s.symmetric ? s.distance / 2 : s.distance) }, target: null }
  if (s.to === 'place') {
    if (!s.upTo)
      throw new StepError('no-pick', 'No place is picked to reach up to.', {
        tryThis: 'Pick a face, corner or datum.',
      })
    const up = heightOver(plane, s.upTo) >= seat ? 1 : -1
    return { last: endAt(plane, s.upTo, s.square, reach, up), target: null }
  }
  if (!s.target) throw new StepError('no-pick', 'No body is chosen to reach up to.', { tryThis: 'Choose one.' })
  const target = body(s.target)
  const { min, max } = boundsOf(target)
  const heights = [0, 1, 2, 3, 4, 5, 6, 7].map((i) =>
    heightOver(plane, [i & 1 ? max[0] : min[0], i & 2 ? max[1] : min[1], i & 4 ? max[2] : min[2]]),
  )
  const [low, high] = [Math.min(...heights), Math.max(...heights)]
  return { last: { height: high - seat >= seat - low ? high + 1 : low - 1 }, target }
}

export const extrude = defineStep({
  kind: 'build/extrude',
  version: 3,
  shape: 2,
  // Before there was a choice, a place to start at was enough.
  upgrade: (old) => (old.startAt ? { ...old, from: 'place' } : old),
  title: 'Extrude',
  order: 2,
  past: 'Extruded',
  group: 'Outlines',
  live: true,
  facts: shown('volume', 'faces', 'triangles', 'chordToleranceMm'),
  summary:
    'Draws the areas of an outline out to a solid, joins it to a body or cuts it from one; open curves give a sheet.',
  subject: (s) => String(s.outline ?? ''),
  settings,
  async run({ settings: s, names, body, work }) {
    requireResult(s, names)
    const outline = body(s.outline)
    if (!isOutline(outline)) throw new StepError('wrong-kind', `"${s.outline}" is no outline.`)
    const p = profileOf(s.outline, outline, (s.areas ?? []) as Vec3[])
    const n = p.plane.normal
    // How far anything on the bench that matters may lie.
    const spread = (b: Body) => {
      const { min, max } = boundsOf(b)
      return Math.hypot(...[0, 1, 2].map((k) => max[k] - min[k]))
    }
    const reach = 2 * spread(outline) + 10
    // Where it starts, by height; aslant, the plane that cuts it there is told once the way is known.
    const startAt = placeToStart(s)
    const seat = startAt ? heightOver(p.plane, startAt) : s.start
    const { last, target } = farEnd(s, p, body, seat, reach)
    const way = last.height >= seat ? 1 : -1
    const first = startAt ? endAt(p.plane, startAt, s.startSquare, reach, way > 0 ? -1 : 1) : { height: seat }
    const backBy = s.to === 'distance' && s.symmetric ? Math.abs(s.distance) / 2 : s.back
    const near = (first.plane ? first.height : seat) - way * (backBy + (s.result === 'join' ? s.sink : 0))
    const [from, to] = [Math.min(near, last.height), Math.max(near, last.height)]
    if (!(to - from > 1e-7))
      throw new StepError('no-height', 'The extrusion has no height.', {
        where: { point: p.middle },
        tryThis: 'Give it a distance other than zero.',
      })
    if (s.wall && (s.draft || s.draftBack))
      throw new StepError('wall-draft', 'A thin wall is drawn out straight: it cannot lean as well.', {
        tryThis: 'Leave the draft out, or lean its faces by Draft afterwards.',
      })
    let made = await makeExtrusion(p, {
      from,
      to,
      seat,
      draft: way > 0 ? s.draft : s.draftBack,
      draftBack: way > 0 ? s.draftBack : s.draft,
      ends: [last.plane, first.plane].filter((e) => e !== undefined),
      name: s.name,
      ...(s.wall ? { wall: { width: s.wall, side: s.wallSide } } : {}),
    })
    const whole = made
    let own: Body = made
    const foot = addScaled(p.middle, n, near)
    if (target && isMesh(target)) own = await upToMesh(s.name, whole, s.target!, target, foot, s.chord, work)
    else if (target)
      own = made = await upToBody(
        made,
        requireCapability(s.target!, target, 'exact').exact!(target),
        foot,
        s.target!,
        s.name,
      )
    const ended = isMesh(own) ? { volume: meshVolume(own.mesh), faces: made.facts.faces } : made.facts
    const facts = {
      volume: ended.volume,
      faces: ended.faces,
      at: [...addScaled(p.middle, n, seat)],
      normal: [...n],
      reach: last.height - seat,
    }
    return laid(
      own,
      s,
      body,
      facts,
      `${kindOf(made).title} of ${plural(p.areas.length || p.runs.length, p.areas.length ? 'area' : 'open run')}, ${num(to - from)} mm`,
      work,
    )
  },
})
