import { useRef, useState } from 'react'
import { RequestError } from '../../api/client.ts'
import { sendPhotograph } from '../../data/phone-page.ts'

export type Photograph = {
  id: number
  file: File
  state: 'waiting' | 'going' | 'there' | 'failed'
  trouble?: string
}

/** Photographs on their way, one after the other: a phone's line is narrow. */
export function usePhotographs(token: string, holder: string) {
  const [photographs, setPhotographs] = useState<readonly Photograph[]>([])
  const line = useRef(Promise.resolve())
  const count = useRef(0)
  const change = (id: number, to: Partial<Photograph>) =>
    setPhotographs((all) => all.map((each) => (each.id === id ? { ...each, ...to } : each)))
  const goOne = async (id: number, file: File) => {
    change(id, { state: 'going' })
    try {
      await sendPhotograph(token, holder, file)
      change(id, { state: 'there' })
    } catch (error) {
      const trouble = error instanceof RequestError ? error.message : `"${file.name}" could not be sent; try it again.`
      change(id, { state: 'failed', trouble })
    }
  }
  const queue = (id: number, file: File) => {
    line.current = line.current.then(() => goOne(id, file))
  }
  return {
    photographs,
    add(files: readonly File[]) {
      const added = files.map((file): Photograph => ({ id: count.current++, file, state: 'waiting' }))
      setPhotographs((all) => [...all, ...added])
      for (const { id, file } of added) queue(id, file)
    },
    sendAgain({ id, file }: Photograph) {
      change(id, { state: 'waiting' })
      queue(id, file)
    },
  }
}
