/** The bench's side of the server's routes. */
import type { JobListing, JobState, RunView } from '@/core/recipe/job-state'
import type { CheckUp } from '@/core/mesh/check-up'
import type { Recipe } from '@/core/recipe/recipe'
import type { ErrorReport } from '@/core/base/step-error'

export class ApiError extends Error {
  constructor(readonly report: ErrorReport) {
    super(report.tryThis ? `${report.message} ${report.tryThis}` : report.message)
  }
}

async function call<T>(path: string, method = 'GET', body?: unknown): Promise<T> {
  let response: Response
  try {
    response = await fetch(path, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    })
  } catch {
    throw new ApiError({
      code: 'offline',
      message: 'The bench cannot reach its server.',
      tryThis: 'Nothing applied is lost; it will try again.',
    })
  }
  const value = (await response.json().catch(() => ({}))) as T & { error?: ErrorReport }
  if (!response.ok)
    throw new ApiError(value.error ?? { code: 'unexpected', message: `The server answered ${response.status}.` })
  return value
}

export const getHealth = () => call<{ ok: true; compute: boolean }>('/api/health')
export const listJobs = () => call<JobListing[]>('/api/jobs')
export const createJob = (title: string, recipe?: Recipe) =>
  call<{ id: string }>('/api/jobs', 'POST', { title, ...(recipe ? { recipe } : {}) })
export const copyJob = (id: string) => call<{ id: string }>('/api/jobs', 'POST', { copyOf: id })
export const renameJob = (id: string, title: string) => call(`/api/jobs/${id}`, 'PATCH', { title })
export const deleteJob = (id: string) => call(`/api/jobs/${id}`, 'DELETE')
export const getJob = (id: string) => call<JobState>(`/api/jobs/${id}`)
export const reviseJob = (id: string, base: string, recipe: Recipe, label: string, hold = false) =>
  call<JobState>(`/api/jobs/${id}/revisions`, 'POST', { base, recipe, label, ...(hold ? { hold } : {}) })
export const travelJob = (id: string, go: 'undo' | 'redo') => call<JobState>(`/api/jobs/${id}/history`, 'POST', { go })
export const runJob = (id: string) => call<JobState>(`/api/jobs/${id}/run`, 'POST', {})
export const startGhost = (id: string, recipe: Recipe) =>
  call<{ run: string }>(`/api/jobs/${id}/ghost`, 'POST', { recipe })
export const getRun = (run: string) => call<RunView & Pick<JobState, 'summaries'>>(`/api/runs/${run}`)
export const cancelRun = (run: string) => call(`/api/runs/${run}`, 'DELETE')
export const getCheckUp = (job: string, hash: string) =>
  call<{ checkUp: CheckUp | null }>(`/api/jobs/${job}/check-up/${hash}`)
export const blobUrl = (hash: string, name?: string) =>
  `/api/blobs/${hash}${name ? `?name=${encodeURIComponent(name)}` : ''}`

/** Sends a file as it is, with progress from 0 to 1. */
export function uploadFile(
  job: string,
  file: File,
  progress: (share: number) => void,
): Promise<{ name: string; hash: string; size: number }> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open('POST', `/api/jobs/${job}/files?name=${encodeURIComponent(file.name)}`)
    request.responseType = 'json'
    request.upload.onprogress = (e) => progress(e.total ? e.loaded / e.total : 0)
    request.onload = () => {
      const value = request.response as { error?: ErrorReport; name: string; hash: string; size: number } | null
      if (request.status === 200 && value) resolve(value)
      else
        reject(new ApiError(value?.error ?? { code: 'unexpected', message: `The upload failed (${request.status}).` }))
    }
    request.onerror = () =>
      reject(new ApiError({ code: 'offline', message: 'The upload was cut off.', tryThis: 'Try again.' }))
    request.send(file)
  })
}
