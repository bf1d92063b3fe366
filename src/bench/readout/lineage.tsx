/** What made the picked body, or the picked face of it, and what uses it; each step a click away. */
import { useQuery } from '@tanstack/react-query'
import { makerOfFace, makersOf, usersOf } from '@/core/recipe/lineage'
import type { JobState } from '@/core/recipe/job-state'
import type { RecipeStep } from '@/core/recipe/recipe'
import { stepOf } from '@/core/steps/registry'
import { picking } from '@/bench/picking/client'
import type { BenchBody } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'

interface Props {
  readonly job: JobState
  readonly bodies: readonly BenchBody[]
  edit(step: RecipeStep): void
}

export function Lineage({ job, bodies, edit }: Props) {
  const selected = useBench((s) => s.selected)
  const part = useBench((s) => s.part)
  const body = bodies.find((b) => b.name === selected)
  const face = useQuery({
    queryKey: ['part', body?.hash, part?.sort, part?.index],
    queryFn: () => picking().partFacts(body!.hash, part!.sort, part!.index),
    enabled: !!body && part?.sort === 'face' && !!body.facts?.can.includes('parts'),
    staleTime: Infinity,
  })
  if (!body) return null
  const reports = job.run?.steps ?? []
  const { recipe } = job
  const [first, ...changes] = makersOf(recipe, reports, body.name)
  const users = usersOf(recipe, reports, body.name).filter((id) => !changes.includes(id))
  const maker = part?.sort === 'face' && face.data ? makerOfFace(recipe, reports, body.name, face.data.name) : undefined
  const rows: [string, string[]][] = [
    ['Made by', first ? [first] : []],
    ['Changed by', changes],
    ['Used by', users],
    ['Face made by', maker ? [maker] : []],
  ]
  return (
    <details className="small mb-2" data-testid="lineage" open={!!maker || undefined}>
      <summary className="soft">What made it, what uses it</summary>
      <dl className="lineage">
        {rows
          .filter(([, ids]) => ids.length)
          .map(([word, ids]) => [
            <dt key={word}>{word}</dt>,
            <dd key={`${word} steps`}>
              {ids.map((id) => (
                <StepLink key={id} recipe={recipe.steps} id={id} edit={edit} />
              ))}
            </dd>,
          ])}
      </dl>
    </details>
  )
}

function StepLink({ recipe, id, edit }: { recipe: readonly RecipeStep[]; id: string; edit: Props['edit'] }) {
  const at = recipe.findIndex((s) => s.id === id)
  const step = recipe[at]
  const words = step.title ?? stepOf(step.kind)?.title ?? step.kind
  return (
    <button type="button" className="btn btn-link btn-sm p-0" onClick={() => edit(step)} title={`Edit ${words}`}>
      {at + 1} {words}
    </button>
  )
}
