/** Walks the words and numbers of an ASCII file without making strings of them. */
import { damaged } from './model'

const powers = Float64Array.from({ length: 23 }, (_, i) => 10 ** i)

export class TextScanner {
  at = 0
  private after = 0
  line = 1
  constructor(readonly bytes: Uint8Array) {}

  /** Moves to the next word on this line; false at the line's end. A backslash at the line's end carries it on. */
  word(): boolean {
    const b = this.bytes
    for (;;) {
      const c = b[this.at]
      if (c === 92 && (b[this.at + 1] === 10 || b[this.at + 1] === 13)) {
        this.at += b[this.at + 1] === 13 && b[this.at + 2] === 10 ? 3 : 2
        this.line++
      } else if (c === 32 || c === 9 || c === 13) this.at++
      else return this.at < b.length && c !== 10
    }
  }

  /** Moves past the end of this line; false at the end of the file. */
  nextLine(): boolean {
    const b = this.bytes
    while (this.at < b.length && b[this.at] !== 10) this.at++
    if (this.at >= b.length) return false
    this.at++
    this.line++
    return this.at < b.length
  }

  /** Moves to the next word on this or a later line. */
  wordAnywhere(): boolean {
    for (;;) {
      if (this.word()) return true
      if (!this.nextLine()) return false
    }
  }

  private end(): number {
    const b = this.bytes
    let e = this.at
    while (e < b.length && b[e] !== 32 && b[e] !== 9 && b[e] !== 10 && b[e] !== 13) e++
    return e
  }

  /** The word here as text; at most 200 characters of it. */
  text(): string {
    const e = this.end()
    const s = String.fromCharCode(...this.bytes.subarray(this.at, Math.min(e, this.at + 200)))
    this.at = e
    return s
  }

  /** The rest of the line as text. */
  rest(): string {
    const b = this.bytes
    this.word()
    let e = this.at
    while (e < b.length && b[e] !== 10) e++
    const s = new TextDecoder().decode(b.subarray(this.at, Math.min(e, this.at + 500))).trim()
    this.at = e
    return s
  }

  /** The number here, correctly rounded: up to 15 digits and a small exponent directly (Clinger 1990), the rest by the platform. */
  number(): number {
    const b = this.bytes
    const from = this.at
    let i = from
    let negative = false
    if (b[i] === 45 || b[i] === 43) negative = b[i++] === 45
    let digits = 0,
      value = 0,
      point = 0,
      seen = 0
    for (let c = b[i]; c >= 48 && c <= 57; c = b[++i]) {
      value = value * 10 + (c - 48)
      seen++
      if (value > 0) digits++
    }
    if (b[i] === 46) {
      i++
      for (let c = b[i]; c >= 48 && c <= 57; c = b[++i]) {
        value = value * 10 + (c - 48)
        seen++
        point--
        if (value > 0) digits++
      }
    }
    let exponent = 0
    if (seen && (b[i] === 101 || b[i] === 69)) {
      exponent = this.exponent(i)
      i = this.after
    }
    const c = b[i]
    const ends = i >= b.length || c === 32 || c === 9 || c === 10 || c === 13
    const power = point + exponent
    if (seen && ends && digits <= 15 && power >= -22 && power <= 22) {
      this.at = i
      const v = power < 0 ? value / powers[-power] : value * powers[power]
      return negative ? -v : v
    }
    return this.oddNumber(from)
  }

  /** The power of ten that begins at an "e", 0 where no digits follow; `after` stands behind it then. */
  private exponent(e: number): number {
    const b = this.bytes
    let j = e + 1,
      down = false
    if (b[j] === 45 || b[j] === 43) down = b[j++] === 45
    const start = j
    let exponent = 0
    for (let c = b[j]; c >= 48 && c <= 57 && exponent < 10000; c = b[++j]) exponent = exponent * 10 + (c - 48)
    this.after = j > start ? j : e
    return down ? -exponent : exponent
  }

  /** A number that is long, very large or small, or none that is finite. Throws StepError `damaged-file`. */
  private oddNumber(from: number): number {
    const word = this.text()
    const v = /^[+-]?(nan|inf|infinity)/i.test(word) ? NaN : Number(word)
    if (word === '' || (Number.isNaN(v) && !/^[+-]?nan|^[+-]?inf/i.test(word))) {
      this.at = from
      throw damaged(`"${word.slice(0, 30)}" stands where a number should`, `line ${this.line}`)
    }
    return v
  }

  /** The next `count` numbers of this line. */
  numbers(count: number, what: string): number[] {
    const out: number[] = []
    for (let i = 0; i < count; i++) {
      if (!this.word()) throw damaged(`${what} has ${i} of ${count} numbers`, `line ${this.line}`)
      out.push(this.number())
    }
    return out
  }
}

/** A growing list of numbers in one typed array. */
export class Floats {
  data = new Float32Array(0)
  length = 0
  push3(x: number, y: number, z: number): void {
    if (this.length + 3 > this.data.length) {
      const wider = new Float32Array(Math.max(96, this.data.length * 2))
      wider.set(this.data)
      this.data = wider
    }
    this.data[this.length++] = x
    this.data[this.length++] = y
    this.data[this.length++] = z
  }
  done(): Float32Array {
    return this.data.slice(0, this.length)
  }
}

/** A growing list of vertex numbers. */
export class Indices {
  data = new Uint32Array(0)
  length = 0
  push3(a: number, b: number, c: number): void {
    if (this.length + 3 > this.data.length) {
      const wider = new Uint32Array(Math.max(96, this.data.length * 2))
      wider.set(this.data)
      this.data = wider
    }
    this.data[this.length++] = a
    this.data[this.length++] = b
    this.data[this.length++] = c
  }
  done(): Uint32Array {
    return this.data.slice(0, this.length)
  }
}
