/** The text of a DXF file: pairs of a group code and a value, a line each (published DXF reference, from memory). */
import { damaged } from '../model'

/** The weights of rational splines, which the parser passes over: it hands the code to whoever asks for a kind of entity. */
export function weightsOf(text: string): number[][] {
  const out: number[][] = []
  const lines = text.split(/\r\n|\r|\n/)
  let current: number[] | null = null
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = lines[i].trim()
    if (code === '0') {
      current = lines[i + 1].trim() === 'SPLINE' ? [] : null
      if (current) out.push(current)
    } else if (code === '41' && current) current.push(Number(lines[i + 1]))
  }
  return out
}

/** Ranges of group codes that the parser has a type for; what else stands in a file says nothing of its drawing. */
const ranges = [
  [0, 59],
  [60, 79],
  [90, 99],
  [100, 100],
  [102, 102],
  [105, 105],
  [110, 149],
  [160, 179],
  [210, 239],
  [270, 299],
  [300, 399],
  [400, 459],
  [460, 481],
  [999, 1071],
]

/** The text in pairs of code and value that the parser knows. Throws `damaged-file` at a code that is no number. */
export function checked(text: string): string {
  const lines = text.split(/\r\n|\r|\n/)
  const out: string[] = []
  for (let i = 0; i + 1 < lines.length; i += 2) {
    if (!/^\s*-?\d{1,5}\s*$/.test(lines[i])) {
      if (!lines.slice(i).some((l) => l.trim())) break
      throw damaged(`"${lines[i].slice(0, 20)}" stands where a group code should`, `line ${i + 1}`, 'Export it again.')
    }
    const code = Number(lines[i])
    if (ranges.some(([a, b]) => code >= a && code <= b)) out.push(lines[i].trim(), lines[i + 1])
    if (code === 0 && lines[i + 1].trim() === 'EOF') return `${out.join('\n')}\n`
  }
  throw damaged('it is cut off before its end', `line ${lines.length}`, 'Export it again.')
}

/** Names of entities in the text with how many there are, sections ENTITIES and BLOCKS. */
export function namesIn(text: string): Map<string, number> {
  const out = new Map<string, number>()
  let inside = false
  const lines = text.split(/\r\n|\r|\n/)
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = lines[i].trim(),
      value = lines[i + 1].trim()
    if (code === '2' && lines[i - 1]?.trim() === 'SECTION') inside = value === 'ENTITIES' || value === 'BLOCKS'
    else if (code === '0') {
      if (value === 'ENDSEC') inside = false
      else if (inside) out.set(value, (out.get(value) ?? 0) + 1)
    }
  }
  return out
}
