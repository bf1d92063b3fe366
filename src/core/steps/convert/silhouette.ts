import { z } from 'zod'
import type { Body, OutlineBody, ReferenceRow } from '@/core/bodies/body'
import { mm, num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { coveredBy } from '@/core/kernels/manifold'
import { outlineFigures } from '@/core/kinds/outline'
import { cross, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { concatMeshes, diagonal, meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { drawingPlane, emptyDrawing, toPlane, type DrawingPlane, type Place } from '@/core/outline/drawing'
import { chained } from '@/core/outline/chained'
import { seenEdges } from '@/core/section/seen-edges'
import { angleDeg, bodyRefs, choice, direction, lengthMm, newBody, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'

/** A mesh in the plane's own directions, z toward the eye. */
function turned(mesh: TriMesh, plane: DrawingPlane): TriMesh {
  const y = cross(plane.normal, plane.x)
  const positions = new Float32Array(mesh.positions.length)
  for (let i = 0; i < positions.length; i += 3) {
    const p = sub([mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]], plane.at)
    positions.set([dot(p, plane.x), dot(p, y), dot(p, plane.normal)], i)
  }
  return { positions, triangles: mesh.triangles }
}

const referenceOf = (
  rows: readonly { places: readonly (readonly [number, number])[]; closed: boolean }[],
): ReferenceRow[] => rows.map((r) => ({ places: Float64Array.from(r.places.flatMap((p) => [...p])), closed: r.closed }))

export const silhouette = defineStep({
  kind: 'convert/silhouette',
  version: 1,
  title: 'Silhouette',
  order: 12,
  past: 'Silhouette of',
  group: 'Outline',
  facts: shown(
    { key: 'loops', label: 'Closed loops', as: 'count' },
    { key: 'openRuns', label: 'Open runs', as: 'count', some: true },
    { key: 'length', label: 'Length', as: 'length' },
    { key: 'area', label: 'Covered area', as: 'area', some: true },
    { key: 'hiddenRuns', label: 'Hidden runs', as: 'count', some: true },
  ),
  summary: 'The outline of bodies seen from one side, or all their edges seen so, as reference curves to trace.',
  subject: (s) => (Array.isArray(s.bodies) ? s.bodies.join(', ') : ''),
  settings: z.object({
    bodies: bodyRefs({ can: 'surface' }, 'Bodies', { changes: false }),
    lines: choice('Lines', ['outer', 'edges'], {
      outer: 'the outer line',
      edges: 'all edges, hidden ones apart',
    }).default('outer'),
    normal: direction('Seen from').default([0, 0, 1]),
    at: point('On a plane through', { more: true }).default([0, 0, 0]),
    bend: angleDeg('Edges that bend more than', { min: 1, max: 179, when: { field: 'lines', is: ['edges'] } }).default(
      25,
    ),
    name: newBody('Name', { base: 'silhouette' }).default('silhouette'),
    hidden: newBody('Name of the hidden ones', {
      base: 'hidden edges',
      when: { field: 'lines', is: ['edges'] },
    }).default('hidden edges'),
    chord: lengthMm('Chord tolerance', {
      min: 1e-4,
      max: 10,
      help: 'For exact bodies; left empty: a hundredth of a millimetre',
      more: true,
    }).optional(),
  }),
  async run({ settings: s, surface, names, work }) {
    const plane = drawingPlane(s.at, normalize(s.normal))
    const skins: TriMesh[] = []
    for (const name of s.bodies) skins.push((await surface(name, s.chord ?? 0.01)).mesh)
    const bodies: Record<string, Body> = {}
    const outline = (reference: ReferenceRow[]): OutlineBody => ({
      kind: 'outline',
      plane,
      drawing: emptyDrawing,
      reference,
    })
    const name = freeName(names, s.name)
    if (s.lines === 'outer') {
      const loops = await coveredBy(skins.map((m) => turned(m, plane)))
      if (!loops.length)
        throw new StepError('empty', 'Seen from there the bodies cover nothing.', {
          tryThis: 'Look from another side.',
        })
      const out = outline(referenceOf(loops.map((places) => ({ places, closed: true }))))
      const f = outlineFigures(out)
      const area = f.areas.reduce((sum, a) => sum + a, 0)
      return {
        bodies: { [name]: out },
        facts: { loops: f.loops, openRuns: 0, length: f.length, area },
        said: `${plural(f.loops, 'loop')} · ${mm(f.length, 1)} · ${num(area, 1)} mm²`,
      }
    }
    const whole = concatMeshes(skins)
    const { seen, hidden } = seenEdges(whole, plane.normal, s.bend, work)
    const close = diagonal(meshBounds(whole)) * 1e-6
    const flat = (list: readonly (readonly [Vec3, Vec3])[]) =>
      chained(
        list.map(([a, b]): [Place, Place] => [toPlane(plane, a), toPlane(plane, b)]),
        close,
      )
    const [front, back] = [flat(seen), flat(hidden)]
    if (!front.length && !back.length)
      throw new StepError('empty', 'The bodies have no edge that bends so much.', { tryThis: 'Allow a smaller angle.' })
    bodies[name] = outline(referenceOf(front))
    if (back.length) bodies[freeName(new Set([...names, name]), s.hidden)] = outline(referenceOf(back))
    const length = outlineFigures(outline(referenceOf(front))).length
    const closed = front.filter((r) => r.closed).length
    return {
      bodies,
      facts: { loops: closed, openRuns: front.length - closed, length, hiddenRuns: back.length },
      said: `${plural(front.length, 'run')} seen, ${plural(back.length, 'run')} hidden · ${mm(length, 1)}`,
    }
  },
})
