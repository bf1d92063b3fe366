'use client'
/** How long nothing new has been heard of work under way: some of it, such as one boolean of large bodies, tells nothing until it is done. */
import { useEffect, useState } from 'react'

/** Shorter silences are not told, s. */
const least = 4

/** Seconds since `heard` changed, once they are worth a word. */
export function QuietTime({ heard }: { heard: string }) {
  const [seconds, setSeconds] = useState(0)
  useEffect(() => {
    setSeconds(0)
    const from = performance.now()
    const tick = setInterval(() => setSeconds(Math.floor((performance.now() - from) / 1000)), 1000)
    return () => clearInterval(tick)
  }, [heard])
  return seconds < least ? null : (
    <span className="figure soft" aria-hidden title="Since it was last heard of; Stop ends it">
      {seconds} s
    </span>
  )
}
