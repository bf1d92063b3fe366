/** Content-addressed bytes in PostgreSQL. */
import { eq, inArray, sql } from 'drizzle-orm'
import { currentFacts } from '@/core/kinds/kept-facts'
import type { BodyFacts } from '@/core/kinds/kind'
import type { Db } from '@/server/db/client'
import { blobChunks, blobs } from '@/server/db/schema'
import { requireSpace } from './space'

const chunkSize = 4 << 20

export async function hasBlob(db: Db, hash: string): Promise<boolean> {
  return (await db.select({ hash: blobs.hash }).from(blobs).where(eq(blobs.hash, hash))).length > 0
}

/** Whether some bytes are a body, of which facts are kept. */
export async function isBody(db: Db, hash: string): Promise<boolean> {
  const [row] = await db.select({ summary: blobs.summary }).from(blobs).where(eq(blobs.hash, hash))
  return !!row?.summary
}

/** Says that bytes are wanted again, so that they are not pruned before whoever wants them has said so for good. Gives whether they are there. */
export async function touchBlob(db: Db, hash: string): Promise<boolean> {
  return (
    (
      await db
        .update(blobs)
        .set({ created: sql`now()` })
        .where(eq(blobs.hash, hash))
        .returning({ hash: blobs.hash })
    ).length > 0
  )
}

export async function putBlob(db: Db, hash: string, bytes: Uint8Array, summary?: BodyFacts): Promise<void> {
  if (await touchBlob(db, hash)) {
    if (summary) await db.update(blobs).set({ summary }).where(eq(blobs.hash, hash))
    return
  }
  await requireSpace(bytes.length)
  await db.transaction(async (tx) => {
    const made = await tx
      .insert(blobs)
      .values({ hash, size: bytes.length, summary })
      .onConflictDoNothing()
      .returning({ hash: blobs.hash })
    if (!made.length) return // another process was first
    for (let part = 0; part * chunkSize < bytes.length || part === 0; part++) {
      await tx
        .insert(blobChunks)
        .values({ hash, part, data: Buffer.from(bytes.subarray(part * chunkSize, (part + 1) * chunkSize)) })
    }
  })
}

export async function blobSize(db: Db, hash: string): Promise<number | null> {
  return (await db.select({ size: blobs.size }).from(blobs).where(eq(blobs.hash, hash)))[0]?.size ?? null
}

/** The parts of a blob, one after the other, so that a large one is never whole in memory here. */
export async function* blobParts(db: Db, hash: string): AsyncGenerator<Uint8Array> {
  for (let part = 0; ; part++) {
    const rows = await db
      .select({ data: blobChunks.data })
      .from(blobChunks)
      .where(sql`${blobChunks.hash} = ${hash} and ${blobChunks.part} = ${part}`)
    if (!rows.length) return
    yield new Uint8Array(rows[0].data)
  }
}

export async function getBlob(db: Db, hash: string): Promise<Uint8Array> {
  const size = await blobSize(db, hash)
  if (size === null) throw new Error(`no bytes under ${hash}`)
  const out = new Uint8Array(size)
  let at = 0
  for await (const part of blobParts(db, hash)) {
    out.set(part, at)
    at += part.length
  }
  if (at !== size) throw new Error(`bytes under ${hash} are cut off`)
  return out
}

export async function summariesOf(db: Db, hashes: readonly string[]): Promise<Record<string, BodyFacts>> {
  if (!hashes.length) return {}
  const rows = await db
    .select({ hash: blobs.hash, summary: blobs.summary })
    .from(blobs)
    .where(inArray(blobs.hash, [...hashes]))
  return Object.fromEntries(rows.flatMap((r) => (r.summary ? [[r.hash, currentFacts(r.summary)]] : [])))
}
