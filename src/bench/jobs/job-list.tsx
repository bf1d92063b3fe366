'use client'
/** The list of jobs with their pictures, and three ways to begin. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Anchor, Copy, FilePlus2, Moon, PackageOpen, ScanLine, Sun, Trash2, type LucideIcon } from 'lucide-react'
import { useRouter } from 'next/navigation'
import Link from 'next/link'
import { useRef, useState } from 'react'
import { blobUrl, copyJob, createJob, deleteJob, listJobs } from '@/bench/state/api'
import type { JobListing } from '@/core/recipe/job-state'
import { plural } from '@/core/base/say'
import { useTheme } from '@/bench/state/theme'

/** What a job's card says while it has no picture. */
const unmade = (j: JobListing) =>
  !j.steps ? 'empty bench' : j.done === null ? 'no picture yet' : `${j.done} of ${j.steps} steps made`

const dayOf = (time: string | number | Date) =>
  new Date(time).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })

/** A way to begin. */
function Offer(p: { icon: LucideIcon; title: string; note: string; off?: boolean; act(): void }) {
  return (
    <button type="button" disabled={p.off} onClick={p.act}>
      <p.icon size={24} strokeWidth={1.6} />
      <span>
        <strong>{p.title}</strong>
        <span className="soft small">{p.note}</span>
      </span>
    </button>
  )
}

function JobCard({ job: j, copy, remove }: { job: JobListing; copy(): void; remove(): void }) {
  return (
    <li className="job-card">
      <Link href={`/jobs/${j.id}`}>
        <div className="picture">
          {j.picture ? <img src={`${blobUrl(j.picture)}?as=png`} alt="" /> : <span>{unmade(j)}</span>}
        </div>
        <div className="text">
          <h2>{j.title}</h2>
          <span className="soft small">
            {plural(j.steps, 'step')} · {j.demo ? 'Alder Reach demo' : dayOf(j.updated)}
          </span>
        </div>
      </Link>
      <button type="button" className="icon-button copy" aria-label={`Copy ${j.title}`} title="Copy" onClick={copy}>
        <Copy size={16} />
      </button>
      <button
        type="button"
        className="icon-button more"
        aria-label={`Delete ${j.title}`}
        title="Delete"
        onClick={() => {
          if (window.confirm(`Delete "${j.title}" with its whole history? This cannot be undone.`)) remove()
        }}
      >
        <Trash2 size={16} />
      </button>
    </li>
  )
}

/** The jobs, and what is done to them; `problem`: why something was not. */
function useJobs() {
  const router = useRouter()
  const client = useQueryClient()
  const [problem, setProblem] = useState<string | null>(null)
  const jobs = useQuery({
    queryKey: ['jobs'],
    queryFn: listJobs,
    refetchInterval: (q) => (q.state.data?.some((j) => !j.picture && j.steps) ? 2000 : 15_000),
  })
  const fail = (e: Error) => setProblem(e.message)
  // A second click on the way to a job that is made already makes no other.
  const leaving = useRef(false)
  const go = (make: () => Promise<{ id: string }>, query = '') => {
    if (leaving.current) return
    leaving.current = true
    make().then(
      ({ id }) => router.push(`/jobs/${id}${query}`),
      (e: Error) => {
        leaving.current = false
        fail(e)
      },
    )
  }
  const remove = useMutation({
    mutationFn: deleteJob,
    onSuccess: () => client.invalidateQueries({ queryKey: ['jobs'] }),
    onError: fail,
  })
  return { jobs, go, remove, problem, open: (id: string) => router.push(`/jobs/${id}`) }
}

export function JobList() {
  const { dark, toggleTheme } = useTheme()
  const { jobs, go, remove, problem, open } = useJobs()
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
        <Offer
          icon={FilePlus2}
          title="New job"
          note="an empty bench; drop files on it"
          act={() => go(() => createJob('New job'))}
        />
        <Offer
          icon={PackageOpen}
          title="Try the demo"
          note="an oar grip and a gate bracket"
          off={!demo}
          act={() => demo && open(demo.id)}
        />
        <Offer
          icon={ScanLine}
          title="Practice scanner"
          note="scan a made-up part"
          act={() => go(() => createJob('Practice scan'), '?tool=bring-in/practice-scan')}
        />
      </div>
      {jobs.isPending && <p className="soft">fetching the jobs…</p>}
      {jobs.error && (
        <p className="told bad" role="alert">
          {jobs.error.message}
        </p>
      )}
      <ul aria-label="Jobs">
        {jobs.data?.map((j) => (
          <JobCard key={j.id} job={j} copy={() => go(() => copyJob(j.id))} remove={() => remove.mutate(j.id)} />
        ))}
      </ul>
    </main>
  )
}
