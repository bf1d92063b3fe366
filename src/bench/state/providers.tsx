'use client'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { useState } from 'react'

export function Providers({ children }: { children: React.ReactNode }) {
  const [client] = useState(
    () => new QueryClient({ defaultOptions: { queries: { retry: 3, refetchOnWindowFocus: false, staleTime: 5_000 } } }),
  )
  return <QueryClientProvider client={client}>{children}</QueryClientProvider>
}
