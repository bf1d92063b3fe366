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

/** Tables whose records the parser reads: anything else between them it would wait for without end. */
const readTables = ['VPORT', 'LTYPE', 'LAYER']

/** Follows sections and tables line by line, so that one without its end is told where it begins. */
class Nesting {
  private section = false
  /** Name of the table that is open, its first line, and whether its name was read. */
  private table: { name: string; line: number } | null = null

  take(code: number, value: string, line: number): void {
    const { table } = this
    if (table && !table.name && code === 2) table.name = value
    if (code !== 0) return
    const stray = table && readTables.includes(table.name) && value !== 'ENDTAB' && value !== table.name
    if (stray || (table && ['TABLE', 'ENDSEC', 'EOF'].includes(value)))
      throw damaged(
        `the table that begins at line ${table!.line} holds "${value.slice(0, 20)}"`,
        `line ${line}`,
        'Export it again.',
      )
    if (this.section && (value === 'SECTION' || value === 'EOF'))
      throw damaged('a section has no end', `line ${line}`, 'Export it again.')
    if (value === 'SECTION') this.section = true
    else if (value === 'ENDSEC') this.section = false
    else if (value === 'TABLE' && this.section) this.table = { name: '', line }
    else if (value === 'ENDTAB') this.table = null
  }
}

/**
 * The text in pairs of code and value that the parser knows. Throws `damaged-file` at a code that is no number, and where a section or table
 * has no end.
 */
export function checked(text: string): string {
  const lines = text.split(/\r\n|\r|\n/)
  const out: string[] = []
  const nesting = new Nesting()
  for (let i = 0; i + 1 < lines.length; i += 2) {
    if (!/^\s*-?\d{1,5}\s*$/.test(lines[i])) {
      if (!lines.slice(i).some((l) => l.trim())) break
      throw damaged(`"${lines[i].slice(0, 20)}" stands where a group code should`, `line ${i + 1}`, 'Export it again.')
    }
    const code = Number(lines[i])
    nesting.take(code, lines[i + 1].trim(), i + 2)
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
