'use client'
/** The whole recipe used on another file: a new job that does to it what was done here. */
import { useRef, useState } from 'react'
import { useRouter } from 'next/navigation'
import { filesOf, onOtherFiles } from '@/core/recipe/carry'
import type { JobState } from '@/core/recipe/job-state'
import { createJob, deleteJob, getJob, reviseJob, uploadFile } from '@/bench/state/api'
import { tell, useBench } from '@/bench/state/store'

export function OtherFile({ job }: { job: JobState }) {
  const router = useRouter()
  const picker = useRef<HTMLInputElement>(null)
  const [busy, setBusy] = useState(false)
  const files = filesOf(job.recipe)
  if (!files.length) return null
  const make = async (chosen: readonly File[], order: readonly string[]) => {
    setBusy(true)
    let id: string | null = null
    try {
      const title = `${job.title} on ${chosen[0].name.replace(/\.[^.]+$/, '')}`.slice(0, 120)
      id = (await createJob(title)).id
      const sent = new Map<string, string>()
      for (const file of chosen) sent.set(file.name, (await uploadFile(id, file, () => {})).name)
      const names = new Map(files.map((old, i) => [old, sent.get(order[i])!] as const))
      const fresh = await getJob(id)
      await reviseJob(id, fresh.revision, { ...onOtherFiles(job.recipe, names), title }, 'Use the recipe')
      router.push(`/jobs/${id}`)
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error))
      // A job that came half-way is no use to anyone.
      if (id) await deleteJob(id).catch(() => {})
    }
    setBusy(false)
  }
  const use = (chosen: readonly File[]) => {
    const options = chosen.map((f) => f.name)
    if (files.length === 1) return void make(chosen, options)
    // In which order files come from the dialog is the system's affair: which stands for which is asked.
    useBench.getState().set({
      question: {
        ask: 'choices',
        title: 'Which file stands for which?',
        text: 'The recipe brings these files in. Use instead:',
        rows: files.map((label, i) => ({ label, options, value: options[Math.min(i, options.length - 1)] })),
        yes: 'Make the job',
        done: (order) => void make(chosen, order),
      },
    })
  }
  return (
    <>
      <input
        ref={picker}
        type="file"
        multiple={files.length > 1}
        className="d-none"
        aria-label="Another file for this recipe"
        onChange={(e) => {
          const chosen = [...(e.target.files ?? [])]
          e.target.value = ''
          if (chosen.length) use(chosen)
        }}
      />
      <button
        type="button"
        className="btn btn-link btn-sm p-0 d-block"
        disabled={busy}
        title="A new job that does to another file what was done to this one"
        onClick={() => picker.current?.click()}
      >
        {busy ? 'Making the job' : 'Use on another file'}
      </button>
    </>
  )
}
