/** The opening of a file, as formats look at it to know their own. */

/** How much of a file is looked at, bytes. */
const reach = 4096

export interface Opening {
  readonly bytes: Uint8Array
  /** The opening as Latin-1 text. */
  readonly text: string
  /** Words at the beginnings of lines, comments left out, up to the first byte that is no text. */
  readonly words: readonly string[]
}

export const isSpace = (c: number): boolean => c === 32 || (c >= 9 && c <= 13)

function lineWords(bytes: Uint8Array): string[] {
  const words: string[] = []
  const end = Math.min(bytes.length, reach)
  for (let i = 0; i < end; i++) {
    while (i < end && isSpace(bytes[i])) i++
    const from = i
    while (i < end && !isSpace(bytes[i])) {
      if (bytes[i] === 0 || bytes[i] > 126) return words
      i++
    }
    if (i > from && bytes[from] !== 35) words.push(String.fromCharCode(...bytes.subarray(from, Math.min(i, from + 24))))
    while (i < end && bytes[i] !== 10) i++
  }
  return words
}

/** Takes time in proportion to a fixed length, whatever the bytes are. */
export const openingOf = (bytes: Uint8Array): Opening => ({
  bytes,
  text: new TextDecoder('latin1').decode(bytes.subarray(0, reach)),
  words: lineWords(bytes),
})
