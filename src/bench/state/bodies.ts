/** The bodies that lie on the bench at the moment, for those who only want to know of one of them. */
import { create } from 'zustand'
import type { BenchBody } from './job'

const useBodiesStore = create<{ bodies: readonly BenchBody[] }>(() => ({ bodies: [] }))

export const layBodies = (bodies: readonly BenchBody[]): void => {
  if (useBodiesStore.getState().bodies !== bodies) useBodiesStore.setState({ bodies })
}
export const benchBodies = (): readonly BenchBody[] => useBodiesStore.getState().bodies
export const useJobBodies = <T>(select: (bodies: readonly BenchBody[]) => T): T =>
  useBodiesStore((s) => select(s.bodies))
