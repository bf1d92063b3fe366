import { JobList } from '@/bench/jobs/job-list'

export default function Page() {
  return <JobList />
}
