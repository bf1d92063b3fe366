/** The evaluation's store over the database. */
import { eq } from 'drizzle-orm'
import type { Body } from '@/core/bodies/body'
import { factsOf } from '@/core/kinds/registry'
import type { KeptResult, ResultStore } from '@/core/recipe/evaluate'
import type { Db } from '@/server/db/client'
import { results } from '@/server/db/schema'
import { getBlob, hasBlob, putBlob } from './blobs'

export class DatabaseStore implements ResultStore {
  constructor(private readonly db: Db) {}
  async result(key: string): Promise<KeptResult | null> {
    return (
      (await this.db.select({ result: results.result }).from(results).where(eq(results.key, key)))[0]?.result ?? null
    )
  }
  async keep(key: string, kind: string, result: KeptResult): Promise<void> {
    await this.db.insert(results).values({ key, kind, result }).onConflictDoNothing()
  }
  bytes(hash: string): Promise<Uint8Array> {
    return getBlob(this.db, hash)
  }
  async keepBytes(hash: string, bytes: Uint8Array, body?: Body): Promise<void> {
    if (await hasBlob(this.db, hash)) return
    await putBlob(this.db, hash, bytes, body && factsOf(body))
  }
}
