/** What the three datum steps share. */
import type { Body, DatumBody } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import type { Touch, Touched } from '@/core/find/touch'
import { touched } from '@/core/find/touched'
import { sizeOf } from '@/core/kinds/registry'
import { bodyRef, lengthMm, touch } from '@/core/step/fields'
import { freeName, type Facts, type StepResult } from '@/core/step/step'
import { addScaled, cross, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'

/** How large it is drawn. */
export const drawnSize = () =>
  lengthMm('Drawn as large as', { min: 0.01, more: true, help: 'left empty: to suit the body it lies on' }).optional()

/** A size to draw a datum at that suits the body it was picked on, mm. */
export const drawnFor = (body: Body | null): number => {
  const most = body ? Math.max(...sizeOf(body)) : 0
  return most > 0 ? 1.2 * most : 40
}

const tidy = (v: Vec3): number[] => v.map((x) => Number(x.toFixed(9)))

/** A datum under a free name, with where it is in the facts. */
export function datumResult(
  names: ReadonlySet<string>,
  name: string,
  d: Omit<DatumBody, 'kind'>,
  facts: Facts,
  said: string,
): StepResult {
  const body: DatumBody = { kind: 'datum', ...d }
  const direction =
    d.datum === 'plane' ? { normal: tidy(d.direction) } : d.datum === 'axis' ? { direction: tidy(d.direction) } : {}
  return { bodies: { [freeName(names, name)]: body }, facts: { at: tidy(d.at), ...direction, ...facts }, said }
}

/** What was picked; throws in the maker's words when it was not. */
export function picked<T>(value: T | undefined, what: string): T {
  if (value !== undefined) return value
  throw new StepError('no-pick', `No ${what} is picked.`, { tryThis: `Click the ${what} on the bench.` })
}

/** Fields of two faces, on one body or on two, shown by some choices of the field `by`. */
export const twoFaceFields = (faces: string[], bodies = faces) => ({
  body: bodyRef('any', 'On body', { changes: false, when: { field: 'by', is: bodies } }).optional(),
  face: touch('Face', { on: 'body', means: ['plane'], when: { field: 'by', is: faces } }).optional(),
})
export const otherFaceFields = (faces: string[]) => ({
  other: bodyRef('any', 'Other body', {
    changes: false,
    when: { field: 'by', is: faces },
    help: 'left empty: the same body',
  }).optional(),
  otherFace: touch('Other face', {
    on: 'other',
    same: 'body',
    means: ['plane'],
    when: { field: 'by', is: faces },
  }).optional(),
})

/** The two faces that settings tell. */
export function twoFaces(
  s: { body?: string; face?: Touch; other?: string; otherFace?: Touch },
  body: (name: string) => Body,
): [Touched, Touched] {
  const on = picked(s.body, 'body')
  const other = s.other ?? on
  return [touched(on, body(on), picked(s.face, 'face')), touched(other, body(other), picked(s.otherFace, 'other face'))]
}

/** The line in which two planes meet, at its place nearest to the middle of where they were touched; null when they are parallel. */
export function whereMeet(
  a: { point: Vec3; normal: Vec3 },
  b: { point: Vec3; normal: Vec3 },
): { at: Vec3; way: Vec3 } | null {
  const line = cross(a.normal, b.normal)
  if (length(line) < 1e-6) return null
  const way = normalize(line)
  const c = dot(a.normal, b.normal),
    k = 1 - c * c
  const [d, e] = [dot(a.normal, a.point), dot(b.normal, b.point)]
  const on = addScaled(addScaled([0, 0, 0], a.normal, (d - c * e) / k), b.normal, (e - c * d) / k)
  const middle = addScaled(a.point, sub(b.point, a.point), 0.5)
  return { at: addScaled(on, way, dot(sub(middle, on), way)), way }
}
