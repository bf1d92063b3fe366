/** Runs one program of a test part: what it says goes to a file, and is shown when it fails. */
import { spawn } from 'node:child_process'
import { createWriteStream, readFileSync } from 'node:fs'
import path from 'node:path'
import { root, say } from '../setup.mjs'

export const results = path.join(root, 'test-results')

/** Longest text of a failed program that is shown, characters. */
const mostShown = 20_000

/** Gives the exit code. Not a blocking call: other parts go on, and a bench under test is watched meanwhile. */
export function runNode(name, args, env = {}) {
  const log = path.join(results, `${name}.log`)
  return new Promise((resolve) => {
    const child = spawn(process.execPath, args, {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ...env },
    })
    const out = createWriteStream(log)
    child.stdout.pipe(out, { end: false })
    child.stderr.pipe(out, { end: false })
    child.once('close', (code) =>
      out.end(() => {
        if (code !== 0) say(readFileSync(log, 'utf8').slice(-mostShown))
        resolve(code ?? 1)
      }),
    )
  })
}

/** A program of a package that passes or fails as a whole. */
export async function tool(name, program, args) {
  const code = await runNode(name, [path.join(root, 'node_modules', program), ...args])
  return code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }
}
