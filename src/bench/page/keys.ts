/** Keys of the page. What is typed into a field stays there. */
import { useEffect, useRef } from 'react'
import { tinykeys } from 'tinykeys'
import { stages } from '@/core/step/step'
import { handKey, handTravel } from '@/bench/stage3d/router'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { backOut } from './back-out'

interface Doings {
  apply(): void
  travel(go: 'undo' | 'redo'): void
  stopGhost(): void
}

const typing = (e: KeyboardEvent) =>
  e.target instanceof HTMLElement &&
  !!e.target.closest('input:not([type=checkbox]):not([type=radio]):not([type=range]), textarea, select')

/** Undo and redo go to the hand first, then to the picks of the tool, then to the job. */
function travelFirst(go: 'undo' | 'redo', job: (go: 'undo' | 'redo') => void): void {
  if (handTravel(go)) return
  if (useTool.getState()[go]()) return
  job(go)
}

export function useKeys(doings: Doings): void {
  const now = useRef(doings)
  now.current = doings
  useEffect(() => {
    const { set, setStage, lookAt } = useBench.getState()
    /** A key that does something, unless it is typed. */
    const plain = (run: (e: KeyboardEvent) => void) => (e: KeyboardEvent) => {
      if (typing(e) || useBench.getState().question) return
      run(e)
    }
    const always = (run: () => void) => (e: KeyboardEvent) => {
      e.preventDefault()
      run()
    }
    const undo = plain((e) => {
      e.preventDefault()
      travelFirst('undo', now.current.travel)
    })
    const redo = plain((e) => {
      e.preventDefault()
      travelFirst('redo', now.current.travel)
    })
    const find = () => set({ finding: true })
    const off = tinykeys(window, {
      '$mod+k': always(find),
      '$mod+z': undo,
      '$mod+Shift+Z': redo,
      '$mod+Shift+z': redo,
      '$mod+y': redo,
      Escape: () => backOut(() => handTravel('undo'), now.current.stopGhost),
      '/': plain((e) => {
        e.preventDefault()
        find()
      }),
      f: plain(() => lookAt('Fit')),
      Enter: plain((e) => {
        if (useTool.getState().tool && (e.target === document.body || (e.target as HTMLElement).closest('.canvas')))
          now.current.apply()
      }),
      ...Object.fromEntries(stages.map((s, i) => [String(i + 1), plain(() => setStage(s))])),
    })
    // Hands see keys first; one they use goes no further.
    const first = (e: KeyboardEvent) => {
      if (typing(e) || useBench.getState().question || !handKey(e)) return
      e.preventDefault()
      e.stopImmediatePropagation()
    }
    window.addEventListener('keydown', first, true)
    return () => {
      off()
      window.removeEventListener('keydown', first, true)
    }
  }, [])
}
