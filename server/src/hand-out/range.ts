/** A part of a file: first and last byte, both included. */
export type ByteRange = { first: number; last: number }

/**
 * Reads a Range header of one range (RFC 9110, section 14).
 * @returns The range; `undefined` to send the whole file (no header, another unit, or several ranges, which a server
 * may ignore); `unsatisfiable` where nothing of the file lies in it.
 */
export function parseRange(header: string | undefined, sizeBytes: number): ByteRange | undefined | 'unsatisfiable' {
  const match = /^bytes=(\d*)-(\d*)$/.exec(header?.trim() ?? '')
  if (!match || (match[1] === '' && match[2] === '')) return undefined
  if (match[1] === '') {
    const length = Math.min(Number(match[2]), sizeBytes)
    return length === 0 ? 'unsatisfiable' : { first: sizeBytes - length, last: sizeBytes - 1 }
  }
  const first = Number(match[1])
  const last = match[2] === '' ? sizeBytes - 1 : Math.min(Number(match[2]), sizeBytes - 1)
  if (match[2] !== '' && Number(match[2]) < first) return undefined
  return first >= sizeBytes ? 'unsatisfiable' : { first, last }
}

/** A Content-Disposition that offers a download name in plain and in UTF-8 form (RFC 6266, RFC 8187). */
export function contentDisposition(fileName: string): string {
  const plain = fileName
    .normalize('NFKD')
    .replace(/[^\x20-\x7e]/g, '')
    .replace(/["\\%]/g, '-')
  const encoded = encodeURIComponent(fileName).replace(
    /['()*]/g,
    (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`,
  )
  return `attachment; filename="${plain}"; filename*=UTF-8''${encoded}`
}
