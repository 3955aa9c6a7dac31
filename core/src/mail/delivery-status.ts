/** What became of a mail, as who could not deliver it says (RFC 3464, 2.3.3). */
export const DELIVERY_ACTIONS = ['failed', 'delayed', 'delivered', 'relayed', 'expanded'] as const
export type DeliveryAction = (typeof DELIVERY_ACTIONS)[number]

export type DeliveryStatus = {
  action: DeliveryAction
  /** Like 5.1.1 (RFC 3463); empty where none is said. */
  code: string
  /** In the words of the server that did not take it; empty where none are said. */
  why: string
}

const LINES_MAX = 2000
const WHY_MAX_CHARS = 300

/**
 * Reads the content of a message/delivery-status part: groups of fields, of the mail and then of each recipient (RFC 3464, 2.1).
 * @returns What is said of the first recipient to whom it failed, else of the first at all; undefined where nothing is.
 */
export function parseDeliveryStatus(text: string): DeliveryStatus | undefined {
  const told = groupsOf(text).flatMap((fields): DeliveryStatus[] => {
    const said = fields.get('action')?.toLowerCase()
    const action = DELIVERY_ACTIONS.find((each) => each === said)
    if (!action) return []
    const code = fields.get('status')?.split(/\s/, 1)[0] ?? ''
    return [{ action, code, why: wordsOf(fields.get('diagnostic-code') ?? '') }]
  })
  return told.find(({ action }) => action === 'failed') ?? told[0]
}

/** Fields by their names in small letters, a group for each blank line; lines that begin with a space belong to the one before. */
function groupsOf(text: string): Map<string, string>[] {
  const groups: Map<string, string>[] = [new Map()]
  let last = ''
  for (const line of text.split('\n', LINES_MAX)) {
    const fields = groups.at(-1) as Map<string, string>
    const bare = line.trimEnd()
    if (bare === '') {
      if (fields.size > 0) groups.push(new Map())
      last = ''
    } else if (/^[ \t]/.test(bare)) {
      if (last) fields.set(last, `${fields.get(last)} ${bare.trim()}`)
    } else {
      const colon = bare.indexOf(':')
      last = colon < 0 ? '' : bare.slice(0, colon).trim().toLowerCase()
      if (last && !fields.has(last)) fields.set(last, bare.slice(colon + 1).trim())
    }
  }
  return groups
}

/** What a diagnostic says behind its type ("smtp; 550 …"). */
function wordsOf(diagnostic: string): string {
  const behind = diagnostic.indexOf(';')
  return diagnostic
    .slice(behind + 1)
    .trim()
    .slice(0, WHY_MAX_CHARS)
}
