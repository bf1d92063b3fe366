/**
 * Databases change places. All new names are given in one transaction, so that whoever is killed at any moment leaves either the old or the
 * new one as the live database, open to connections as it was; the one before is dropped only when its successor is in place.
 */
import pg from 'pg'

/** What was live before the last restore, and what is on its way out. */
const before = 'before_restore'
const leaving = 'replaced_restore'
/** Where a backup is read into. */
export const incoming = 'restoring'

/** The address of another database of the same server. */
export const databaseAt = (url, name) => Object.assign(new URL(url), { pathname: `/${name}` }).toString()

/** Calls `work` with a client that is connected to none of the databases that change places. */
export async function beside(url, work) {
  const client = new pg.Client({ connectionString: databaseAt(url, 'template1') })
  await client.connect()
  try {
    return await work(client)
  } finally {
    await client.end()
  }
}

const named = async (client, name) =>
  (await client.query('select 1 from pg_database where datname = $1', [name])).rows.length > 0

/** An empty database to read a backup into; what an earlier try left of one goes. */
export async function makeIncoming(client) {
  await client.query(`drop database if exists ${incoming} with (force)`)
  await client.query(`create database ${incoming} template template0`)
}

export const dropIncoming = (client) => client.query(`drop database if exists ${incoming} with (force)`)

/**
 * Names the live database back where an interrupted restore of an earlier version left none: what it had put aside is the only copy.
 *
 * @returns whether it did
 */
export async function recoverLive(client, live) {
  if ((await named(client, live)) || !(await named(client, before))) return false
  await client.query(`alter database ${before} rename to ${live}`)
  await client.query(`alter database ${live} allow_connections true`)
  return true
}

/** How often those who use a database are sent away before it is given up. */
const tries = 5

/**
 * The incoming database becomes the live one; what was live is kept as `before_restore`, and what was kept before goes.
 * Whoever connects while names change waits for the lock that the renaming takes, and finds the new one.
 */
export async function exchange(client, live) {
  await client.query(`drop database if exists ${leaving} with (force)`)
  const names = [...((await named(client, before)) ? [[before, leaving]] : []), [live, before], [incoming, live]]
  const away = names
    .map(([from]) => `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${from}';`)
    .join(' ')
  const renamed = names.map(([from, to]) => `alter database ${from} rename to ${to};`).join(' ')
  for (let i = 1; ; i++)
    try {
      await client.query(`begin; ${away} ${renamed} commit`)
      break
    } catch (error) {
      await client.query('rollback')
      // 55006: somebody is still connected.
      if (i === tries || error.code !== '55006') throw error
    }
  await client.query(`drop database if exists ${leaving} with (force)`)
}
