/** Installs what is missing: npm packages by the lock file, Debian packages by apt-get. */
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs'
import path from 'node:path'

export const root = path.resolve(import.meta.dirname, '..')
export const say = (text) => process.stderr.write(`${text}\n`)

export class Problem extends Error {}

/**
 * Installs by the lock file when that is not the one installed. Not `npm ci`: it refuses a lock file made where a mirror
 * does not carry the optional binaries of other platforms.
 */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex')
  const mark = path.join(root, 'node_modules', '.glue-bench-lock')
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return
  say('installing npm packages')
  const done = spawnSync('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 2, 2],
    env: { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1', NODE_ENV: '' },
  })
  if (done.status !== 0) throw new Problem('The npm packages could not be installed.')
  writeFileSync(mark, lock)
}

export function postgresBin() {
  const base = '/usr/lib/postgresql'
  if (!existsSync(base)) return null
  const version = readdirSync(base)
    .filter((v) => existsSync(path.join(base, v, 'bin', 'initdb')))
    .sort((a, b) => Number(b) - Number(a))[0]
  return version ? path.join(base, version, 'bin') : null
}

/** Installs Debian packages; as another user than root through sudo where that needs no pass word. */
export function installDebian(packages) {
  say(`installing ${packages.join(', ')}`)
  const asRoot = process.getuid() === 0
  const sudo = !asRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0
  if (!asRoot && !sudo)
    throw new Problem(`Missing: ${packages.join(', ')}. Install it once as root: apt-get install ${packages.join(' ')}`)
  const run = (args) =>
    spawnSync(asRoot ? 'apt-get' : 'sudo', asRoot ? args : ['-n', 'apt-get', ...args], {
      stdio: ['ignore', 'ignore', 2],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status === 0
  run(['update', '-qq'])
  if (!run(['install', '-y', '-qq', '--no-install-recommends', ...packages]))
    throw new Problem(`${packages.join(', ')} could not be installed.`)
}

export function needPostgres() {
  if (!postgresBin()) installDebian(['postgresql'])
  const bin = postgresBin()
  if (!bin) throw new Problem('PostgreSQL is installed but its programs were not found.')
  return bin
}

export function needChromium() {
  const at = '/usr/bin/chromium'
  if (!existsSync(at)) installDebian(['chromium'])
  if (!existsSync(at)) throw new Problem('Chromium is installed but was not found.')
  return at
}

export function ensureDir(dir) {
  mkdirSync(dir, { recursive: true })
  return dir
}
