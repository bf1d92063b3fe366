'use client'
/** A strip over the page while a part of the bench is away. */
import { Unplug } from 'lucide-react'
import { usePathname } from 'next/navigation'
import { awayWords, useAway } from '@/bench/state/health'

export function Away() {
  // The login page asks nothing of a bench that is still locked.
  const away = useAway(usePathname() !== '/login')
  return (
    <div role="status" aria-live="polite">
      {away && (
        <p className="away">
          <Unplug size={16} aria-hidden="true" />
          {awayWords[away]} It comes back by itself; nothing applied is lost.
        </p>
      )}
    </div>
  )
}
