import type { Folder } from './folder-files.ts'

type Permission = { mode: 'read' | 'readwrite' }
// not every browser has these, and the types of none do
type Picker = { showDirectoryPicker?: (wish: Permission & { id: string }) => Promise<Folder> }
type Asking = { requestPermission?: (wish: Permission) => Promise<'granted' | 'denied' | 'prompt'> }

/** Whether this browser gives folders of this computer. */
export const canPickFolder = (): boolean => 'showDirectoryPicker' in window

/** @returns The folder that the person has chosen, to be read or written to, too; undefined if they chose none. */
export async function pickFolder(mode: Permission['mode'] = 'readwrite'): Promise<Folder | undefined> {
  try {
    return await (window as Picker).showDirectoryPicker?.({ mode, id: 'brushes' })
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') return undefined
    throw error
  }
}

/** Asks again for a folder that was given before: the browser forgets that between visits. */
export async function askFor(folder: Folder): Promise<void> {
  const answer = await (folder as Asking).requestPermission?.({ mode: 'readwrite' })
  if (answer === 'denied') throw new DOMException('the folder was not given', 'NotAllowedError')
}
