'use client'
/** The list of jobs with their pictures, and three ways to begin. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Anchor, Copy, FilePlus2, Moon, PackageOpen, ScanLine, Sun, Trash2 } from 'lucide-react'
import { useRouter } from 'next/navigation'
import Link from 'next/link'
import { useState } from 'react'
import { blobUrl, copyJob, createJob, deleteJob, listJobs } from '@/bench/state/api'
import { useTheme } from '@/bench/state/theme'

export function JobList() {
  const router = useRouter()
  const client = useQueryClient()
  const { dark, toggleTheme } = useTheme()
  const [problem, setProblem] = useState<string | null>(null)
  const jobs = useQuery({
    queryKey: ['jobs'],
    queryFn: listJobs,
    refetchInterval: (q) => (q.state.data?.some((j) => !j.picture && j.steps) ? 2000 : 15_000),
  })
  const fail = (e: Error) => setProblem(e.message)
  const begin = useMutation({
    mutationFn: ({ title }: { title: string; tool?: string }) => createJob(title),
    onSuccess: ({ id }, { tool }) => router.push(`/jobs/${id}${tool ? `?tool=${tool}` : ''}`),
    onError: fail,
  })
  const copy = useMutation({
    mutationFn: copyJob,
    onSuccess: ({ id }) => router.push(`/jobs/${id}`),
    onError: fail,
  })
  const remove = useMutation({
    mutationFn: deleteJob,
    onSuccess: () => client.invalidateQueries({ queryKey: ['jobs'] }),
    onError: fail,
  })
  const demo = jobs.data?.find((j) => j.demo)
  return (
    <main className="jobs">
      <header>
        <div>
          <h1 className="d-flex gap-2 align-items-center">
            <Anchor size={28} strokeWidth={1.8} aria-hidden="true" />
            Glue Bench
          </h1>
          <p className="soft m-0">Mend a mesh, glue it to exact features, send out a part that fits.</p>
        </div>
        <button
          type="button"
          className="icon-button"
          aria-label={dark ? 'Light theme' : 'Dark theme'}
          onClick={toggleTheme}
        >
          {dark ? <Sun size={18} /> : <Moon size={18} />}
        </button>
      </header>
      {problem && (
        <p className="told bad" role="alert">
          {problem}
        </p>
      )}
      <div className="offer">
        <button type="button" onClick={() => begin.mutate({ title: 'New job' })}>
          <FilePlus2 size={24} strokeWidth={1.6} />
          <span>
            <strong>New job</strong>
            <span className="soft small">an empty bench; drop files on it</span>
          </span>
        </button>
        <button type="button" disabled={!demo} onClick={() => demo && router.push(`/jobs/${demo.id}`)}>
          <PackageOpen size={24} strokeWidth={1.6} />
          <span>
            <strong>Try the demo</strong>
            <span className="soft small">an oar grip and a gate bracket</span>
          </span>
        </button>
        <button type="button" onClick={() => begin.mutate({ title: 'Practice scan', tool: 'bring-in/practice-scan' })}>
          <ScanLine size={24} strokeWidth={1.6} />
          <span>
            <strong>Practice scanner</strong>
            <span className="soft small">scan a made-up part</span>
          </span>
        </button>
      </div>
      {jobs.isPending && <p className="soft">fetching the jobs…</p>}
      {jobs.error && (
        <p className="told bad" role="alert">
          {jobs.error.message}
        </p>
      )}
      <ul aria-label="Jobs">
        {jobs.data?.map((j) => (
          <li key={j.id} className="job-card">
            <Link href={`/jobs/${j.id}`}>
              <div className="picture">
                {j.picture ? (
                  <img src={`${blobUrl(j.picture)}?as=png`} alt="" />
                ) : (
                  <span>
                    {!j.steps
                      ? 'empty bench'
                      : j.done === null
                        ? 'no picture yet'
                        : `${j.done} of ${j.steps} steps made`}
                  </span>
                )}
              </div>
              <div className="text">
                <h2>{j.title}</h2>
                <span className="soft small">
                  {j.steps} {j.steps === 1 ? 'step' : 'steps'} ·{' '}
                  {j.demo
                    ? 'Alder Reach demo'
                    : new Date(j.updated).toLocaleDateString('en-GB', {
                        day: 'numeric',
                        month: 'short',
                        year: 'numeric',
                      })}
                </span>
              </div>
            </Link>
            <button
              type="button"
              className="icon-button copy"
              aria-label={`Copy ${j.title}`}
              title="Copy"
              onClick={() => copy.mutate(j.id)}
            >
              <Copy size={16} />
            </button>
            <button
              type="button"
              className="icon-button more"
              aria-label={`Delete ${j.title}`}
              title="Delete"
              onClick={() => {
                if (window.confirm(`Delete "${j.title}" with its whole history? This cannot be undone.`))
                  remove.mutate(j.id)
              }}
            >
              <Trash2 size={16} />
            </button>
          </li>
        ))}
      </ul>
    </main>
  )
}
