/** Offers to set on the mat what has just been brought in and lies under or over it. */
import { useState } from 'react'
import { mm, plural } from '@/core/base/say'
import type { JobState } from '@/core/recipe/job-state'
import { Button } from '@/bench/forms/button'
import type { BenchBody, useChanges } from '@/bench/state/job'
import { offMat, ontoMat } from '@/bench/state/off-mat'

interface Props {
  job: JobState
  bodies: readonly BenchBody[]
  revise: ReturnType<typeof useChanges>['revise']
}

export function OffMatStrip({ job, bodies, revise }: Props) {
  const [left, setLeft] = useState('')
  const off = offMat(job, bodies)
  if (!off || left === off.step) return null
  const many = off.names.length > 1
  const who = many ? 'What came in' : `“${off.names[0]}”`
  const where = off.lowest < 0 ? `reaches ${mm(-off.lowest, 2)} below` : `lies ${mm(off.lowest, 2)} above`
  return (
    <div className="run-box" role="status">
      <span className="flex-fill">{`${who} ${where} the mat.`}</span>
      <Button
        size="sm"
        disabled={revise.isPending}
        onClick={() =>
          revise.mutate({
            recipe: { ...job.recipe, steps: [...job.recipe.steps, ...ontoMat(job, off)] },
            label: many ? `Set ${plural(off.names.length, 'body', 'bodies')} on the mat` : 'Set on the mat',
          })
        }
      >
        Set on the mat
      </Button>
      <Button size="sm" variant="quiet" onClick={() => setLeft(off.step)}>
        Leave it
      </Button>
    </div>
  )
}
