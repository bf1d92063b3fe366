/** What the features on exact bodies share. */
import type { ExactBody } from '@/core/bodies/body'
import { num, volumeText } from '@/core/base/say'
import { resolveParts, type PartReference } from '@/core/find/part'
import { StepError } from '@/core/base/step-error'
import type { Facts, StepResult } from '@/core/step/step'

type Refs = 'all' | readonly PartReference[]

/** Numbers of the edges that are picked: by themselves, and as edges of faces. Throws StepError `no-part`. */
export function edgesPicked(name: string, body: ExactBody, edges: Refs | undefined, faces: Refs | undefined): number[] {
  const out = new Set<number>()
  if (edges) for (const p of resolveParts(name, body, 'edge', edges)) out.add(p.index)
  if (faces) {
    const on = new Set(resolveParts(name, body, 'face', faces).map((p) => p.index))
    body.parts.edges.forEach((e, i) => {
      if (e.faces.some((f) => on.has(f))) out.add(i)
    })
  }
  if (!out.size)
    throw new StepError('no-part', `No edge of "${name}" is picked.`, {
      where: { body: name },
      tryThis: 'Click the edges, or a face whose edges are meant.',
    })
  return [...out].sort((a, b) => a - b)
}

/** The changed body with its figures. */
export function changed(
  name: string,
  before: ExactBody,
  body: ExactBody,
  words: string,
  facts: Facts = {},
): StepResult {
  const by = body.facts.volume - before.facts.volume
  return {
    bodies: { [name]: body },
    facts: { volume: body.facts.volume, volumeChange: by, faces: body.facts.faces, edges: body.facts.edges, ...facts },
    said: `${words} · ${by < 0 ? '−' : '+'} ${volumeText(Math.abs(by))}`,
  }
}

/** Sizes in words, each once. */
export const sizes = (list: readonly number[]): string => [...new Set(list)].map((v) => num(v)).join(' and ')
