/** Files that are either the old one or the new one, never half of it, whenever the program is ended. */
import { rename, rm, writeFile } from 'node:fs/promises'

/** Writes beside the file first. Throws what the file system says, with nothing left behind. */
export async function writeWhole(file: string, bytes: Uint8Array | string): Promise<void> {
  const beside = `${file}.part`
  try {
    await writeFile(beside, bytes)
    await rename(beside, file)
  } catch (error) {
    await rm(beside, { force: true })
    throw error
  }
}
