/** Esc backs out one level: Find, the last pick, all picks, the tool, the section pick, the check-up, the selection. */
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'

/** A tool with picks in it that has been in hand this long is not dropped without asking, ms. */
export const longEdit = 60_000

/** `handBack` takes back what a hand holds that is not in the settings yet; `stop` ends the ghost. */
export function backOut(handBack: () => boolean, stop: () => void, now = performance.now()): void {
  const bench = useBench.getState()
  const hand = useTool.getState()
  const { tool } = hand
  if (bench.question) return bench.set({ question: null })
  if (bench.finding) return bench.set({ finding: false })
  if (tool) {
    if (handBack()) return
    if (tool.past.length) {
      // The first Esc takes back one pick; a second one right after it, the others.
      if (hand.backing) hand.clearPicks()
      else hand.undo()
      useTool.setState({ backing: true })
      return
    }
    const drop = () => {
      stop()
      hand.take(null)
    }
    // Picks that Esc has just taken back are still work of a minute or more.
    const worked = tool.since !== null && now - tool.since > longEdit && tool.future.length > 0
    if (!worked) return drop()
    return bench.set({
      question: {
        ask: 'sure',
        title: 'Put the tool away?',
        text: 'The picks made with it go with it.',
        yes: 'Put it away',
        done: drop,
      },
    })
  }
  if (bench.sectionPick !== null) bench.set({ sectionPick: null })
  else if (bench.checkUpOf) bench.set({ checkUpOf: null, fault: null })
  else bench.set({ selected: null, part: null })
}
