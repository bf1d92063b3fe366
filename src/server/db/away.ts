/** Tells a database that cannot be reached from one that refuses. */

const words =
  /ECONNREFUSED|ECONNRESET|EPIPE|terminating connection|Connection terminated|connection timeout|timeout exceeded when trying to connect|the database system is|server closed the connection|Client has encountered a connection error|in recovery mode|crash of another server process/i
/** Classes of error codes (PostgreSQL manual, appendix A): connection exceptions, and operator intervention such as a shutdown. */
const classes = /^(08...|57P0[123])$/

export function isAway(error: unknown): boolean {
  for (let e = error, depth = 0; e instanceof Error && depth < 5; e = e.cause, depth++) {
    const code = String((e as { code?: unknown }).code ?? '')
    if (classes.test(code) || words.test(`${code} ${e.message}`)) return true
  }
  return false
}
