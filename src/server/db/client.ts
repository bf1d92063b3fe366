/** The database connection, one pool a process. */
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { Pool } from 'pg'
import * as schema from './schema'

export type Db = NodePgDatabase<typeof schema>
/** The database, or a transaction of it. */
export type Tx = Pick<Db, 'select' | 'insert' | 'update' | 'delete' | 'execute'>

interface Shared {
  pool: Pool
  db: Db
}
const shelf = globalThis as { glueBenchDatabase?: Shared }

export function databaseUrl(): string {
  const url = process.env.GLUE_BENCH_DATABASE
  if (!url) throw new Error('GLUE_BENCH_DATABASE is not set: start with ./glue-bench start')
  return url
}

/** The shared pool; it reconnects by itself when the server comes back. */
export function database(most = 8): Shared {
  if (!shelf.glueBenchDatabase) {
    const pool = new Pool({
      connectionString: databaseUrl(),
      max: most,
      idleTimeoutMillis: 30_000,
      connectionTimeoutMillis: 10_000,
    })
    // An idle connection that the server drops is replaced; it must not end the process.
    pool.on('error', (error) => console.error('database connection lost:', error.message))
    pool.on('connect', (client) => client.on('error', () => {}))
    shelf.glueBenchDatabase = { pool, db: drizzle(pool, { schema }) }
  }
  return shelf.glueBenchDatabase
}

/** Ends the shared pool; who asks for the database after that gets a new one. */
export async function closeDatabase(): Promise<void> {
  const shared = shelf.glueBenchDatabase
  shelf.glueBenchDatabase = undefined
  await shared?.pool.end()
}
