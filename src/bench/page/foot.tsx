/** The bottom line: what the next click does, where the pointer is, what it is over, and how the run stands. */
import { useEffect, useRef } from 'react'
import { useStore } from 'zustand'
import { num } from '@/core/base/say'
import { hintOf } from '@/bench/stage3d/router'
import { benchView, stage } from '@/bench/stage3d/view'
import { activeField } from '@/bench/fields/slot'
import { useCage } from '@/bench/cage/state'
import { useOutline } from '@/bench/outline/state'
import { useAway } from '@/bench/state/health'
import { pointer } from '@/bench/state/pointer'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'

/** Written straight to the page: moving the pointer renders nothing. */
function PointerFigures() {
  const place = useRef<HTMLSpanElement>(null),
    words = useRef<HTMLSpanElement>(null)
  useEffect(() => {
    const show = () => {
      const { at, words: said } = pointer.getState()
      if (place.current)
        place.current.textContent = at ? `x ${num(at[0], 1)}  y ${num(at[1], 1)}  z ${num(at[2], 1)}` : ''
      if (words.current) words.current.textContent = said
    }
    show()
    return pointer.subscribe(show)
  }, [])
  return (
    <>
      <span ref={words} className="under" data-testid="under" />
      <span ref={place} className="figure" data-testid="cursor" />
    </>
  )
}

function Hint() {
  const tool = useTool((s) => s.tool)
  useBench((s) => s.sectionPick)
  useStore(stage, (s) => s.root)
  useOutline((s) => `${s.way} ${s.placed.length} ${s.stretch !== null}`)
  useCage((s) => `${s.cage !== null} ${s.sort} ${s.way} ${s.picked[s.sort].length} ${s.corners.length}`)
  const b = benchView()
  const words = b ? hintOf({ ...b, tool, field: activeField(tool) }) : ''
  return <span className="hint">{words || (tool ? 'Enter applies, Esc backs out' : '')}</span>
}

export function Foot({ run }: { run: string }) {
  const away = useAway(true)
  return (
    <footer className="foot">
      <Hint />
      <PointerFigures />
      <span>mm</span>
      <span data-testid="run-state">{away ? `${away} away` : run}</span>
    </footer>
  )
}
