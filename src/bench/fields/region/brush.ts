/** A brush over a body: its path follows the pointer, and is a pick when the pointer lets go. */
import type { Pick } from '@/core/find/region'
import type { Vec3 } from '@/core/math/vec'
import type { BenchView, Grip } from '@/bench/hands/hand'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'

/**
 * @param done the pick that was brushed, and the body it lies on
 * @param always whether it adds or takes away; left out: as picks are set to
 */
export function brush(b: BenchView, done: (pick: Pick, name: string) => void, always?: 'add' | 'take'): Grip {
  const path: Vec3[] = []
  let name = b.target?.name
  let asking = Promise.resolve()
  const made = (): Pick => {
    const { mode, radius } = useBench.getState().pick
    return { pick: 'brush', mode: always ?? mode, path: [...path], radius }
  }
  const take = (p: Parameters<Grip['move']>[0]) => {
    asking = asking.then(async () => {
      const hit = await p.hit()
      if (!hit) return
      name ??= hit.name
      if (hit.name !== name) return
      path.push(hit.point)
      // The picked triangles, and what fits them, follow the pointer.
      if (b.tool?.values.body === name) useTool.setState({ painting: made() })
    })
  }
  let waiting = false
  return {
    move(p) {
      if (waiting) return
      waiting = true
      take(p)
      void asking.finally(() => (waiting = false))
    },
    up(p) {
      take(p)
      void asking.then(() => {
        useTool.setState({ painting: null })
        if (path.length && name) done(made(), name)
      })
    },
    cancel() {
      useTool.setState({ painting: null })
    },
  }
}
