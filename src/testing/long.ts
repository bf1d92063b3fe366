/** Which tests are left to the long run (`./glue-bench test long`): what is heavy, and shows a law that smaller cases show as well. */
import { it } from '@jest/globals'

export const longRun = process.env.GLUE_BENCH_LONG === '1'

/** A test of the long run only. */
export const itLong = longRun ? it : it.skip

/** All cases in the long run, otherwise those that are named. */
export const mostly = <T>(all: readonly T[], few: (c: T) => boolean): T[] => all.filter((c) => longRun || few(c))

/**
 * A test of each run where it is one of those named, else of the long run: skipped and not left out, so that Jest does not take what it keeps
 * of such a test for something that nobody asks for. For tests outside of `describe`: the runner knows a skipped one by its title alone.
 */
export const itUsually = (usual: boolean) => (usual || longRun ? it : it.skip)
