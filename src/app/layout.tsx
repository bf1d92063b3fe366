import type { Metadata } from 'next'
import { headers } from 'next/headers'
import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/atkinson-hyperlegible-mono'
import '@fontsource-variable/bricolage-grotesque'
import './theme.scss'
import { Away } from '@/bench/page/away'
import { Providers } from '@/bench/state/providers'

export const metadata: Metadata = {
  title: 'Glue Bench',
  description: 'Mend meshes, combine them with exact features, and send out printable parts.',
}

/** Sets the theme before the first paint, so that a dark page never flashes light. */
const themeScript = `try{document.documentElement.dataset.bsTheme=localStorage.getItem('glue-bench-theme')||'light'}catch{}`

export default async function RootLayout({ children }: { children: React.ReactNode }) {
  // Reading the headers makes every page be rendered on request, so that its scripts can carry the nonce of its policy.
  const nonce = /'nonce-([^']+)'/.exec((await headers()).get('content-security-policy') ?? '')?.[1]
  return (
    <html lang="en" data-bs-theme="light" suppressHydrationWarning>
      <head>
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: themeScript }} />
      </head>
      <body>
        <Providers>
          <Away />
          {children}
        </Providers>
      </body>
    </html>
  )
}
