/** `checkup`: the facts of one file. */
import { isMesh } from '@/core/bodies/body'
import { decodeBody } from '@/core/bodies/container'
import { checkUp } from '@/core/mesh/check-up'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { bringIn } from './convert'

export async function checkupFile(file: string, unit?: string): Promise<unknown> {
  const { store, recipe, run } = await bringIn(file, unit)
  const result = await run(recipe)
  const bodies = []
  for (const hash of result.bodies.values()) bodies.push(decodeBody(await store.bytes(hash)))
  const meshes = bodies.filter(isMesh)
  if (meshes.length) return checkUp(concatMeshes(meshes.map((m) => m.mesh))).facts
  return bodies.length === 1 && !isMesh(bodies[0]) ? bodies[0].facts : bodies.map((b) => (isMesh(b) ? null : b.facts))
}
