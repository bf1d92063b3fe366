import { BenchPage } from '@/bench/page/bench-page'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <BenchPage id={(await params).id} />
}
