/** The bench as it stands when a page is opened: test files share one process, so what one leaves behind is there for the next. */
import type { StoreApi } from 'zustand'
import { cageStore } from '@/bench/cage/state'
import { useTold } from '@/bench/fields/told/state'
import { ghostTold } from '@/bench/ghost/told'
import { handleState } from '@/bench/hands/handle'
import { outline } from '@/bench/outline/state'
import { stage } from '@/bench/stage3d/view'
import { layBodies } from '@/bench/state/bodies'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { jobValues } from '@/bench/state/values'

const asAtFirst = <T>(store: Pick<StoreApi<T>, 'setState' | 'getInitialState'>): void =>
  store.setState(store.getInitialState(), true)

export function freshBench(): void {
  for (const again of [
    () => asAtFirst(useBench),
    () => asAtFirst(useTool),
    () => asAtFirst(useTold),
    () => asAtFirst(jobValues),
    () => asAtFirst(cageStore),
    () => asAtFirst(outline),
    () => asAtFirst(ghostTold),
    () => asAtFirst(handleState),
    () => asAtFirst(stage),
  ])
    again()
  layBodies([])
}
