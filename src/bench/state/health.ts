'use client'
/** Which part of the bench is away just now. It is asked often while one is, so that the page heals soon after. */
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { ApiError, getHealth } from './api'

export type Part = 'server' | 'database' | 'computing'

/** What to say of a part that is away. */
export const awayWords: Record<Part, string> = {
  server: 'The bench cannot reach its server.',
  database: 'The database is not answering.',
  computing: 'Nothing is computed just now: the compute process is away.',
}

/** The part that is away, or null. When it is back everything on the page is asked for again. */
export function useAway(enabled: boolean): Part | null {
  const client = useQueryClient()
  const { data } = useQuery({
    queryKey: ['health'],
    enabled,
    queryFn: async (): Promise<Part | null> => {
      try {
        return (await getHealth()).compute ? null : 'computing'
      } catch (error) {
        const code = error instanceof ApiError ? error.report.code : ''
        if (code === 'locked') location.assign('/login')
        return code === 'offline' ? 'server' : code === 'database-away' ? 'database' : null
      }
    },
    retry: false,
    staleTime: 0,
    refetchOnWindowFocus: true,
    refetchInterval: (q) => (q.state.data ? 1000 : 5000),
  })
  const away = data ?? null
  const was = useRef(away)
  useEffect(() => {
    if (was.current && !away) void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'health' })
    was.current = away
  }, [away, client])
  return away
}
