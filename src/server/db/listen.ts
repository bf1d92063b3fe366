/** Listens on a notification channel of the database for as long as the process lives, over lost connections too. */
import { Client } from 'pg'
import { databaseUrl } from './client'

/**
 * @param hear called with the payload of each notification
 * @param joined called each time the connection stands: what was missed before is not told again
 * @param left called each time it was lost, or could not be made
 */
export async function listenFor(
  channel: string,
  hear: (payload: string) => void,
  joined: () => void = () => {},
  left: () => void = () => {},
): Promise<never> {
  for (;;) {
    const client = new Client({ connectionString: databaseUrl() })
    try {
      await client.connect()
      await client.query(`listen ${channel}`)
      client.on('notification', (n) => hear(n.payload ?? ''))
      joined()
      await new Promise<void>((resolve) => {
        client.on('error', () => resolve())
        client.on('end', () => resolve())
      })
    } catch {
      // The server is away; try again below.
    }
    left()
    await client.end().catch(() => {})
    await new Promise((r) => setTimeout(r, 1000))
  }
}
