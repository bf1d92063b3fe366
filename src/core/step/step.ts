/** A step: one definition from which the form, the dependency order, the command line, validation and the documentation follow. */
import type { z } from 'zod'
import type { Body, MeshBody, SolidBody } from '@/core/bodies/body'
import { isMesh } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import type { Work } from '@/core/base/work'

export const stages = ['bring-in', 'set-down', 'mend', 'convert', 'build', 'fit-up', 'prove', 'send-out'] as const
export type Stage = (typeof stages)[number]
export const stageTitles: Record<Stage, string> = {
  'bring-in': 'Bring in',
  'set-down': 'Set down',
  mend: 'Mend',
  convert: 'Convert',
  build: 'Build',
  'fit-up': 'Fit up',
  prove: 'Prove',
  'send-out': 'Send out',
}

export type Fact = string | number | boolean | null | readonly Fact[] | { readonly [key: string]: Fact | undefined }
export type Facts = { readonly [key: string]: Fact | undefined }

export interface StepResult {
  /** Bodies made or changed; null takes a body off the bench. */
  readonly bodies: Readonly<Record<string, Body | null>>
  readonly facts: Facts
  readonly warnings?: readonly string[]
  /** Files to send out. */
  readonly files?: readonly { readonly name: string; readonly bytes: Uint8Array }[]
  /** What changed, in one line for the recipe. */
  readonly said: string
}

export interface StepInput<S> {
  readonly settings: S
  readonly work: Work
  /** A body by name; throws when it is not there. */
  body(name: string): Body
  mesh(name: string): MeshBody
  solid(name: string): SolidBody
  /** Names on the bench before this step. */
  readonly names: ReadonlySet<string>
  file(name: string): Promise<Uint8Array>
}

export interface StepDefinition<Z extends z.ZodObject = z.ZodObject> {
  readonly kind: string
  /** Raised when the same settings give another result, so that cached results are not used. */
  readonly version: number
  readonly title: string
  readonly summary: string
  readonly settings: Z
  /** Set when the step gives names of its own to new bodies, so that its result depends on all names on the bench. */
  readonly namesItself?: true
  /** Set when the step copes with corners whose coordinates are no numbers; others are spared them. */
  readonly takesBadNumbers?: true
  run(input: StepInput<z.output<Z>>): Promise<StepResult>
}

export const defineStep = <Z extends z.ZodObject>(step: StepDefinition<Z>): StepDefinition<Z> => step

export const stageOf = (kind: string): Stage => kind.slice(0, kind.indexOf('/')) as Stage

/** Guards a new name: throws when a body of that name is on the bench. */
export function freeName(names: ReadonlySet<string>, name: string): string {
  if (names.has(name))
    throw new StepError('name-taken', `A body named "${name}" is on the bench already.`, {
      tryThis: 'Give the new one another name.',
    })
  return name
}

const seenSound = new WeakSet<object>()

/** Refuses a mesh with coordinates that are no numbers. */
export function requireNumbers(name: string, body: Body): Body {
  if (!isMesh(body) || seenSound.has(body.mesh)) return body
  const p = body.mesh.positions
  for (let i = 0; i < p.length; i++)
    if (!Number.isFinite(p[i]))
      throw new StepError('not-numbers', `"${name}" has corners whose coordinates are no numbers.`, {
        where: { body: name },
        tryThis: 'Run Mend all on it: it takes them out.',
      })
  seenSound.add(body.mesh)
  return body
}

export function requireMesh(name: string, body: Body): MeshBody {
  if (!isMesh(body))
    throw new StepError('wrong-kind', `"${name}" is a ${body.kind}; this step works on a mesh.`, {
      where: { body: name },
    })
  return body
}

export function requireSolid(name: string, body: Body): SolidBody {
  if (isMesh(body))
    throw new StepError('wrong-kind', `"${name}" is a mesh; this step works on a solid.`, {
      where: { body: name },
      tryThis: 'Pick an exact body.',
    })
  return body
}
