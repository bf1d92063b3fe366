/**
 * Prunes what nobody refers to any more, by mark and sweep: ghosts and superseded runs, results no run stands on, and bytes that neither a
 * job's file, a run, a result, a picture nor a kept setting names. Every revision of a job stays, so undo and redo reach all they could.
 */
import { sql } from 'drizzle-orm'
import type { Db } from '@/server/db/client'
import { keptSettings } from './settings'
import { revisions, runs } from '@/server/db/schema'

export interface Pruned {
  runs: number
  results: number
  blobs: number
  /** Bytes given back. */
  bytes: number
}

/** Ghosts are kept this long, so that Apply after a ghost finds its result; other things this long, so that nothing under way is lost. */
const ghostAge = '1 hour',
  age = '1 hour'

/**
 * One sweep. `older`: an age as PostgreSQL writes intervals, for tests; everything younger is left alone. Safe beside running work: what a
 * run needs is younger than the age or referred to already.
 */
export async function prune(db: Db, older?: string): Promise<Pruned> {
  const a = older ?? age,
    g = older ?? ghostAge
  return db.transaction(async (tx) => {
    const count = (r: { rowCount?: number | null }) => r.rowCount ?? 0
    // Ended ghosts, and of each revision every run but the latest.
    const oldRuns = await tx.execute(sql`
      delete from runs r where r.state in ('done', 'failed', 'stopped') and (
        (r.ghost and r.created < now() - ${g}::interval) or
        (not r.ghost and r.created < now() - ${a}::interval and exists (
          select 1 from runs n where n.job = r.job and n.revision = r.revision and not n.ghost and n.created > r.created
            and n.state in ('done', 'failed'))))`)
    // Results that no run stands on.
    const oldResults = await tx.execute(sql`
      delete from results where created < now() - ${a}::interval and key not in (
        select s->>'key' from runs, jsonb_array_elements(runs.steps) s where s->>'key' is not null)`)
    await tx.execute(sql`create temporary table if not exists marked (hash text primary key) on commit delete rows`)
    const mark = (query: ReturnType<typeof sql>) => tx.execute(sql`insert into marked ${query} on conflict do nothing`)
    await mark(sql`select hash from job_files`)
    await mark(sql`select picture from jobs where picture is not null`)
    await mark(sql`
      select b.value from runs, jsonb_array_elements(runs.steps) s, jsonb_each_text(s->'bodies') b where b.value is not null`)
    await mark(sql`
      select f->>'hash' from runs, jsonb_array_elements(runs.steps) s, jsonb_array_elements(s->'files') f`)
    await mark(sql`
      select b.value from results, jsonb_each_text(results.result->'bodies') b where b.value is not null`)
    await mark(sql`select f->>'hash' from results, jsonb_array_elements(results.result->'files') f`)
    for (const table of [revisions, runs]) {
      const rows = await tx.select({ recipe: table.recipe }).from(table)
      const hashes = [...new Set(rows.flatMap((r) => keptSettings(r.recipe)))]
      if (hashes.length) await mark(sql`select unnest(${sql.param(hashes)}::text[])`)
    }
    const gone = await tx.execute(sql`
      delete from blobs where created < now() - ${a}::interval and hash not in (select hash from marked) returning size`)
    await tx.execute(sql`delete from check_ups where hash not in (select hash from blobs)`)
    return {
      runs: count(oldRuns),
      results: count(oldResults),
      blobs: count(gone),
      bytes: gone.rows.reduce((s: number, r) => s + Number((r as { size: string }).size), 0),
    }
  })
}
