/** Where the time of a test run went: by part, and the slowest files. */
import { writeFileSync } from 'node:fs'
import path from 'node:path'
import { say } from '../setup.mjs'
import { results } from './tool.mjs'

const shown = 20

/** `parts`: name, seconds and files of each part that ran; `whole`: seconds of all, which overlap. */
export function tellTimes(parts, whole) {
  const files = parts.flatMap((p) => p.files.map((f) => ({ ...f, part: p.name })))
  const slowest = files.sort((a, b) => b.seconds - a.seconds)
  const row = (seconds, text) => say(`${seconds.toFixed(1).padStart(8)} s  ${text}`)
  say(`seconds by part; they overlap, all took ${Math.round(whole)} s`)
  for (const p of [...parts].sort((a, b) => b.seconds - a.seconds)) row(p.seconds, p.name)
  say(`the ${Math.min(shown, slowest.length)} slowest files`)
  for (const f of slowest.slice(0, shown)) row(f.seconds, f.file)
  writeFileSync(
    path.join(results, 'times.json'),
    JSON.stringify(
      { seconds: whole, parts: parts.map(({ name, seconds }) => ({ name, seconds })), files: slowest },
      null,
      1,
    ),
  )
}
