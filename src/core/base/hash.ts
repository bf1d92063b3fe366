/** Content addresses: SHA-256 (FIPS 180-4) by the platform's own Web Crypto. */

/** Hex SHA-256 of some bytes. */
export async function hashBytes(bytes: Uint8Array): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>)
  return Array.from(new Uint8Array(digest), (b) => b.toString(16).padStart(2, '0')).join('')
}

export const hashText = (text: string): Promise<string> => hashBytes(new TextEncoder().encode(text))
