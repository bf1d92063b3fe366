/** What a file may ask of its reader at most. Each limit is far above honest files, and said in a sentence. */
import { StepError } from '@/core/base/step-error'
import { many } from '@/core/base/say'

/** Objects or groups that a file may hold. */
export const mostObjects = 20_000
/** Places that components may put objects at, empty ones counted. */
export const mostInstances = 50_000
export const mostTriangles = 20_000_000
/** Triangles that the components of a package of so many bytes may place, repeated ones counted: a small one makes no gigabytes. */
export const mostPlaced = (bytes: number): number => Math.min(mostTriangles, 1_000_000 + 200 * bytes)
/** How deep XML elements may stand in one another. */
export const deepest = 64
/** Unpacked bytes of a package: at most so many, and at most so many times the file's size but for a few megabytes. */
export const mostUnpacked = 2 ** 31,
  mostUnpackedTimes = 40,
  alwaysUnpacked = 48 * 2 ** 20

/** Coordinates beyond this are no sizes of parts in any unit: they are noise, and break single precision. */
export const largestCoordinate = 1e9

export const tooMuch = (what: string, most: number): StepError =>
  new StepError('too-large', `The file holds more than ${many(most)} ${what}: that is refused.`, {
    tryThis: 'Split it, or export only the parts that are needed.',
  })
