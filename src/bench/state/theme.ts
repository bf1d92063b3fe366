'use client'
/** Light or dark, kept in this browser; all that show it know of a change at once. */
import { useEffect } from 'react'
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'

const theme = createStore<{ dark: boolean }>(() => ({ dark: false }))

function toggleTheme(): void {
  const next = document.documentElement.dataset.bsTheme === 'dark' ? 'light' : 'dark'
  document.documentElement.dataset.bsTheme = next
  try {
    localStorage.setItem('glue-bench-theme', next)
  } catch {
    // A browser that keeps nothing still changes its looks for now.
  }
  theme.setState({ dark: next === 'dark' })
}

export function useTheme() {
  const dark = useStore(theme, (t) => t.dark)
  useEffect(() => theme.setState({ dark: document.documentElement.dataset.bsTheme === 'dark' }), [])
  return { dark, toggleTheme }
}
