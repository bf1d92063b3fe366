/** The evaluation's store over the database. */
import { eq, sql } from 'drizzle-orm'
import type { Body } from '@/core/bodies/body'
import { factsOf } from '@/core/kinds/registry'
import { StoreAway, type KeptResult, type ResultStore } from '@/core/recipe/evaluate'
import { isAway } from '@/server/db/away'
import type { Db } from '@/server/db/client'
import { results } from '@/server/db/schema'
import { getBlob, touchBlob, putBlob } from './blobs'

/** A database that is away is no fault of the step that asked. */
async function reaching<T>(ask: () => Promise<T>): Promise<T> {
  try {
    return await ask()
  } catch (error) {
    throw isAway(error) ? new StoreAway(error instanceof Error ? error.message : 'the database is away') : error
  }
}

export class DatabaseStore implements ResultStore {
  constructor(private readonly db: Db) {}
  result(key: string): Promise<KeptResult | null> {
    return reaching(() => this.find(key))
  }
  private async find(key: string): Promise<KeptResult | null> {
    const [row] = await this.db
      .select({ result: results.result, old: sql<boolean>`${results.created} < now() - interval '10 minutes'` })
      .from(results)
      .where(eq(results.key, key))
    // What is used again is young again: it must not be pruned before the run that uses it says so.
    if (row?.old)
      await this.db
        .update(results)
        .set({ created: sql`now()` })
        .where(eq(results.key, key))
    return row?.result ?? null
  }
  async keep(key: string, kind: string, result: KeptResult): Promise<void> {
    await reaching(() => this.db.insert(results).values({ key, kind, result }).onConflictDoNothing())
  }
  bytes(hash: string): Promise<Uint8Array> {
    return reaching(() => getBlob(this.db, hash))
  }
  async keepBytes(hash: string, bytes: Uint8Array, body?: Body): Promise<void> {
    const facts = body && factsOf(body)
    await reaching(async () => {
      if (!(await touchBlob(this.db, hash))) await putBlob(this.db, hash, bytes, facts)
    })
  }
}
