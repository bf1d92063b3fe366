/** Files chosen or dropped: sent to the server, then the tool that brings them in is taken with the first. */
import { useCallback, useState } from 'react'
import { uploadFile } from '@/bench/state/api'
import { benchBodies } from '@/bench/state/bodies'
import { tell, useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { freeBodyName } from '@/bench/tools/start'
import { stageOf } from '@/core/step/step'
import { fileTool } from '@/bench/tools/bring-in/file'

export function useBringFiles(job: string) {
  const [upload, setUpload] = useState<number | null>(null)
  const bring = useCallback(
    async (files: FileList | File[]) => {
      const [first, ...more] = [...files]
      if (!first) return
      try {
        setUpload(0)
        const { name } = await uploadFile(job, first, setUpload)
        useBench.getState().setStage(stageOf(fileTool.kind))
        useTool.getState().take({
          kind: fileTool.kind,
          values: { file: name, name: freeBodyName(name.replace(/\.[^.]+$/, ''), benchBodies()) },
        })
        if (more.length) tell(`${more.length} more files wait: bring this one in first, then drop them again.`, 'good')
      } catch (e) {
        tell(e instanceof Error ? e.message : 'The upload failed.')
      } finally {
        setUpload(null)
      }
    },
    [job],
  )
  return { upload, bring }
}
