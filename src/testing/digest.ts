/**
 * Any result as a short text: what tests keep of it, so that a change to a room shows wherever it lies. Numbers keep six digits; long rows of
 * them become their count, their sum and a sum weighted by place, so that nothing can trade places unseen.
 */
const digits = 6
const longest = 16
/** Longer words are left out: a body's own text has numbers to the last digit, which other builds of a kernel round otherwise. */
const longestWords = 400

const text = (v: number): string => {
  if (!Number.isFinite(v)) return String(v)
  // What is nought but for rounding is nought, whatever its sign.
  return Math.abs(v) < 1e-7 ? '0' : String(Number(v.toPrecision(digits)))
}

/** A number for each place in a row, spread evenly between 1 and 2 (multiples of the golden ratio). */
const weight = (i: number): number => 1 + ((i * 0.6180339887498949) % 1)

function row(values: ArrayLike<number>): string {
  if (values.length <= longest) return `[${Array.from(values, text).join(' ')}]`
  let [sum, weighted] = [0, 0]
  for (let i = 0; i < values.length; i++) {
    sum += values[i]
    weighted += weight(i) * values[i]
  }
  return `[${values.length}: ${text(sum)}, ${text(weighted)}]`
}

const isRow = (v: unknown): v is ArrayLike<number> =>
  (ArrayBuffer.isView(v) && !(v instanceof DataView)) ||
  (Array.isArray(v) && v.length > 0 && v.every((x) => typeof x === 'number'))

/** The text of a value. Functions are left out; sets and maps keep their order. */
export function digest(value: unknown): string {
  if (typeof value === 'number') return text(value)
  if (typeof value === 'string' && value.length > longestWords) return '"…"'
  if (typeof value === 'function') return ''
  if (value === null || typeof value !== 'object') return String(value)
  if (isRow(value)) return row(value)
  if (Array.isArray(value)) {
    const all: string[] = value.map(digest)
    return all.length <= 40 ? `[${all.join(', ')}]` : `[${all.length}: ${row(all.flatMap(codes))}]`
  }
  if (value instanceof Set) return digest([...(value as Set<unknown>)])
  if (value instanceof Map) return digest([...(value as Map<unknown, unknown>)])
  const entries = Object.entries(value).flatMap(([k, v]) =>
    v === undefined || typeof v === 'function' ? [] : [`${k}: ${digest(v)}`],
  )
  return `{${entries.join(', ')}}`
}

/** A number for a text, so that a long list of texts can be kept as a row. */
function codes(words: string): number[] {
  let h = 0
  for (let i = 0; i < words.length; i++) h = (h * 31 + words.charCodeAt(i)) % 1_000_003
  return [h]
}

/** What comes of a call, or the words of its refusal. */
export function outcome(call: () => unknown): unknown {
  try {
    return call()
  } catch (e) {
    return (e as Error).message
  }
}

/** The same of a call that takes its time. */
export async function outcomeOf(call: () => Promise<unknown>): Promise<unknown> {
  try {
    return await call()
  } catch (e) {
    return (e as Error).message
  }
}
