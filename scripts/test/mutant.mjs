/** One small change to one file of the core, put in while its source is loaded: the file itself is never touched. */

/** What the environment asks for: where in which file what stands instead. Null: nothing. */
const asked = process.env.GLUE_BENCH_MUTANT ? JSON.parse(process.env.GLUE_BENCH_MUTANT) : null

/** A source as it is tested: with the change, when it is the file that is changed. */
export const withMutant = (file, source) =>
  asked?.file === file ? source.slice(0, asked.start) + asked.text + source.slice(asked.end) : source
