import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DELIVERY_ACTIONS, parseDeliveryStatus } from './delivery-status.ts'

describe('what could not be delivered', () => {
  // after the examples of RFC 3464, appendix E, written from memory
  it.each([
    [
      'a mailbox that is not there',
      'Reporting-MTA: dns; cs.utk.example\n\nOriginal-Recipient: rfc822;louisl@larry.example\nFinal-Recipient: rfc822;louisl@larry.example\nAction: failed\nStatus: 4.0.0\nDiagnostic-Code: smtp; 426 connection timed out\nLast-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400\n',
      { action: 'failed', code: '4.0.0', why: '426 connection timed out' },
    ],
    [
      'one that is late, with folded lines and a comment behind its status',
      'Reporting-MTA: dns; sun2.nsfnet.example\r\n\r\nFinal-Recipient: rfc822;thomas@de-montfort.example\r\nStatus: 4.0.0 (unknown temporary failure)\r\nAction: delayed\r\nDiagnostic-Code: smtp; 451 try\r\n\tagain later\r\n',
      { action: 'delayed', code: '4.0.0', why: '451 try again later' },
    ],
    [
      'of several the one that failed',
      'Reporting-MTA: dns; a.example\n\nFinal-Recipient: rfc822;a@b.example\nAction: relayed\nStatus: 2.0.0\n\nFINAL-RECIPIENT: rfc822;c@b.example\nACTION: Failed\nSTATUS: 5.1.1\n',
      { action: 'failed', code: '5.1.1', why: '' },
    ],
    ['nothing of the kind', 'I am on holiday until Monday.\nAction: sleeping\n', undefined],
  ])('%s', (_, text, told) => {
    expect(parseDeliveryStatus(text)).toEqual(told)
  })

  it('takes any text, and gives an action that there is or nothing', () => {
    const line = fc.oneof(
      fc.string(),
      fc.constantFrom(
        '',
        ' folded',
        'Action: failed',
        'Action:',
        ': x',
        'Status: 5.1.1',
        'Diagnostic-Code: smtp; 550 no',
      ),
    )
    fc.assert(
      fc.property(fc.array(line, { maxLength: 12 }), (lines) => {
        const told = parseDeliveryStatus(lines.join('\n'))
        if (told) expect(DELIVERY_ACTIONS).toContain(told.action)
        expect(told?.action === 'failed').toBe(
          lines.some((each) => each.trimEnd() === 'Action: failed') && told !== undefined,
        )
      }),
    )
  })
})
