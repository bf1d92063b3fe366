/** The one kind of failure a step may end in: a code for scripts and a sentence for the maker. */
import { isDiskFull } from './disk-full'

export interface ErrorPlace {
  readonly point?: readonly [number, number, number]
  readonly body?: string
}

/** A setting and the value of it that works. */
export interface Offer {
  readonly set: string
  readonly to: number
}

export class StepError extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly details: { readonly where?: ErrorPlace; readonly tryThis?: string; readonly offer?: Offer } = {},
  ) {
    super(message)
    this.name = 'StepError'
  }
}

/** Thrown where work finds that it was asked to stop. */
export class Stopped extends Error {
  constructor() {
    super('Stopped.')
    this.name = 'Stopped'
  }
}

/** A failure in the words a recipe, a screen or a report carries. Unknown failures keep no stack. */
export interface ErrorReport {
  code: string
  message: string
  tryThis?: string
  where?: ErrorPlace
  offer?: Offer
}

/** Any failure in the words a maker reads; failures of other code keep neither stack nor names. */
export function reportError(error: unknown): ErrorReport {
  if (error instanceof StepError)
    return {
      code: error.code,
      message: error.message,
      ...(error.details.tryThis ? { tryThis: error.details.tryThis } : {}),
      ...(error.details.offer ? { offer: error.details.offer } : {}),
      ...(error.details.where ? { where: error.details.where } : {}),
    }
  if (error instanceof Stopped) return { code: 'stopped', message: 'Stopped before it was done.' }
  if (isDiskFull(error))
    return {
      code: 'disk-full',
      message: 'The disk is full: this could not be kept. What was kept before is still there.',
      tryThis: 'Free some space, then try again.',
    }
  const text = error instanceof Error ? error.message : String(error)
  if (/memory|allocation|Invalid typed array length|Array buffer/i.test(text))
    return {
      code: 'out-of-memory',
      message: 'This step needs more memory than there is.',
      tryThis: 'Simplify the mesh first, or ask for a coarser result.',
    }
  return {
    code: 'unexpected',
    message: `This step failed in a way it should not: ${text}`,
    tryThis: 'Run Check-up on its bodies, mend what it finds, and try again.',
  }
}
