/** Bytes as base64 (RFC 4648, section 4); the standard functions take texts of single bytes. */
export function toBase64(bytes: Uint8Array): string {
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return btoa(text)
}

export const toBytes = (base64: string): Uint8Array => Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0))

/** How many bytes a text of base64 stands for. */
export const bytesOf = (base64: string): number =>
  (base64.length / 4) * 3 - (base64.endsWith('==') ? 2 : base64.endsWith('=') ? 1 : 0)
