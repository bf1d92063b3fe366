/** Files that come in: dropped anywhere on the page, or chosen. */
import { useState, type DragEvent, type Ref } from 'react'
import { acceptedEndings } from '@/core/formats/registry'

/** Files dropped anywhere on the page come in. */
export function useDrop(bring: (files: FileList) => unknown) {
  const [dropping, setDropping] = useState(false)
  return {
    dropping,
    onto: {
      onDragOver: (e: DragEvent) => {
        if (!e.dataTransfer.types.includes('Files')) return
        e.preventDefault()
        setDropping(true)
      },
      onDragLeave: (e: DragEvent) => {
        if (e.currentTarget === e.target || !e.relatedTarget) setDropping(false)
      },
      onDrop: (e: DragEvent) => {
        e.preventDefault()
        setDropping(false)
        if (e.dataTransfer.files.length) void bring(e.dataTransfer.files)
      },
    },
  }
}

export function FileInput({ ref, bring }: { ref: Ref<HTMLInputElement>; bring(files: FileList): unknown }) {
  return (
    <input
      ref={ref}
      type="file"
      className="d-none"
      aria-label="Open files"
      accept={acceptedEndings}
      onChange={(e) => {
        if (e.target.files?.length) void bring(e.target.files)
        e.target.value = ''
      }}
      data-testid="file-input"
    />
  )
}
