/** Which tests are left to the long run (`./glue-bench test long`): what is heavy, and shows a law that smaller cases show as well. */
import { it } from '@jest/globals'

export const longRun = process.env.GLUE_BENCH_LONG === '1'

/** A test of the long run only. */
export const itLong = longRun ? it : it.skip

/** All cases in the long run, otherwise those that are named. */
export const mostly = <T>(all: readonly T[], few: (c: T) => boolean): T[] => all.filter((c) => longRun || few(c))
