/** Open data that Debian packages carry, fetched when it is asked for and unpacked once beside the system's temporary files. */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'

/** The folder of a package's files. @throws Error where it cannot be fetched */
export function unpackedPackage(name: string): string {
  const home = path.join(tmpdir(), 'glue-bench-open-parts')
  const to = path.join(home, name)
  if (existsSync(to)) return to
  mkdirSync(home, { recursive: true })
  spawnSync('apt-get', ['download', name], { cwd: home, stdio: 'ignore', timeout: 60_000 })
  const file = readdirSync(home).find((f) => f.startsWith(`${name}_`))
  if (!file || spawnSync('dpkg-deb', ['-x', file, to], { cwd: home, stdio: 'ignore' }).status !== 0)
    throw new Error(`The Debian package ${name} could not be fetched by apt-get download.`)
  return to
}

/** The folder into which an archive of a package is unpacked. */
export function unpackedArchive(name: string, archive: string): string {
  const at = path.join(unpackedPackage(name), archive)
  const to = at.replace(/\.tar\.gz$/, '')
  if (existsSync(to)) return to
  mkdirSync(to, { recursive: true })
  if (spawnSync('tar', ['xzf', at, '-C', to], { stdio: 'ignore' }).status !== 0)
    throw new Error(`The archive ${archive} of the Debian package ${name} could not be unpacked.`)
  return to
}
