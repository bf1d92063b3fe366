/** A step: one definition from which the form, the tray, the recipe's words, the dependency order, the command line, validation and the documentation follow. */
import type { z } from 'zod'
import type { Facts } from '@/core/base/facts'
import { one } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { Work } from '@/core/base/work'
import { isTaken } from '@/core/find/taken'
import { isMesh, type Body, type ExactBody, type MeshBody } from '@/core/bodies/body'
import type { Surface } from '@/core/kinds/kind'
import { coordinatesOf, kindOf, requireCapability } from '@/core/kinds/registry'
import type { FactLine } from './facts'
import { fieldsOf, fits, type FieldInfo } from './fields'
import { proved } from './proved'
import { withTaken } from './taken'

export type { Fact, Facts } from '@/core/base/facts'

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

/** The bodies a step works on, asked for by name. Each throws a StepError in the maker's words when it cannot give what is asked. */
export interface Bench {
  body(name: string): Body
  /** A body of triangles. */
  mesh(name: string): MeshBody
  /** A body with an exact shape. */
  exact(name: string): ExactBody
  /** The triangles of any body with a skin, within a chord tolerance, mm. */
  surface(name: string, chord: number): Promise<Surface>
}

export interface StepInput<S> extends Bench {
  readonly settings: S
  readonly work: Work
  /** Names on the bench before this step. */
  readonly names: ReadonlySet<string>
  /** Set where only a rough look at what comes out is wanted, at once. */
  readonly coarse?: true
  file(name: string): Promise<Uint8Array>
}

export interface StepDefinition<Z extends z.ZodObject = z.ZodObject> {
  /** stage/verb */
  readonly kind: string
  /** Raised when the same settings give another result, so that kept results are not used. */
  readonly version: number
  readonly title: string
  /** What a recipe card says was done, before its subject: "Closed holes in". */
  readonly past: string
  readonly summary: string
  /** Its place among the tools of its stage, low numbers first. */
  readonly order: number
  /** Its groups in the tray of a stage with many tools; a tool may stand in several. */
  readonly group?: string | readonly string[]
  /** It takes long enough that its ghost is asked for. */
  readonly slow?: true
  /** It is quick enough that its ghost may run in the browser's worker, on the same core. */
  readonly live?: true
  /** It takes long, but can give a rough look at once: that is its ghost in the browser, on bodies of up to so many triangles. */
  readonly coarseUpTo?: number
  /** Triangles of a body up to which its ghost is made there; left out: what any quick step can take. */
  readonly liveUpTo?: number
  /** How long it may take, ms, with a file of so many bytes: a damaged one may send a reader in circles. */
  patience?(bytes: number): number
  readonly settings: Z
  /** The facts that cards show, in their order. */
  readonly facts?: readonly FactLine[]
  /** What the step is about, for its card; left out: its file, its new name, or its bodies. */
  subject?(settings: Readonly<Record<string, unknown>>): string
  /** Version of the settings' shape, 1 when left out; older settings go through `upgrade`. */
  readonly shape?: number
  upgrade?(settings: Record<string, unknown>, from: number): Record<string, unknown>
  /** Key of the setting whose body the new one takes the place of: that one is shown faint from then on. */
  readonly standsFor?: string
  /** Set when the step gives names of its own to new bodies, so that its result depends on all names on the bench. */
  readonly namesItself?: true
  /** Set when the step copes with corners whose coordinates are no numbers; others are spared them. */
  readonly takesBadNumbers?: true
  run(input: StepInput<z.output<Z>>): Promise<StepResult>
}

export const defineStep = <Z extends z.ZodObject>(step: StepDefinition<Z>): StepDefinition<Z> => step

/** A step whose settings type is known only at run time; each is checked by its own schema before it runs. */
export type AnyStep = StepDefinition<z.ZodObject>

/** The stage of a step kind. */
export const stageOf = (kind: string): Stage => kind.slice(0, kind.indexOf('/')) as Stage

/** Guards a new name: throws when a body of that name is on the bench. */
export function freeName(names: ReadonlySet<string>, name: string): string {
  if (names.has(name))
    throw new StepError('name-taken', `A body named "${name}" is on the bench already.`, {
      tryThis: 'Give the new one another name.',
    })
  return name
}

/** A name as a body may carry it: no control characters, not the one name that objects of the language keep for themselves. */
export const bodyName = (wanted: string): string => {
  const name = wanted
    .replace(/[\u0000-\u001f\u007f]/g, ' ')
    .trim()
    .slice(0, 80)
  return name === '__proto__' ? 'proto' : name || 'body'
}

