'use client'
/** What is shown when a page cannot be drawn at all: a sentence and two ways on, never an empty window. */
import Link from 'next/link'

export default function Problem({ error, reset }: { error: Error; reset: () => void }) {
  return (
    <main className="jobs">
      <p className="told bad" role="alert">
        This page could not be shown ({error.message || 'for no reason it tells'}). Everything applied is kept.
      </p>
      <p className="d-flex gap-3">
        <button type="button" className="btn btn-primary" onClick={reset}>
          Try again
        </button>
        <Link href="/" className="btn btn-outline-secondary">
          All jobs
        </Link>
      </p>
    </main>
  )
}
