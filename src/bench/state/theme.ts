'use client'
/** Light or dark, kept in this browser. */
import { useCallback, useEffect, useState } from 'react'

export function useTheme() {
  const [dark, setDark] = useState(false)
  useEffect(() => {
    setDark(document.documentElement.dataset.bsTheme === 'dark')
  }, [])
  const toggleTheme = useCallback(() => {
    const next = document.documentElement.dataset.bsTheme === 'dark' ? 'light' : 'dark'
    document.documentElement.dataset.bsTheme = next
    try {
      localStorage.setItem('glue-bench-theme', next)
    } catch {
      // A browser that keeps nothing still changes its looks for now.
    }
    setDark(next === 'dark')
  }, [])
  return { dark, toggleTheme }
}
