/** Every file format. A new one is its own file and a line here: Open files, Send out, the command line and the file dialog follow. */
import { dxfFormat } from './dxf'
import type { FileFormat } from './format'
import { objFormat } from './obj'
import { offFormat } from './off'
import { openingOf } from './opening'
import { plyFormat } from './ply'
import { stepFormat } from './step'
import { stlFormat } from './stl'
import { svgFormat } from './svg'
import { threeMfFormat } from './three-mf'

/** In the order in which they are named to people. */
export const formats: readonly FileFormat[] = [
  stlFormat,
  objFormat,
  plyFormat,
  offFormat,
  threeMfFormat,
  stepFormat,
  dxfFormat,
  svgFormat,
]

/** The format that a file name's ending means, or null. */
export function formatByEnding(name: string): FileFormat | null {
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1].toLowerCase()
  return (ending && formats.find((f) => f.endings.includes(ending))) || null
}

/** The format of a file, told by its opening; the name's ending decides only where that leaves a doubt. Null: none of these. */
export function formatOf(bytes: Uint8Array, name: string): FileFormat | null {
  const opening = openingOf(bytes)
  let best: FileFormat | null = null
  let sure = 0
  for (const f of formats) {
    const s = f.sniff(opening)
    if (s > sure) [best, sure] = [f, s]
  }
  return best ?? formatByEnding(name)
}

/** Endings as a file dialog takes them. */
export const acceptedEndings = formats.flatMap((f) => f.endings.map((e) => `.${e}`)).join(',')

const either = (list: readonly string[]) => list.join(', ').replace(/, ([^,]*)$/, ' or $1')

/** The endings to choose from, in words: bodies first, then outlines. */
export const endingsInWords = (): string => {
  const of = (outlines: boolean) =>
    either(formats.filter((f) => (f.holds === 'outlines') === outlines).map((f) => `.${f.endings[0]}`))
  return `${of(false)}, or for outlines in ${of(true)}`
}

/** All titles, in words. */
export const titlesInWords = (): string => either(formats.map((f) => f.title))