/** Gives free names one after the other: a name that is taken gets the next number. Takes the same time for each, however many are alike. */
export function namer(taken: ReadonlySet<string>): (wanted: string) => string {
  const used = new Set(taken)
  const next = new Map<string, number>()
  return (wanted) => {
    const plain = bodyName(wanted)
    let name = plain
    if (used.has(name)) {
      let i = next.get(plain) ?? 2
      while (used.has(`${plain} ${i}`)) i++
      next.set(plain, i + 1)
      name = `${plain} ${i}`
    }
    used.add(name)
    return name
  }
}

const seenSound = new WeakSet<object>()

/** Refuses a body with coordinates that are no numbers. */
function requireNumbers(name: string, body: Body): Body {
  if (seenSound.has(body)) return body
  const p = coordinatesOf(body)
  if (p)
    for (let i = 0; i < p.length; i++)
      if (!Number.isFinite(p[i]))
        throw new StepError('not-numbers', `"${name}" has corners whose coordinates are no numbers.`, {
          where: { body: name },
          tryThis: 'Run Mend all on it: it takes them out.',
        })
  seenSound.add(body)
  return body
}

/** What the settings ask of each body they name, by the fields that name it. */
function askedOf(definition: Pick<AnyStep, 'settings'>, values: Readonly<Record<string, unknown>>) {
  const asked = new Map<string, FieldInfo[]>()
  for (const { key, info } of fieldsOf(definition.settings)) {
    if (info.field !== 'body' && info.field !== 'bodies') continue
    const v = values[key]
    for (const name of Array.isArray(v) ? (v as string[]) : typeof v === 'string' ? [v] : [])
      asked.set(name, [...(asked.get(name) ?? []), info])
  }
  return asked
}

/** Refuses a body that a field of the settings does not take. */
function requireFit(name: string, body: Body, infos: readonly FieldInfo[]): void {
  for (const info of infos) {
    if (fits(info, body.kind)) continue
    if (info.can) requireCapability(name, body, info.can)
    const kinds = info.kinds ?? []
    throw new StepError(
      'wrong-kind',
      `"${name}" is ${one(kindOf(body).title)}; this step works on ${kinds.map(one).join(' or ')}.`,
      {
        where: { body: name },
        tryThis: `Pick ${kinds.map(one).join(' or ')}.`,
      },
    )
  }
}

/** The bench as a step sees it, over any way of finding a body by name; bodies that its settings do not take are refused. */
export function benchOf(
  definition: Pick<AnyStep, 'takesBadNumbers' | 'settings'>,
  values: Readonly<Record<string, unknown>>,
  find: (name: string) => Body,
): Bench {
  const asked = askedOf(definition, values)
  const body = (name: string) => {
    const b = find(name)
    requireFit(name, b, asked.get(name) ?? [])
    return definition.takesBadNumbers ? b : requireNumbers(name, b)
  }
  return {
    body,
    mesh(name) {
      const b = body(name)
      if (isMesh(b)) return b
      throw new StepError('wrong-kind', `"${name}" is ${one(kindOf(b).title)}; this step works on a mesh.`, {
        where: { body: name },
        tryThis: 'Pick a mesh.',
      })
    },
    exact(name) {
      const b = body(name)
      return requireCapability(name, b, 'exact').exact!(b)
    },
    surface(name, chord) {
      const b = body(name)
      return requireCapability(name, b, 'surface').surface!(b, chord)
    },
  }
}

/**
 * Runs a step on bodies found by name: what its settings take from bodies is put in as numbers first.
 * Throws StepError in the maker's words.
 */
export async function runOn(
  definition: AnyStep,
  settings: Readonly<Record<string, unknown>>,
  find: (name: string) => Body,
  rest: Pick<StepInput<unknown>, 'work' | 'names' | 'file' | 'coarse'>,
): Promise<StepResult> {
  const numbers = withTaken(definition.settings, settings, find)
  const given = new Set<Body>()
  const seen = (name: string) => {
    const body = find(name)
    given.add(body)
    return body
  }
  const made = await definition.run({ ...benchOf(definition, numbers, seen), settings: numbers, ...rest })
  const result = rest.coarse ? made : proved(made, (body) => given.has(body), !!definition.takesBadNumbers)
  const taken = Object.keys(numbers).filter((k) => isTaken(settings[k]))
  if (!taken.length) return result
  // Where what was taken lies: handles stand there.
  return {
    ...result,
    facts: { ...result.facts, taken: Object.fromEntries(taken.map((k) => [k, numbers[k] as number[]])) },
  }
}
