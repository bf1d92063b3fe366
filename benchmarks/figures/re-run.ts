import { hashBytes } from '@/core/base/hash'
import { evaluate, MemoryStore } from '@/core/recipe/evaluate'
import { quiet } from '@/core/base/work'
import { demoFiles, gateAndGrip } from '@/demo/scenario'
import { single, time } from '../measure'

/** The demo recipe run whole, and run again with nothing changed: at most 2 %. */
export async function reRun() {
  const store = new MemoryStore()
  const hashes = new Map<string, string>()
  for (const f of await demoFiles()) {
    const hash = await hashBytes(f.bytes)
    await store.keepBytes(hash, f.bytes)
    hashes.set(f.name, hash)
  }
  const run = () =>
    evaluate(gateAndGrip.recipe, { fileHash: (n) => Promise.resolve(hashes.get(n) ?? null), store, work: quiet })
  const whole = await time(run)
  const again = await single(run)
  return {
    bar: 0.02,
    wholeMs: Math.round(whole),
    againMs: Number(again.toFixed(1)),
    ratio: Number((again / whole).toFixed(4)),
  }
}
