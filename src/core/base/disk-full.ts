/** Whether a failure, or what caused it, is that the disk is full. */

/** By POSIX (no space, quota) and by PostgreSQL (appendix A of its manual: disk_full). */
const codes = new Set(['ENOSPC', 'EDQUOT', '53100'])
const deepest = 5

export function isDiskFull(error: unknown): boolean {
  for (let e = error, depth = 0; e instanceof Error && depth < deepest; e = e.cause, depth++)
    if (codes.has(String((e as { code?: unknown }).code)) || /no space left on device/i.test(e.message)) return true
  return false
}
