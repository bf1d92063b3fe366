/** A restore that is killed before, within and after each of its statements leaves the old or the new data, and the next one goes through. */
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { spawnSync } from 'node:child_process'
import path from 'node:path'
import pg from 'pg'
import { testCluster, type TestCluster } from '@/testing/cluster'
import { longRun, mostly } from '@/testing/long'

let cluster: TestCluster
let release: () => void
let file: string

const script = (name: string) => JSON.stringify(path.resolve('scripts', name))

/** Asks one database of the cluster; null where there is none or it takes nobody in. */
async function ask(name: string, text: string): Promise<string | null> {
  const client = new pg.Client({
    connectionString: Object.assign(new URL(cluster.url), { pathname: `/${name}` }).toString(),
  })
  client.on('error', () => {})
  try {
    await client.connect()
    const { rows } = await client.query<{ told: string }>(text)
    return rows[0]?.told ?? ''
  } catch {
    return null
  } finally {
    await client.end().catch(() => {})
  }
}
const markOf = (name: string) => ask(name, 'select told from marker')
const mark = (text: string) => ask('postgres', `update marker set told = '${text}' returning told`)

type When = 'before' | 'within' | 'after'

/** Restores in a process of its own that ends itself by SIGKILL at a statement; 0 for none. Says how many it gave and how it ended. */
function restore(killAt: number, when: When): { statements: number; killed: boolean; said: string } {
  const text = `
    import pg from 'pg'
    import { restoreFrom } from ${script('backup.mjs')}
    const plain = pg.Client.prototype.query
    let count = 0
    const end = () => { process.kill(process.pid, 'SIGKILL'); while (true); }
    pg.Client.prototype.query = function (...args) {
      const here = ++count === ${killAt}
      if (here && ${when === 'before'}) end()
      const result = plain.apply(this, args)
      if (here && ${when === 'within'}) setImmediate(end)
      return here ? result.then((r) => { end(); return r }) : result
    }
    await restoreFrom(${JSON.stringify(cluster.data)}, ${JSON.stringify(file)})
    console.log(count)`
  const run = spawnSync(process.execPath, ['--input-type=module', '-e', text], { encoding: 'utf8' })
  return { statements: Number(run.stdout), killed: run.signal === 'SIGKILL', said: run.stderr }
}

beforeAll(async () => {
  cluster = await testCluster()
  const { claim } = (await import(path.resolve('scripts/data-folder.mjs'))) as {
    claim(folder: string): { note(values: object): void; release(): void }
  }
  const own = claim(cluster.data)
  own.note({ database: cluster.url })
  release = () => own.release()
  await ask('postgres', `create table marker as select 'backed up'::text as told`)
  file = path.join(cluster.data, 'one.backup')
  const { backupTo } = (await import(path.resolve('scripts/backup.mjs'))) as {
    backupTo(folder: string, file: string): Promise<void>
  }
  await backupTo(cluster.data, file)
}, 60_000)
afterAll(async () => {
  release()
  await cluster.end()
})

describe('Restore', () => {
  it('killed at any statement', async () => {
    await mark('since')
    const whole = restore(0, 'before')
    expect(whole.said).toBe('')
    expect(await markOf('postgres')).toBe('backed up')
    expect(await markOf('before_restore')).toBe('since')
    const all = Array.from({ length: whole.statements }, (_, i) => i + 1)
    // The last but two is the one by which databases change places.
    for (const at of mostly(all, (k) => k === whole.statements - 2))
      for (const when of longRun ? (['before', 'within', 'after'] as const) : (['within'] as const)) {
        await mark('since')
        // Twice, as somebody who tries again is unlucky again; then to the end.
        for (const go of [1, 2]) {
          const { killed, said } = restore(at, when)
          expect({ at, when, said, killed }).toEqual({ at, when, said: '', killed: true })
          const live = await markOf('postgres')
          expect(['backed up', 'since']).toContain(live)
          // What was live since the last restore is there somewhere, whichever came to be live.
          expect([live, await markOf('before_restore')]).toEqual(expect.arrayContaining([go === 1 ? 'since' : live]))
        }
        expect(restore(0, when).said).toBe('')
        expect(await markOf('postgres')).toBe('backed up')
      }
  }, 600_000)
  it('leaves a live database that takes no connections as it was where the backup is damaged', async () => {
    await mark('since')
    await ask('template1', 'alter database postgres allow_connections false')
    const good = file
    file = path.resolve('package.json')
    expect(restore(0, 'before').said).toContain('is no backup')
    file = good
    expect(await markOf('postgres')).toBeNull()
    expect(
      await ask('template1', `select datallowconn::text as told from pg_database where datname = 'postgres'`),
    ).toBe('false')
    await ask('template1', 'alter database postgres allow_connections true')
    expect(await markOf('postgres')).toBe('since')
  })
  it('finds the only copy where an earlier version was killed between its two renamings', async () => {
    await mark('since')
    await ask(
      'template1',
      `select pg_terminate_backend(pid)::text as told from pg_stat_activity where datname = 'postgres'`,
    )
    await ask('template1', 'drop database if exists before_restore with (force)')
    await ask('template1', 'alter database postgres allow_connections false')
    await ask('template1', 'alter database postgres rename to before_restore')
    expect(await markOf('postgres')).toBeNull()
    expect(restore(0, 'before').said).toBe('')
    expect([await markOf('postgres'), await markOf('before_restore')]).toEqual(['backed up', 'since'])
  }, 60_000)
})
