/** Hands a file to the person, as a download. */
export function saveFile(file: Blob, name: string): void {
  const address = URL.createObjectURL(file)
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  // the browser has taken it up by then
  setTimeout(() => URL.revokeObjectURL(address), 60_000)
}
