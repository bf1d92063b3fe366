/**
 * Locks of the queue that nobody works under. A database that dies between giving a task and the answer leaves it locked by a process that is
 * alive and never heard of it; such a lock would hold for hours.
 */
import { sql } from 'drizzle-orm'
import type { Db } from '@/server/db/client'

export class Locks {
  /** Tasks under way here. */
  private readonly working = new Set<string>()
  /** Tasks that looked lost at the last look: one that has just ended may still be on its way out. */
  private suspects = new Set<string>()
  private overlooked = false

  /** Runs a task of the queue, so that its lock counts as held. */
  async during<T>(task: string, work: () => Promise<T>): Promise<T> {
    this.working.add(task)
    try {
      return await work()
    } finally {
      this.working.delete(task)
    }
  }

  /**
   * Whether there is work that anybody may take, for long, and this process, which does nothing, did not take it, at this look and the last:
   * its queue has lost its connection without telling.
   */
  async overlooks(db: Db): Promise<boolean> {
    const { rows } = await db.execute(sql`
      select 1 from graphile_worker._private_jobs j left join graphile_worker._private_job_queues q on q.id = j.job_queue_id
      where j.locked_at is null and j.attempts < j.max_attempts and j.run_at < now() - interval '6 seconds'
        and (q.id is null or q.locked_at is null) limit 1`)
    const overlooked = rows.length > 0 && this.working.size === 0
    const again = overlooked && this.overlooked
    this.overlooked = overlooked
    return again
  }

  /** Frees what `pools`, the worker pools of this process, hold and do not work on, when it looked so twice. Gives how many. */
  async freeLost(db: Db, pools: readonly string[]): Promise<number> {
    const held = pools.length
      ? ((
          await db.execute(sql`
            select id::text as id from graphile_worker._private_jobs
            where locked_by = any(${sql.param([...pools])}::text[]) and locked_at < now() - interval '3 seconds'`)
        ).rows as { id: string }[])
      : []
    const idle = held.map((r) => r.id).filter((id) => !this.working.has(id))
    const lost = idle.filter((id) => this.suspects.has(id))
    this.suspects = new Set(idle)
    if (lost.length)
      await db.execute(sql`
        update graphile_worker._private_jobs set locked_at = null, locked_by = null, run_at = greatest(run_at, now())
        where id = any(${sql.param(lost)}::bigint[])`)
    // A queue stands locked for a task of it; without one the lock is lost as well.
    await db.execute(sql`
      update graphile_worker._private_job_queues q set locked_at = null, locked_by = null
      where locked_at < now() - interval '10 seconds' and not exists (
        select 1 from graphile_worker._private_jobs j where j.job_queue_id = q.id and j.locked_at is not null)`)
    return lost.length
  }
}
