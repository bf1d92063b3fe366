'use client'
/** The whole recipe used on another file: a new job that does to it what was done here. */
import { useRef, useState } from 'react'
import { useRouter } from 'next/navigation'
import { filesOf, onOtherFiles } from '@/core/recipe/carry'
import type { JobState } from '@/core/recipe/job-state'
import { createJob, getJob, reviseJob, uploadFile } from '@/bench/state/api'
import { tell } from '@/bench/state/store'

export function OtherFile({ job }: { job: JobState }) {
  const router = useRouter()
  const picker = useRef<HTMLInputElement>(null)
  const [busy, setBusy] = useState(false)
  const files = filesOf(job.recipe)
  if (!files.length) return null
  const use = async (chosen: readonly File[]) => {
    if (chosen.length !== files.length)
      return tell(
        files.length === 1
          ? 'Choose one file.'
          : `This recipe brings in ${files.length} files (${files.join(', ')}): choose as many, in that order.`,
      )
    setBusy(true)
    try {
      const title = `${job.title} on ${chosen[0].name.replace(/\.[^.]+$/, '')}`.slice(0, 120)
      const { id } = await createJob(title)
      const names = new Map<string, string>()
      for (const [i, file] of chosen.entries()) names.set(files[i], (await uploadFile(id, file, () => {})).name)
      const fresh = await getJob(id)
      await reviseJob(id, fresh.revision, { ...onOtherFiles(job.recipe, names), title }, 'Use the recipe')
      router.push(`/jobs/${id}`)
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error))
    }
    setBusy(false)
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
          if (chosen.length) void use(chosen)
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
